import { Moon, Sun } from 'lucide-react';
import { useEffect } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import type { Shop } from '../core/jobs/index.ts';
import { sendKept } from './state/outbox.ts';
import { usePrefs } from './state/prefs.ts';
import { useLoad } from './state/useLoad.ts';

const tab = ({ isActive }: { isActive: boolean }) =>
  `flex min-h-12 items-center rounded-lg px-3 font-semibold no-underline ${isActive ? 'bg-petrol text-on-petrol' : 'text-ink hover:bg-sunk'}`;

/** What stands around every screen but the run, which needs all the room there is. */
export function Shell() {
  const { data: shop } = useLoad<Shop>('/shop');
  const { technician, setTechnician, theme, setTheme } = usePrefs();
  const running = /\/jobs\/[^/]+\/run$/.test(useLocation().pathname);
  useEffect(() => {
    if (shop && (!technician || !shop.technicians.includes(technician))) setTechnician(shop.technicians[0]!);
  }, [shop, technician, setTechnician]);
  useEffect(() => void sendKept(() => null), []);
  if (running) return <Outlet />;
  const dark = document.documentElement.dataset.theme === 'dark';
  return (
    <>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-10 focus:bg-panel focus:p-3">
        To the content
      </a>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 pt-3 sm:px-8">
        <Link to="/" className="flex min-h-12 items-center gap-3 text-ink no-underline" aria-label="Nibrel, jobs">
          <img src="/mark.svg" alt="" width={34} height={34} />
          <span className="text-2xl font-bold tracking-tight">Nibrel</span>
        </Link>
        <nav aria-label="Main" className="flex flex-wrap gap-x-1">
          <NavLink to="/" end className={tab}>
            Jobs
          </NavLink>
          <NavLink to="/intake" className={tab}>
            Intake
          </NavLink>
          <NavLink to="/anatomies" className={tab}>
            Anatomies
          </NavLink>
          <NavLink to="/rules" className={tab}>
            House rules
          </NavLink>
          <NavLink to="/sources" className={tab}>
            Heat sources
          </NavLink>
          <NavLink to="/stock" className={tab}>
            Stock
          </NavLink>
        </nav>
        <div className="ml-auto flex items-center gap-3">
          {shop && (
            <>
              <span className="hidden text-quiet md:inline">
                {shop.name}
                {shop.demo && ' · made-up data'}
              </span>
              <label className="flex items-center gap-2">
                <span className="sr-only">Technician</span>
                <select className="field" value={technician ?? ''} onChange={(e) => setTechnician(e.target.value)}>
                  {shop.technicians.map((t) => (
                    <option key={t}>{t}</option>
                  ))}
                </select>
              </label>
            </>
          )}
          <button
            type="button"
            className="grid size-12 place-items-center rounded-lg hover:bg-sunk"
            aria-label={dark ? 'Light setting' : 'Dark setting'}
            onClick={() => setTheme(theme === 'dark' || (theme === 'system' && dark) ? 'light' : 'dark')}
          >
            {dark ? <Sun /> : <Moon />}
          </button>
        </div>
      </header>
      <main id="main" className="px-4 pt-4 pb-10 sm:px-8">
        <Outlet />
      </main>
    </>
  );
}

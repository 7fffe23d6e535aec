import { LogOut, Moon, Sun } from 'lucide-react';
import { useEffect } from 'react';
import { Link, Navigate, NavLink, Outlet, useLocation } from 'react-router';
import { EmergencyButton } from './screens/Emergency.tsx';
import { RunningWaits } from './screens/RunningWaits.tsx';
import { api } from './state/api.ts';
import { followJobs } from './state/jobs.ts';
import { sendKept } from './state/outbox.ts';
import { usePrefs } from './state/prefs.ts';
import { followShop, forgetAuthor, useShop } from './state/shop.ts';
import { useVisits } from './state/here.ts';

const tab = ({ isActive }: { isActive: boolean }) =>
  `flex min-h-12 items-center rounded-lg px-3 font-semibold no-underline ` +
  `${isActive ? 'bg-petrol text-on-petrol' : 'text-ink hover:bg-sunk'}`;

const SCREENS: [to: string, word: string][] = [
  ['/', 'Jobs'],
  ['/counter', 'Counter'],
  ['/anatomies', 'Anatomies'],
  ['/workshop', 'Workshop'],
  ['/rules', 'House rules'],
  ['/sources', 'Heat'],
  ['/stock', 'Stock'],
  ['/cells', 'Cells'],
  ['/shop', 'Shop'],
];

/** What stands around every screen but the run, the field dive, the drawing board and what a customer sees. */
export function Shell() {
  const shop = useShop((s) => s.shop);
  const { pathname } = useLocation();
  useVisits();
  useEffect(followShop, []);
  useEffect(followJobs, []);
  useEffect(() => void sendKept(() => null), []);
  if (/\/jobs\/[^/]+\/(run|explore|customer)$/.test(pathname) || /^\/workshop\/./.test(pathname)) return <Outlet />;
  if (shop && !shop.setUp && pathname !== '/set-up') return <Navigate to="/set-up" replace />;
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
        <nav aria-label="Main" className="order-last flex w-full flex-wrap gap-x-1 md:order-none md:w-auto">
          {SCREENS.map(([to, word]) => (
            <NavLink key={to} to={to} end={to === '/'} className={tab}>
              {word}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-3">
          {shop && (
            <span className="hidden max-w-80 truncate text-quiet 2xl:inline">
              <span className="hidden 2xl:inline">{shop.name}</span>
              {shop.demo && <span className="ml-2">made-up data</span>}
            </span>
          )}
          <EmergencyButton />
          <WhoWorks />
          <Theme />
        </div>
      </header>
      <Warnings />
      <RunningWaits />
      <main id="main" tabIndex={-1} className="px-4 pt-4 pb-10 sm:px-8">
        <Outlet />
      </main>
    </>
  );
}

/** Who is signed in here; where nobody signs in, who works at this screen. */
function WhoWorks() {
  const shop = useShop((s) => s.shop);
  const { technician, setTechnician } = usePrefs();
  if (!shop?.setUp) return null;
  const signOut = async () => {
    forgetAuthor();
    await api('/sign-out', { method: 'POST' }).catch(() => {});
    window.location.assign('/sign-in');
  };
  if (shop.signedIn || shop.passcodeNeeded) {
    return (
      <span className="flex items-center gap-2">
        {shop.signedIn && <b className="max-w-40 truncate">{shop.signedIn.name}</b>}
        <button
          type="button"
          className="grid size-12 place-items-center rounded-lg hover:bg-sunk"
          aria-label="Sign out"
          onClick={() => void signOut()}
        >
          <LogOut />
        </button>
      </span>
    );
  }
  return (
    <label className="flex items-center gap-2">
      <span className="sr-only">Technician</span>
      <select className="field max-w-48" value={technician ?? ''} onChange={(e) => setTechnician(e.target.value)}>
        {shop.technicians.map((t) => (
          <option key={t}>{t}</option>
        ))}
      </select>
    </label>
  );
}

function Theme() {
  const { theme, setTheme } = usePrefs();
  const dark = document.documentElement.dataset.theme === 'dark';
  return (
    <button
      type="button"
      className="grid size-12 place-items-center rounded-lg hover:bg-sunk"
      aria-label={dark ? 'Light setting' : 'Dark setting'}
      onClick={() => setTheme(theme === 'dark' || (theme === 'system' && dark) ? 'light' : 'dark')}
    >
      {dark ? <Sun /> : <Moon />}
    </button>
  );
}

/** What the shop should know, on every screen: it is few words, and rarely there. */
function Warnings() {
  const shop = useShop((s) => s.shop);
  const said = [
    ...(shop?.exposed
      ? ['This connection is not encrypted: what is sent, the passcode too, can be read in the network.']
      : []),
    ...(shop?.warnings ?? []),
  ];
  if (said.length === 0) return null;
  return (
    <ul aria-label="Warnings" className="mx-4 mt-2 grid gap-1 border-l-8 border-ember bg-panel px-4 py-2 sm:mx-8">
      {said.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  );
}

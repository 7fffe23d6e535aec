import { Flame, ShieldAlert, Wind, type LucideIcon } from 'lucide-react';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { EMERGENCIES, EMERGENCY_ACTS, EMERGENCY_RULE, type Emergency as Kind } from '../../core/cells/index.ts';
import { Button } from '../controls/index.tsx';
import { EMERGENCY_KEY, useEmergency } from '../state/emergency.ts';

/** Read with the screens of a job; where it cannot be, there is no job to record it on. */
const Recorded = lazy(() => import('./EmergencyRecord.tsx').catch(() => ({ default: () => null })));

/** The worst first: whoever opens the page in a hurry reads what matters most. */
const ORDER: readonly Kind[] = EMERGENCIES.toReversed();
const SIGNS: Record<Kind, LucideIcon> = { smoke: Flame, hissing: Wind, swelling: ShieldAlert };

/** Opens the page; on every screen, and never larger than a key beside others. */
export function EmergencyButton({
  className = '',
  compact = false,
}: {
  className?: string;
  /** Where there is little room: its sign alone. */
  compact?: boolean;
}) {
  const raise = useEmergency((s) => s.raise);
  return (
    <button
      type="button"
      aria-keyshortcuts={EMERGENCY_KEY}
      onClick={raise}
      className={`flex min-h-12 items-center gap-2 rounded-lg border-2 border-crimson px-3 font-semibold text-crimson hover:bg-sunk ${className}`}
    >
      <Flame size={20} aria-hidden="true" />
      <span className="hidden 2xl:inline">Cell</span>
      <span className="sr-only">Cell emergency</span>
      {!compact && (
        <kbd className="hidden rounded border border-current/40 px-1.5 font-mono text-xs font-normal sm:inline">
          {EMERGENCY_KEY}
        </kbd>
      )}
    </button>
  );
}

/** What to do when a cell swells, hisses or smokes: few acts, in order, over everything else, with or without the server. */
export function Emergency() {
  const { open, raise, clear } = useEmergency();
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key !== EMERGENCY_KEY || e.repeat) return;
      e.preventDefault();
      e.stopPropagation();
      raise();
    };
    window.addEventListener('keydown', key, true);
    return () => window.removeEventListener('keydown', key, true);
  }, [raise]);
  return open ? <Page close={clear} /> : null;
}

function Page({ close }: { close: () => void }) {
  const [kind, setKind] = useState<Kind>('smoke');
  const page = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    page.current?.focus();
    // No key reaches what lies beneath while somebody reads this.
    const key = (e: KeyboardEvent) => {
      const chosen = ORDER[Number(e.key) - 1];
      if (chosen) setKind(chosen);
      if (e.key === 'Escape') close();
      const presses = e.key === 'Enter' || e.key === ' ';
      const own = page.current?.contains(document.activeElement) ?? false;
      if (e.key === 'Tab') {
        // The focus goes round within the page.
        const stops = [...(page.current?.querySelectorAll('button') ?? [])];
        const at = stops.indexOf(document.activeElement as HTMLButtonElement);
        stops.at((at + (e.shiftKey ? -1 : 1) + stops.length) % stops.length)?.focus();
        e.preventDefault();
      }
      if (presses && own) return;
      if (presses) e.preventDefault();
      e.stopImmediatePropagation();
    };
    window.addEventListener('keydown', key, true);
    return () => {
      window.removeEventListener('keydown', key, true);
      if (before instanceof HTMLElement) before.focus();
    };
  }, [close]);
  const { title, acts } = EMERGENCY_ACTS[kind];
  return (
    <div
      ref={page}
      role="alertdialog"
      aria-modal="true"
      aria-labelledby="emergency"
      tabIndex={-1}
      data-testid="emergency"
      className="fixed inset-0 z-50 grid grid-rows-[auto_minmax(0,1fr)_auto] overflow-auto bg-ground"
      onKeyDown={(e) => e.stopPropagation()}
    >
      <div
        className="grid grid-cols-3 gap-1 border-b-8 border-crimson p-2 sm:p-4"
        role="group"
        aria-label="What it does"
      >
        {ORDER.map((k, i) => {
          const Sign = SIGNS[k];
          return (
            <button
              key={k}
              type="button"
              aria-pressed={k === kind}
              onClick={() => setKind(k)}
              className={
                `flex min-h-16 items-center justify-center gap-3 rounded-lg px-2 text-center text-lg font-bold sm:text-2xl ` +
                `${k === kind ? 'bg-crimson text-on-job' : 'bg-panel text-ink'}`
              }
            >
              <Sign className="hidden size-8 shrink-0 sm:block" aria-hidden="true" />
              <span>
                {EMERGENCY_ACTS[k].title} <kbd className="num hidden text-base font-normal sm:inline">{i + 1}</kbd>
              </span>
            </button>
          );
        })}
      </div>
      <div className="mx-auto w-full max-w-6xl px-5 py-4">
        <h1 id="emergency" className="mb-3 text-3xl font-bold text-crimson sm:text-4xl">
          {title}
        </h1>
        <ol className="grid gap-4 sm:gap-6">
          {acts.map((act, i) => (
            <li
              key={act}
              className="grid grid-cols-[1.6rem_minmax(0,1fr)] items-baseline gap-3 sm:grid-cols-[3.2rem_minmax(0,1fr)]"
            >
              <span className="num text-3xl font-bold text-crimson sm:text-5xl" aria-hidden="true">
                {i + 1}
              </span>
              <span className="text-2xl leading-snug font-semibold sm:text-[2.1rem]">{act}</span>
            </li>
          ))}
        </ol>
      </div>
      <div className="flex flex-wrap items-center justify-between gap-3 bg-panel px-5 py-2 sm:py-3">
        <p className="font-semibold">{EMERGENCY_RULE}</p>
        <div className="flex flex-wrap gap-2">
          {/\/jobs\/./.test(window.location.pathname) && (
            <Suspense>
              <Recorded kind={kind} />
            </Suspense>
          )}
          <Button className="min-h-14 text-lg" onClick={close}>
            Back to the screen <kbd className="font-mono text-xs font-normal">Esc</kbd>
          </Button>
        </div>
      </div>
    </div>
  );
}

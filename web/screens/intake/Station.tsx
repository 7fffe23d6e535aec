import { Check, OctagonX } from 'lucide-react';
import type { ReactNode } from 'react';

export type Standing = 'open' | 'done' | 'stop';

export interface StationInfo {
  id: string;
  title: string;
  standing: Standing;
  /** What it came to, in a word or two. */
  said: string;
}

/** The way of a device over the counter, left to right: where it stands, and what each place came to. */
export function Strip({ stations }: { stations: readonly StationInfo[] }) {
  return (
    <nav aria-label="Over the counter" className="strip sticky top-0 z-10 -mx-1 bg-ground px-1 py-2">
      <ol className="grid grid-flow-col auto-cols-[minmax(7.5rem,1fr)] gap-1 overflow-x-auto">
        {stations.map(({ id, title, standing, said }, i) => (
          <li key={title}>
            <a
              href={`#${id}`}
              className={`grid min-h-14 content-center border-t-4 px-2 py-1 text-ink no-underline hover:bg-sunk ${BORDERS[standing]}`}
            >
              <span className="flex items-center gap-1 font-semibold">
                <span className="num text-sm text-quiet">{i + 1}</span>
                {title}
                {standing === 'done' && <Check className="text-moss" size={16} aria-label="done" />}
                {standing === 'stop' && <OctagonX className="text-crimson" size={16} aria-label="stop" />}
              </span>
              <span className="truncate text-sm text-quiet">{said || ' '}</span>
            </a>
          </li>
        ))}
      </ol>
    </nav>
  );
}

const BORDERS: Record<Standing, string> = {
  open: 'border-line',
  done: 'border-moss',
  stop: 'border-crimson',
};

/** One place of the strip. */
export function Station({ id, title, children }: { id: string; title: string; children: ReactNode }) {
  return (
    <section id={id} aria-labelledby={`${id}-title`} className="panel grid scroll-mt-24 content-start gap-3 p-5">
      <h2 id={`${id}-title`} className="text-xl font-semibold">
        {title}
      </h2>
      {children}
    </section>
  );
}

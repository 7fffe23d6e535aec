import type { Step } from '../../../core/dive/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';

/** The wells of this dive: how many lie in each, and the one that is meant now. */
export function Tray({ context, state, step, nextItem }: { context: RunContext; state: RunState; step: Step; nextItem: string | null }) {
  const wells = [...new Set(context.wells.values())];
  if (wells.length === 0) return <div />;
  const meant = nextItem ? context.wells.get(nextItem) : undefined;
  const counts = new Map<string, number>();
  for (const well of state.out.values()) if (well) counts.set(well, (counts.get(well) ?? 0) + 1);
  const stepWells = new Set(step.items.flatMap((id) => context.wells.get(id) ?? []));
  return (
    <ul aria-label="Screw tray" className="grid grid-cols-6 gap-1.5" data-testid="tray">
      {wells.map((well) => {
        const n = counts.get(well) ?? 0;
        const here = well === meant;
        return (
          <li key={well} aria-label={`Well ${well}: ${n}${here ? ', meant now' : ''}`} data-well={well}
            className={`flex h-10 items-center justify-between rounded-md px-2 ${here ? 'bg-brass text-on-job outline-3 outline-ink' : n > 0 ? 'bg-sunk' : 'bg-ground'} ${stepWells.has(well) && !here ? 'outline-2 outline-brass' : ''}`}>
            <span className="num text-sm opacity-80">{well}</span>
            <span className={`num text-lg ${n > 0 || here ? 'font-bold' : 'text-quiet'}`}>{n}</span>
          </li>
        );
      })}
    </ul>
  );
}

import type { Step } from '../../../core/dive/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';
import { wellLabel } from '../../../core/screws/index.ts';

/** The tray of this dive as it lies on the bench: how many are in each well, and the one that is meant now. */
export function Tray({
  context,
  state,
  step,
  nextItem,
}: {
  context: RunContext;
  state: RunState;
  step: Step;
  nextItem: string | null;
}) {
  const used = new Set(context.wells.values());
  if (used.size === 0) return <div />;
  const { rules } = context.plan;
  const size = { rows: rules.trayRows, columns: rules.trayColumns, trays: rules.trays };
  const inTray = rules.screws === 'wells';
  // Rows that nothing lies in are left out, columns keep their place.
  const all = Array.from({ length: size.rows * size.columns * size.trays }, (_, i) => wellLabel(i, size));
  const rows = Array.from({ length: size.rows * size.trays }, (_, r) =>
    all.slice(r * size.columns, (r + 1) * size.columns),
  ).filter((row) => row.some((label) => used.has(label)));
  const wells = inTray ? rows.flat() : [...used];
  const meant = nextItem ? context.wells.get(nextItem) : undefined;
  const counts = new Map<string, number>();
  for (const well of state.out.values()) if (well) counts.set(well, (counts.get(well) ?? 0) + 1);
  const stepWells = new Set(step.items.flatMap((id) => context.wells.get(id) ?? []));
  return (
    <ul
      aria-label={inTray ? 'Screw tray' : 'Screw map'}
      className="grid gap-1"
      style={{ gridTemplateColumns: `repeat(${inTray ? size.columns : 6}, minmax(0, 1fr))` }}
      data-testid="tray"
    >
      {wells.map((well) => {
        const n = counts.get(well) ?? 0;
        const here = well === meant;
        return (
          <li
            key={well}
            aria-label={`Well ${well}: ${n}${here ? ', meant now' : ''}`}
            data-well={well}
            className={`flex h-8 items-center justify-between rounded-md px-2 ${here ? 'bg-brass text-on-job outline-3 outline-ink' : n > 0 ? 'bg-sunk' : used.has(well) ? 'bg-ground' : 'text-quiet'} ${stepWells.has(well) && !here ? 'outline-2 outline-brass' : ''}`}
          >
            <span className="num text-sm">{well}</span>
            <span className={`num text-lg ${n > 0 || here ? 'font-bold' : 'text-quiet'}`}>
              {used.has(well) ? n : ''}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

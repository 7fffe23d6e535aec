import { memo, useMemo } from 'react';
import type { Step } from '../../../core/dive/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';
import { wellLabel } from '../../../core/screws/index.ts';

/** The wells that are shown of the tray of a dive: rows that nothing lies in are left out, columns keep their place. */
function wellsOf({ plan: { rules }, wells }: RunContext): { shown: string[]; used: Set<string>; columns: number } {
  const used = new Set(wells.values());
  if (rules.screws !== 'wells') return { shown: [...used], used, columns: 6 };
  const size = { rows: rules.trayRows, columns: rules.trayColumns, trays: rules.trays };
  const all = Array.from({ length: size.rows * size.columns * size.trays }, (_, i) => wellLabel(i, size));
  const rows = Array.from({ length: size.rows * size.trays }, (_, r) =>
    all.slice(r * size.columns, (r + 1) * size.columns),
  ).filter((row) => row.some((label) => used.has(label)));
  return { shown: rows.flat(), used, columns: size.columns };
}

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
  const { shown, used, columns } = useMemo(() => wellsOf(context), [context]);
  if (used.size === 0) return <div />;
  const meant = nextItem ? context.wells.get(nextItem) : undefined;
  const counts = new Map<string, number>();
  for (const well of state.out.values()) if (well) counts.set(well, (counts.get(well) ?? 0) + 1);
  const stepWells = new Set(step.items.flatMap((id) => context.wells.get(id) ?? []));
  return (
    <ul
      aria-label={context.plan.rules.screws === 'wells' ? 'Screw tray' : 'Screw map'}
      className="grid gap-1"
      style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      data-testid="tray"
    >
      {shown.map((well) => (
        <Well
          key={well}
          well={well}
          count={counts.get(well) ?? 0}
          used={used.has(well)}
          meant={well === meant}
          ofStep={stepWells.has(well)}
        />
      ))}
    </ul>
  );
}

/** One well; drawn anew only when something about it changed. */
const Well = memo(function Well({
  well,
  count,
  used,
  meant,
  ofStep,
}: {
  well: string;
  count: number;
  /** Something of this dive belongs here. */
  used: boolean;
  meant: boolean;
  ofStep: boolean;
}) {
  const ground = meant
    ? 'bg-brass text-on-job outline-3 outline-ink'
    : count > 0
      ? 'bg-sunk'
      : used
        ? 'bg-ground'
        : 'text-quiet';
  return (
    <li
      aria-label={`Well ${well}: ${count}${meant ? ', meant now' : ''}`}
      data-well={well}
      className={`flex h-8 items-center justify-between rounded-md px-2 ${ground} ${ofStep && !meant ? 'outline-2 outline-brass' : ''}`}
    >
      <span className="num text-sm">{well}</span>
      <span className={`num text-lg ${count > 0 || meant ? 'font-bold' : 'text-quiet'}`}>{used ? count : ''}</span>
    </li>
  );
});

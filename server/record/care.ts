import { newBonds, pressHint, pressUnder, tapeHint, stripsUnder, type HouseRules } from '../../core/dive/index.ts';
import { BONDS } from '../../core/kinds/index.ts';
import { cellJudgement, fitOf, transplantNow, type RunContext, type RunState } from '../../core/run/index.ts';
import { minutes } from '../../core/units/index.ts';
import { tell, spoken } from '../../words/index.ts';

/** One row of the record: what, and what came of it. */
export type Row = [label: string, words: string];

const VERDICTS = { refit: 'fit to go back', renew: 'not refitted', unfit: 'waste' } as const;

/** How the device was closed: tape, load, fit, tightness. Empty where nothing of it was done. */
export function closingRows(context: RunContext, state: RunState): Row[] {
  const { model, plan } = context;
  const rules: HouseRules = plan.rules;
  const laid = newBonds(model, plan).filter((b) => state.device.renewed.has(b.id));
  const rows: Row[] = laid.flatMap((bond): Row[] => {
    const name = model.nameOf(bond.id);
    const strips = BONDS.of(bond.kind).byHouse && rules.seal === 'strips' ? stripsUnder(model, bond, rules) : null;
    const pressed = plan.steps.some(
      (s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0 && s.items.includes(bond.id),
    );
    return [
      ...(strips
        ? ([
            [
              `${name}, laid`,
              `${tell(model, tapeHint(strips))}; ${strips.coveredArea.toFixed(0)} of ${strips.area.toFixed(0)} mm² covered`,
            ],
          ] as Row[])
        : []),
      ...(pressed
        ? ([[`${name}, pressed`, `as planned: ${tell(model, pressHint(pressUnder(model, bond, rules)))}`]] as Row[])
        : []),
    ];
  });
  for (const t of state.timers.values())
    if (t.own)
      rows.push([t.own.what, `${minutes(t.seconds)}${t.endedAt ? `, ended: ${t.reason}` : ', run to its end'}`]);
  for (const panel of state.care.fits.keys()) {
    const fit = fitOf(state, panel);
    if (fit)
      rows.push([
        `${model.nameOf(panel)}, fit`,
        `${fit.flush ? 'flush' : 'NOT flush'}: worst step ${fit.worst.step.toFixed(2)} mm at ${fit.worst.at}, ` +
          `gaps differ by ${fit.gapSpread.toFixed(2)} mm`,
      ]);
  }
  const leak = state.care.leaks.at(-1);
  if (leak)
    rows.push([
      'Seal test',
      `${leak.leak.toFixed(3)} ± ${leak.half.toFixed(3)} ml/min, limit ${leak.limit}: ${leak.outcome}` +
        `${leak.simulated ? ' (simulated tester)' : ''}. No rating is certified by it.`,
    ]);
  return rows;
}

/** What is known of the cells of the job. */
export function cellRows(context: RunContext, state: RunState): Row[] {
  const { model } = context;
  const rows: Row[] = [];
  for (const { cell, of, seen, boxed } of state.care.cells.values()) {
    const name = `${of === 'new' ? 'New' : 'Old'} cell of ${model.nameOf(cell)}`;
    const { health, refit } = cellJudgement(state, cell, of);
    for (const f of health.findings) rows.push([`${name}, ${spoken.measures[f.of]}`, tell(model, f.says)]);
    if (seen)
      rows.push([
        name,
        `${seen.marks.map((m) => spoken.marks[m]).join(', ') || 'flawless to the eye'}; ` +
          `${spoken.removals[seen.removal]}: ${VERDICTS[refit!.verdict]}`,
      ]);
    if (boxed) rows.push([name, `put into ${boxed.box}`]);
  }
  const moved = transplantNow(state);
  if (moved)
    rows.push([
      'On the old protection board',
      moved.state === 'done'
        ? 'done, every step as it must be'
        : moved.state === 'ended'
          ? `ended: ${moved.because}`
          : `${moved.done} of ${moved.all} steps`,
    ]);
  for (const i of state.care.incidents)
    rows.push([
      'Cell emergency',
      `${i.kind}, ${i.at.slice(0, 16).replace('T', ' ')} UTC, ${i.by}${i.note ? `: ${i.note}` : ''}`,
    ]);
  return rows;
}

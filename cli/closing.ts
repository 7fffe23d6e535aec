import type { Bond, Model } from '../core/anatomy/index.ts';
import {
  CHARGE_LIMIT,
  drawSeconds,
  mostLoad,
  ownLoad,
  ratingOf,
  transportOf,
  wattHoursOf,
} from '../core/cells/index.ts';
import {
  checkWords,
  cutSheet,
  NoStrips,
  pressOf,
  stripsOf,
  type CornerStyle,
  type StripPlan,
} from '../core/closing/index.ts';
import { stripNotes, type HouseRules } from '../core/dive/index.ts';
import { sheetSvg } from '../core/paper/index.ts';
import { minutes } from '../core/units/index.ts';
import { numberOf, Stop, USAGE, type Values } from './usage.ts';
import { tell } from '../words/index.ts';

/** @throws Stop 1 naming the bonds that there are */
function bondOf(model: Model, id: string): Bond {
  const bond = model.bonds.get(id);
  if (bond) return bond;
  const all = model.anatomy.bonds.map((b) => b.id).join(', ') || 'none';
  throw new Stop(1, `bond: the anatomy ${model.anatomy.id} has no bond "${id}"; its bonds are ${all}`);
}

const widthsOf = (text: string): number[] =>
  text.split(',').map((word) => {
    const width = Number(word);
    if (!Number.isFinite(width) || width < 0.5 || width > 100)
      throw new Stop(2, `--rolls are widths from 0.5 to 100 mm, such as 2,3,5, not ${word}\n${USAGE}`);
    return width;
  });

/** `nibrel strips`: the cutting plan of a bond. @throws Stop */
export function strips(model: Model, values: Values, rules: HouseRules): string {
  if (!values.bond) throw new Stop(2, `strips needs --bond\n${USAGE}`);
  const corners = (values.corners ?? 'turned') as CornerStyle;
  if (!['turned', 'mitred', 'butted'].includes(corners))
    throw new Stop(2, `--corners must be turned, mitred or butted, not ${corners}\n${USAGE}`);
  const rolls = values.rolls === undefined ? rules.closing.rolls : widthsOf(values.rolls);
  const margin = numberOf('margin', values.margin, rules.closing.margin, 0, 20);
  const bond = bondOf(model, values.bond);
  let plan: StripPlan;
  try {
    plan = stripsOf(model, bond, { bench: { rolls, sheets: rules.closing.sheets, margin }, corners });
  } catch (error) {
    if (error instanceof NoStrips) throw new Stop(1, `rolls: ${error.message}`);
    throw error;
  }
  if (values.svg) {
    const [first] = stripNotes(model, plan);
    return sheetSvg(cutSheet(model, plan, undefined, undefined, first && tell(model, first)));
  }
  if (values.json) return JSON.stringify(plan, null, 2);
  return [
    ...plan.strips.map(
      (s) =>
        `${String(s.n).padStart(3)}  ${s.width} × ${s.length.toFixed(1)} mm  ` +
        `${s.slit ? 'cut along a roll' : 'roll' in s.from ? 'from the roll' : 'from a sheet'}` +
        `${s.angles.some((a) => a !== 0) ? `, ends ${s.angles.join('° and ')}°` : ''}` +
        `${s.notches.length > 0 ? `, ${s.notches.length} notches` : ''}`,
    ),
    `covers ${plan.covered.toFixed(1)} of ${plan.length.toFixed(1)} mm, ${plan.coveredArea.toFixed(0)} of ${plan.area.toFixed(0)} mm²; ` +
      `left over ${plan.waste} mm of lanes, ${plan.kept} mm of them long enough to keep`,
    ...plan.laying.map((step) => tell(model, step)),
    ...stripNotes(model, plan).map((note) => `note: ${tell(model, note)}`),
  ].join('\n');
}

/** `nibrel press`: the load of a bond, and clips for it. @throws Stop */
export function press(model: Model, values: Values, rules: HouseRules): string {
  if (!values.bond) throw new Stop(2, `press needs --bond\n${USAGE}`);
  const plan = pressOf(model, bondOf(model, values.bond), {
    bench: rules.closing,
    way: rules.pressing,
    room: numberOf('room', values.room, rules.room, -20, 45),
  });
  if (values.json) return JSON.stringify(plan, null, 2);
  return [
    `${plan.kilograms.toFixed(1)} kg (${plan.newtons.toFixed(0)} N) over ${plan.area.toFixed(0)} mm², for ${minutes(plan.seconds)}`,
    `by ${plan.way}: ${tell(model, plan.because)}`,
    `weights: ${plan.weights.join(' + ')} kg for ${plan.panel.kilograms.toFixed(2)} kg on the panel`,
    ...plan.clips.map((c) => `clip at ${c.at.map((v) => v.toFixed(1)).join(', ')}: ${c.newtons.toFixed(1)} N`),
    ...plan.avoided.map((a) => `no clip at ${model.nameOf(a.part)}: ${tell(model, a.because)}`),
    ...plan.checks.map(
      (c) =>
        `${c.holds ? 'holds' : 'DOES NOT HOLD'}: ${tell(model, c.what)}, ${checkWords(c)}; ${tell(model, c.because)}`,
    ),
    ...plan.notes.map((note) => tell(model, note)),
  ].join('\n');
}

/** `nibrel cell`: the energy of a device's cell, how long it takes to draw it down, and how it may travel. @throws Stop */
export function cell(model: Model, values: Values, rules: HouseRules): string {
  const rating = ratingOf(model.anatomy);
  const charge = numberOf('charge', values.charge, 100, 0, 100);
  const watts = numberOf('load', values.load, rules.dischargeWatts ?? ownLoad(model.anatomy.kind), 0.01, 500);
  const seconds = drawSeconds(rating, charge, CHARGE_LIMIT, watts);
  const told = {
    wattHours: wattHoursOf(rating).pack,
    charge,
    load: watts,
    minutesTo25: Number.isFinite(seconds) ? seconds / 60 : null,
    transport: transportOf(rating),
  };
  if (values.json) return JSON.stringify(told, null, 2);
  const most = mostLoad(rating);
  return [
    `${told.wattHours.toFixed(2)} Wh`,
    told.minutesTo25 === null
      ? `it cannot give ${watts} W down to ${CHARGE_LIMIT} %`
      : `from ${charge} to ${CHARGE_LIMIT} % with ${watts} W: ${told.minutesTo25.toFixed(0)} min`,
    ...(watts > most
      ? [`! ${watts} W are more than ${most.toFixed(1)} W, half its capacity an hour: it gets warm`]
      : []),
    ...told.transport.mayGo,
    ...told.transport.never,
    told.transport.source,
  ].join('\n');
}

import { toolOf } from '../dive/index.ts';
import type { Point } from '../anatomy/index.ts';
import { specOf, type Act, type Mark, type Sight, type UnknownDevice } from './acts.ts';
import { lookAlikeWells, SAME_LENGTH, wellFor, type OpenDevice } from './state.ts';

/** What a colleague would say of an act. `says` is shown; nothing is refused that has already happened. */
export interface Warning {
  kind:
    | 'live-plug'
    | 'live-steel'
    | 'live-solder'
    | 'not-off'
    | 'charge'
    | 'plug-still-in'
    | 'heat-blind'
    | 'look-alike-well'
    | 'other-hole'
    | 'turned-open'
    | 'flex-under'
    | 'contradiction'
    | 'outside'
    | 'other-side';
  says: string;
}

/** What the bench knows beside the acts. */
export interface Bench {
  device: Pick<UnknownDevice, 'width' | 'height'>;
  /** A thermometer is watched. */
  thermometer: boolean;
  /** Heads and plugs of the newest photograph. */
  marks: readonly Mark[];
}

type Look = (open: OpenDevice, act: Act, bench: Bench) => string | null;

/** Beyond the body by more than this a place cannot be, mm. Origin: twice a rough hand's error. */
const BESIDE = 3;

/** Is a place so far outside the body that it is a slip of the hand? */
export const isBeside = ([x, y]: Point, { width, height }: { width: number; height: number }): boolean =>
  x < -BESIDE || y < -BESIDE || x > width + BESIDE || y > height + BESIDE;

/** The first place that was told of a thing and cannot be so; `null` where all can. */
export const placeBeside = ({ at, outline, line }: Sight, body: { width: number; height: number }): Point | null =>
  [...(at ? [at] : []), ...(outline ?? []), ...(line ?? [])].find((p) => isBeside(p, body)) ?? null;

const opened = (open: OpenDevice): boolean =>
  [...open.things.values()].some((t) => t.type === 'part' && t.stands !== 'in' && t.seen.face !== 'edge');

const LOOKS: Record<Warning['kind'], Look> = {
  'not-off': (open, { act }) =>
    specOf(act).of !== null && !open.poweredOff ? 'Nothing says that it was switched off. Switch it off first.' : null,
  charge: (open, { act }) =>
    (act === 'heated' || act === 'wetted') && !open.chargeChecked
      ? 'Heat beside a charged cell: look at the charge first, below 25 %.'
      : null,
  'heat-blind': (_, { act }, bench) =>
    act === 'heated' && !bench.thermometer
      ? 'No thermometer is watched: the cell beside the seam cannot be seen getting hot.'
      : null,
  'live-plug': (open, { act, seen }) =>
    act === 'connector-opened' && !open.isolated && !seen.isolates
      ? 'Still LIVE: the battery’s plug first, if it can be reached.'
      : null,
  'live-solder': (open, { act, seen }) =>
    act === 'connector-opened' && seen.connector === 'solder' && !open.isolated
      ? 'Soldered, and LIVE: no iron before the battery is off.'
      : null,
  'live-steel': (open, { act, seen }) => {
    if (seen.tool == null || !specOf(act).inside || open.isolated || !opened(open)) return null;
    const tool = toolAt(seen.tool);
    return tool?.conductive && !tool.driver ? `${tool.name} conducts, and the device is open and LIVE.` : null;
  },
  'plug-still-in': (open, { act, item, seen }, bench) => {
    if (act !== 'part-off' || !seen.outline || seen.outline.length < 3) return null;
    const [x0, y0, x1, y1] = reach(seen.outline);
    const inside = ([x, y]: readonly [number, number]) => x > x0 + 1 && x < x1 - 1 && y > y0 + 1 && y < y1 - 1;
    const known = [...open.things.values()].find(
      (t) => t.type === 'connector' && t.stands === 'in' && leadsTo(t.seen.leads, item),
    );
    const mark = bench.marks.find(
      (m) => m.type === 'connector' && (m.on ?? null) === (seen.on ?? null) && m.face === seen.face && inside(m.at),
    );
    const dealt = (m: Mark) =>
      [...open.things.values()].some(
        (t) => t.type === 'connector' && t.stands === 'undone' && t.seen.at && near(t.seen.at, m.at, 3),
      );
    if (known) return `${known.id} still joins it to the rest.`;
    return mark && !dealt(mark) ? 'A plug that was seen on it was not opened. Look before it is pulled.' : null;
  },
  'flex-under': (open, { act, item }) => {
    if (act !== 'part-swung' && act !== 'part-off') return null;
    const held = [...open.things.values()].find(
      (t) => t.type === 'bond' && t.stands === 'in' && t.seen.on === item && item !== null,
    );
    return held ? `${held.id} was begun and not cut through.` : null;
  },
  'look-alike-well': (open, { act, seen }) => {
    if (act !== 'screw-out') return null;
    const well = wellFor(open, seen);
    const alike = well === null ? [] : lookAlikeWells(open, well, seen);
    return alike.length > 0 ? `Well ${well}; its neighbour ${alike[0]} holds what looks the same.` : null;
  },
  'other-hole': (open, { act, item, seen }) => {
    if (act !== 'screw-in' || item === null || seen.length == null) return null;
    const came = open.things.get(item)?.seen.length;
    return came != null && Math.abs(came - seen.length) > SAME_LENGTH
      ? `${seen.length} mm goes in where ${came} mm came out: that screw lies in another hole.`
      : null;
  },
  'turned-open': (open, { act }) => {
    if (act !== 'turned-over') return null;
    const hanging = [...open.things.values()].find((t) => t.stands === 'swung' || t.stands === 'eased');
    return hanging ? `${hanging.id} hangs open: close it or take it off before the device is turned over.` : null;
  },
  outside: (_, { seen }, { device }) => {
    const off = placeBeside(seen, device);
    return off ? `${off[0].toFixed(1)}, ${off[1].toFixed(1)} mm lies outside the body; the place is not used.` : null;
  },
  'other-side': (open, { act, seen }) =>
    specOf(act).of !== null && seen.on == null && seen.face && seen.face !== 'edge' && seen.face !== open.up
      ? `The ${open.up} is up, and this is said of the ${seen.face}. Turned over?`
      : null,
  contradiction: (open, act) => {
    const { item } = act;
    if (specOf(act.act).of === null) return null;
    const thing = item === null ? undefined : open.things.get(item);
    if (item === null) return 'Say what it was done to.';
    if (thing && thing.type !== specOf(act.act).of) return `${item} is a ${thing.type}.`;
    const undone = thing?.stands === 'undone' && specOf(act.act).does !== 'back' && act.act !== 'bent-aside';
    if (undone) return `${item} has left its place already. Recorded as said; nothing is learnt from it.`;
    const back = specOf(act.act).does === 'back' && (!thing || thing.stands === 'in');
    if (back) return `${item} was not taken out. Recorded as said; nothing is learnt from it.`;
    const { on } = act.seen;
    const carrier = on == null ? null : open.things.get(on);
    if (on != null && (!carrier || carrier.stands === 'in'))
      return `${on} is not open or off, so that nothing can be done on its inner side.`;
    return null;
  },
};

const toolAt = (id: string) => {
  try {
    return toolOf(id);
  } catch {
    return null;
  }
};

const near = (a: readonly [number, number], b: readonly [number, number], by: number): boolean =>
  Math.hypot(a[0] - b[0], a[1] - b[1]) <= by;

const leadsTo = (leads: Act['seen']['leads'], part: string | null): boolean =>
  leads != null && 'part' in leads && leads.part === part;

function reach(outline: readonly (readonly [number, number])[]): [number, number, number, number] {
  const xs = outline.map(([x]) => x);
  const ys = outline.map(([, y]) => y);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** What is to be said of an act before, or as, it is recorded; the gravest first. */
export function warningsFor(open: OpenDevice, act: Act, bench: Bench): Warning[] {
  const order: Warning['kind'][] = [
    'live-solder',
    'live-plug',
    'live-steel',
    'plug-still-in',
    'heat-blind',
    'charge',
    'not-off',
    'turned-open',
    'contradiction',
    'outside',
    'other-side',
    'other-hole',
    'look-alike-well',
    'flex-under',
  ];
  return order.flatMap((kind) => {
    const says = LOOKS[kind](open, act, bench);
    return says === null ? [] : [{ kind, says }];
  });
}

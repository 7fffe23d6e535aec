import { CHARGE_LIMIT } from '../cells/index.ts';
import { toolOf } from '../dive/index.ts';
import type { Point } from '../anatomy/index.ts';
import { specOf, type ThingType } from './acts.ts';
import type { Act, Mark, Sight, UnknownDevice } from './format.ts';
import { lookAlikeWells, SAME_LENGTH, wellFor, type OpenDevice } from './state.ts';

/** What a colleague would say of an act. Nothing is refused that has already happened. */
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
  said: WarningMessage;
}

/** What is said of an act. mm, %. */
export type WarningMessage =
  | {
      code:
        | 'warn-not-off'
        | 'warn-heat-blind'
        | 'warn-live-plug'
        | 'warn-live-solder'
        | 'warn-plug-seen'
        | 'warn-to-what';
    }
  | { code: 'warn-charge'; limit: number }
  | { code: 'warn-live-steel'; tool: string }
  | {
      code:
        | 'warn-plug-joins'
        | 'warn-not-cut'
        | 'warn-turned-open'
        | 'warn-left-already'
        | 'warn-never-out'
        | 'warn-carrier-shut';
      thing: string;
    }
  | { code: 'warn-is-a'; thing: string; type: ThingType }
  | { code: 'warn-alike'; well: string; other: string }
  | { code: 'warn-other-hole'; length: number; came: number }
  | { code: 'warn-outside'; at: readonly number[] }
  | { code: 'warn-other-side'; up: 'front' | 'back'; face: 'front' | 'back' };

/** What the bench knows beside the acts. */
export interface Bench {
  device: Pick<UnknownDevice, 'width' | 'height'>;
  /** A thermometer is watched. */
  thermometer: boolean;
  /** Heads and plugs of the newest photograph. */
  marks: readonly Mark[];
}

type Look = (open: OpenDevice, act: Act, bench: Bench) => WarningMessage | null;

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
  'not-off': (open, { act }) => (specOf(act).of !== null && !open.poweredOff ? { code: 'warn-not-off' } : null),
  charge: (open, { act }) =>
    (act === 'heated' || act === 'wetted') && !open.chargeChecked ? { code: 'warn-charge', limit: CHARGE_LIMIT } : null,
  'heat-blind': (_, { act }, bench) => (act === 'heated' && !bench.thermometer ? { code: 'warn-heat-blind' } : null),
  'live-plug': (open, { act, seen }) =>
    act === 'connector-opened' && !open.isolated && !seen.isolates ? { code: 'warn-live-plug' } : null,
  'live-solder': (open, { act, seen }) =>
    act === 'connector-opened' && seen.connector === 'solder' && !open.isolated ? { code: 'warn-live-solder' } : null,
  'live-steel': (open, { act, seen }) => {
    if (seen.tool == null || !specOf(act).inside || open.isolated || !opened(open)) return null;
    const tool = toolAt(seen.tool);
    return tool?.conductive && !tool.driver ? { code: 'warn-live-steel', tool: seen.tool } : null;
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
    if (known) return { code: 'warn-plug-joins', thing: known.id };
    return mark && !dealt(mark) ? { code: 'warn-plug-seen' } : null;
  },
  'flex-under': (open, { act, item }) => {
    if (act !== 'part-swung' && act !== 'part-off') return null;
    const held = [...open.things.values()].find(
      (t) => t.type === 'bond' && t.stands === 'in' && t.seen.on === item && item !== null,
    );
    return held ? { code: 'warn-not-cut', thing: held.id } : null;
  },
  'look-alike-well': (open, { act, seen }) => {
    if (act !== 'screw-out') return null;
    const well = wellFor(open, seen);
    const alike = well === null ? [] : lookAlikeWells(open, well, seen);
    return alike.length > 0 ? { code: 'warn-alike', well: well!, other: alike[0]! } : null;
  },
  'other-hole': (open, { act, item, seen }) => {
    if (act !== 'screw-in' || item === null || seen.length == null) return null;
    const came = open.things.get(item)?.seen.length;
    return came != null && Math.abs(came - seen.length) > SAME_LENGTH
      ? { code: 'warn-other-hole', length: seen.length, came }
      : null;
  },
  'turned-open': (open, { act }) => {
    if (act !== 'turned-over') return null;
    const hanging = [...open.things.values()].find((t) => t.stands === 'swung' || t.stands === 'eased');
    return hanging ? { code: 'warn-turned-open', thing: hanging.id } : null;
  },
  outside: (_, { seen }, { device }) => {
    const off = placeBeside(seen, device);
    return off ? { code: 'warn-outside', at: off } : null;
  },
  'other-side': (open, { act, seen }) =>
    specOf(act).of !== null && seen.on == null && seen.face && seen.face !== 'edge' && seen.face !== open.up
      ? { code: 'warn-other-side', up: open.up, face: seen.face }
      : null,
  contradiction: (open, act) => {
    const { item } = act;
    if (specOf(act.act).of === null) return null;
    const thing = item === null ? undefined : open.things.get(item);
    if (item === null) return { code: 'warn-to-what' };
    if (thing && thing.type !== specOf(act.act).of) return { code: 'warn-is-a', thing: item, type: thing.type };
    const undone = thing?.stands === 'undone' && specOf(act.act).does !== 'back' && act.act !== 'bent-aside';
    if (undone) return { code: 'warn-left-already', thing: item };
    const back = specOf(act.act).does === 'back' && (!thing || thing.stands === 'in');
    if (back) return { code: 'warn-never-out', thing: item };
    const { on } = act.seen;
    const carrier = on == null ? null : open.things.get(on);
    if (on != null && (!carrier || carrier.stands === 'in')) return { code: 'warn-carrier-shut', thing: on };
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
    const said = LOOKS[kind](open, act, bench);
    return said === null ? [] : [{ kind, said }];
  });
}

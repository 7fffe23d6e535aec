import type { Connector, Model } from '../anatomy/index.ts';
import { CONNECTORS } from '../kinds/index.ts';
import type { RunContext } from './context.ts';
import type { LackMessage } from './messages.ts';
import type { RunState } from './state.ts';
import { timerLeft } from './timers.ts';

/** What is done to look, in the middle of the work, whether the device does something: mate, on, look, off, isolate. */
export interface TrialMove {
  do: 'mate' | 'on' | 'look' | 'off' | 'isolate' | 'open';
  items: string[];
}

/** A trial from where a run stands. */
export interface Trial {
  /** Why it may not be switched on as it lies; empty when it may. */
  lacks: { item: string | null; said: LackMessage }[];
  moves: TrialMove[];
  /** Connectors that are mated for it and opened again after. */
  mated: string[];
  /** The device was isolated, and has to be again before the work goes on. */
  isolates: boolean;
}

/**
 * What must be in place to switch on safely in this state, and the few moves there and back (R10). Nothing of the
 * run changes by it: it is recorded as an interlude, and the run goes on at the same step.
 * @param now ms since the epoch
 */
const isPlug = ({ kind }: Connector): boolean => !CONNECTORS.of(kind).byItself && !CONNECTORS.of(kind).joint;

export function tryNow({ model, checker }: RunContext, state: RunState, now: number): Trial {
  const { device } = state;
  const there = (part: string) => !device.removed.has(part);
  const open = (c: Connector) => device.open.has(c.id) && !device.absent.has(c.id);
  const isolating = model.anatomy.connectors.filter((c) => c.isolatesPower);
  const power = isolating.filter(open);
  const picture = model.anatomy.connectors.filter(
    (c) => open(c) && !c.isolatesPower && isPlug(c) && joinsDisplay(model, c),
  );
  const canMate = (c: Connector) => [c.from, c.to].every(there) && checker.reaches(device, c.id);
  const lacks: Trial['lacks'] = [];
  for (const c of power) {
    const away = [c.from, c.to].find((part) => !there(part));
    if (away) lacks.push({ item: away, said: { code: 'lay-in-place', item: away } });
    else if (CONNECTORS.of(c.kind).byItself)
      lacks.push({ item: c.from, said: { code: 'contact-in-place', item: c.from } });
    else if (!checker.reaches(device, c.id)) lacks.push({ item: c.id, said: { code: 'not-in-reach', item: c.id } });
  }
  for (const part of checker.looseParts(device))
    if (model.parts.get(part)!.conductive) lacks.push({ item: part, said: { code: 'conducts-loose', item: part } });
  for (const c of model.anatomy.connectors)
    if (CONNECTORS.of(c.kind).joint && open(c) && there(c.from))
      lacks.push({ item: c.id, said: { code: 'wires-bare', item: c.id } });
  for (const timer of state.timers.values()) {
    const verb = state.context.steps.get(timer.step)?.do;
    if ((verb === 'solvent' || verb === 'clean') && timer.endedAt === null && timerLeft(timer, now) > 0)
      lacks.push({ item: null, said: { code: 'solvent-wet' } });
  }
  const mated = [...picture.filter(canMate), ...power].map((c) => c.id);
  const others = mated.filter((id) => !model.connectors.get(id)!.isolatesPower);
  const moves: TrialMove[] = [
    ...(mated.length > 0 ? [{ do: 'mate' as const, items: mated }] : []),
    { do: 'on', items: [] },
    { do: 'look', items: [] },
    { do: 'off', items: [] },
    ...(power.length > 0 ? [{ do: 'isolate' as const, items: power.map((c) => c.id) }] : []),
    ...(others.length > 0 ? [{ do: 'open' as const, items: others }] : []),
  ];
  return { lacks, moves, mated, isolates: power.length > 0 };
}

function joinsDisplay(model: Model, c: Connector): boolean {
  return [c.from, c.to].some((id) => model.parts.get(id)!.kind === 'display');
}

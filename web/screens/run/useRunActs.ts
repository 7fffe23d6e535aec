import { useState } from 'react';
import { itemsLeft, timerId, timerLeft, type EventBody } from '../../../core/run/index.ts';
import { serverNow } from '../../state/clock.ts';
import { usePrefs } from '../../state/prefs.ts';
import { useRun, useRunOf } from '../../state/run.ts';
import { useStable } from '../../state/useStable.ts';
import { tooHotSince, type Softened } from './standing.ts';
import { useRunKeys } from './useRunKeys.ts';
import type { RunView } from './useRunView.ts';
import { useGo } from '../../state/here.ts';

/** What a technician can do at the step that is looked at. */
export interface RunActs {
  /** The one key; `all` does what is left of the step at once. */
  act: (all: boolean) => void;
  /** Passes every function of a test at once. */
  passAll: () => void;
  screw: (id: string) => void;
  back: () => void;
  leave: () => void;
  /** Records what a panel says, and closes it when it was taken. */
  send: (bodies: EventBody[], blob?: Blob) => boolean;
  /** The screw that the torque driver turns, of which step. */
  driver: { fastener: string; step: string } | null;
  putDriverDown: () => void;
  /** The heating that the thermometers called soft. */
  soft: Softened | null;
  onSoft: (startedAt: string, reason: string) => void;
}

const isDone = (step: string) => useRun.getState().state?.done.has(step) ?? false;

export function useRunActs(job: string, view: RunView): RunActs {
  const { press, tap, record } = useRunOf('press', 'tap', 'record');
  const { torqueDriver } = usePrefs();
  const begin = useGo();
  const [driver, setDriver] = useState<RunActs['driver']>(null);
  const [soft, setSoft] = useState<Softened | null>(null);
  const { step, choose, follow, open } = view;

  /** The step's own wait ends where the thermometers had the last word; false when that was refused. */
  const endsByThermometer = (): boolean => {
    const { state } = useRun.getState();
    const timer = step && state?.timers.get(timerId(step));
    if (!state || !timer || tooHotSince(state, timer) || soft?.startedAt !== timer.startedAt) return true;
    if (timerLeft(timer, serverNow()) <= 0) return true;
    return record([{ type: 'timer-ended', timer: timer.id, how: 'thermometer', reason: soft.reason }]);
  };

  const act = useStable((all: boolean) => {
    const { state } = useRun.getState();
    if (state?.cursor === null) return void begin()(`/jobs/${job}/record`);
    // A key that bounces, or is quicker than the screen, was meant for what is done by now; it is no press of the
    // next step, which nobody has seen yet.
    if (!step || !state || state.done.has(step.id)) return;
    // Functions are passed one by one; all at once is asked for with the list in sight.
    if (all && step.do === 'test') return open({ kind: 'all-passed' });
    const screw = step.do === 'fasten' && torqueDriver && !all ? itemsLeft(state, step)[0] : undefined;
    // With a torque driver at hand the screw is driven by it, and judged, before it counts as in.
    if (screw) return setDriver((at) => at ?? { fastener: screw, step: step.id });
    if (endsByThermometer() && press(step.id, all) === 'moved' && isDone(step.id)) follow();
  });
  const back = useStable(() => {
    const last = useRun.getState().state?.undoable;
    if (last && record([{ type: 'step-undone', step: last.step, item: last.item }])) choose(null);
  });
  const leave = useStable(() => {
    if (step && record([{ type: 'step-left', step: step.id }])) choose(null);
  });

  useRunKeys(
    {
      done: () => act(false),
      whole: () => act(true),
      back,
      leave,
      deviation: () => open({ kind: 'deviation', item: null }),
      photo: () => open({ kind: 'photo' }),
      note: () => open({ kind: 'note' }),
      timer: () => open({ kind: 'timer' }),
      replan: () => open({ kind: 'replan' }),
      try: () => open({ kind: 'try' }),
      fail: () => open({ kind: 'test', outcome: 'fail' }),
      waive: () => open({ kind: 'test', outcome: 'waived' }),
      mirror: view.toggleMirror,
      layers: view.toggleLayers,
      picture: () => view.showPicture(!view.picture),
      profile: () => view.showWhole(!view.whole),
      help: () => open({ kind: 'help' }),
      next: () => choose(view.n + 1),
      previous: () => choose(view.n - 1),
      escape: () => {
        if (view.picture) view.showPicture(false);
        else if (view.panel) open(null);
        else if (view.whole) view.showWhole(false);
        else choose(null);
      },
    },
    step?.do === 'test',
  );

  return {
    act,
    back,
    leave,
    driver,
    soft,
    passAll: useStable(() => {
      open(null);
      if (step && press(step.id, true) === 'moved') follow();
    }),
    screw: useStable((id: string) => {
      if (!step) return;
      if (step.do === 'fasten' && torqueDriver) setDriver({ fastener: id, step: step.id });
      else if (tap(step.id, id) === 'moved' && isDone(step.id)) follow();
    }),
    send: useStable((bodies: EventBody[], blob?: Blob) => {
      if (!record(bodies, blob)) return false;
      open(null);
      return true;
    }),
    putDriverDown: useStable(() => {
      setDriver(null);
      if (driver && isDone(driver.step)) follow();
    }),
    onSoft: useStable((startedAt: string, reason: string) => setSoft({ startedAt, reason })),
  };
}

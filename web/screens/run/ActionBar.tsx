import { Camera, CircleAlert, Keyboard, NotebookPen, Power, Route, Undo2 } from 'lucide-react';
import { memo, type MouseEvent, type ReactNode } from 'react';
import type { Step } from '../../../core/dive/index.ts';
import { isOver, itemWise, type RunState } from '../../../core/run/index.ts';
import { Button, Key } from '../../controls/index.tsx';
import { usePrefs, type Action } from '../../state/prefs.ts';
import type { PanelKind } from './Panels.tsx';

/** What the one key does at this step, in words. */
function doneWord(step: Step, left: number, wait: number | null, done: boolean): string {
  if (done) return 'Done already';
  if (wait !== null && wait > 0) return 'Waiting';
  if (step.gate) return 'Pass the gate';
  const kind = itemWise(step);
  if (kind === 'test') return left > 0 ? 'Passed' : 'Done';
  if (kind && left > 1) return 'Next';
  if (step.waits > 0 && wait === null) return 'Start the wait';
  return 'Done';
}

/** The key must go on meaning "done" after a tap on any of these. */
const blurred = (work: () => void) => (e: MouseEvent<HTMLButtonElement>) => {
  e.currentTarget.blur();
  work();
};

const wide = (key: string, of: string, word: ReactNode, onClick: () => void) => (
  <Button key={key} className="min-h-14 shrink-0" onClick={blurred(onClick)}>
    {word} <Key of={of} />
  </Button>
);

/** The keys that hardly change from step to step. */
const SmallKeys = memo(function SmallKeys({
  keys,
  open,
  showWhole,
  leave,
}: {
  keys: Record<Action, string>;
  open: (panel: PanelKind) => void;
  showWhole: () => void;
  /** `null` where a step cannot be left. */
  leave: (() => void) | null;
}) {
  const small = (action: Action, icon: ReactNode, word: string, onClick: () => void) => (
    <Button key={action} className="min-h-14 shrink-0 flex-col !gap-0 px-3 text-sm" onClick={blurred(onClick)}>
      <span className="flex items-center gap-2">
        {icon}
        <Key of={keys[action]} />
      </span>
      {word}
    </Button>
  );
  return (
    <>
      {small('deviation', <CircleAlert size={20} />, 'Something is different', () =>
        open({ kind: 'deviation', item: null }),
      )}
      {small('photo', <Camera size={20} />, 'Photo', () => open({ kind: 'photo' }))}
      {small('note', <NotebookPen size={20} />, 'Note', () => open({ kind: 'note' }))}
      {small('try', <Power size={20} />, 'Try it now', () => open({ kind: 'try' }))}
      {small('profile', <Route size={20} />, 'Whole dive', showWhole)}
      {leave && small('leave', null, 'Leave for now', leave)}
      {small('help', <Keyboard size={20} />, 'Keys', () => open({ kind: 'help' }))}
    </>
  );
});

/**
 * The keys at the foot. *Take back* and the one key keep their places at every size and at every step; everything
 * else lies in a row between or above them, which can be pushed sideways.
 */
export function ActionBar({
  step,
  state,
  left,
  wait,
  why,
  finished,
  act,
  back,
  leave,
  open,
  showWhole,
  goToStanding,
}: {
  step: Step;
  state: RunState;
  left: number;
  wait: number | null;
  /** Why the one key does nothing now. */
  why: string | null;
  finished: boolean;
  act: (all: boolean) => void;
  back: () => void;
  leave: () => void;
  open: (panel: PanelKind) => void;
  showWhole: () => void;
  goToStanding: () => void;
}) {
  const keys = usePrefs((s) => s.keys);
  const done = state.done.has(step.id);
  const waiting = wait !== null && wait > 0 && !done;
  const testing = step.do === 'test' && left > 0 && !done;
  return (
    <nav aria-label="Actions" className="foot p-2 sm:px-4 sm:pb-3">
      {why && (
        <p className="foot-why flex flex-wrap items-center gap-x-3 text-base" data-testid="why">
          <span>{why}</span>
          {done && !finished && (
            <button type="button" className="min-h-12 font-semibold underline" onClick={blurred(goToStanding)}>
              Go there
            </button>
          )}
        </p>
      )}
      <Button
        data-testid="back"
        disabled={state.undoable === null || isOver(state)}
        className="foot-back min-h-16 flex-col !gap-0 px-2 text-sm"
        onClick={blurred(back)}
      >
        <span className="flex items-center gap-2">
          <Undo2 size={20} />
          <Key of={keys.back} />
        </span>
        Take back
      </Button>
      <div className="foot-row flex items-stretch gap-2 overflow-x-auto" tabIndex={-1}>
        {testing && wide('fail', 'f', 'Failed', () => open({ kind: 'test', outcome: 'fail' }))}
        {testing && wide('waive', 'w', 'Waive', () => open({ kind: 'test', outcome: 'waived' }))}
        {waiting && wide('timer', keys.timer, 'End the wait', () => open({ kind: 'timer' }))}
        {itemWise(step) && left > 1 && !done && !waiting && wide('all', keys.whole, `All ${left}`, () => act(true))}
        <SmallKeys keys={keys} open={open} showWhole={showWhole} leave={!done && step.gate === null ? leave : null} />
      </div>
      <Button
        weight="main"
        data-testid="done"
        className="foot-done min-h-16 text-xl sm:text-2xl"
        disabled={why !== null}
        onClick={blurred(() => act(false))}
      >
        {finished ? 'Prove and sign' : doneWord(step, left, wait, done)} <Key of={keys.done} />
      </Button>
    </nav>
  );
}

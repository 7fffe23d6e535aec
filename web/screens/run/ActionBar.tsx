import { Camera, CircleAlert, Keyboard, NotebookPen, Route, Undo2 } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Step } from '../../../core/dive/index.ts';
import { itemWise, type RunState } from '../../../core/run/index.ts';
import { Button, Key } from '../../controls/index.tsx';
import { usePrefs, type Action } from '../../state/prefs.ts';
import type { PanelKind } from './Panels.tsx';

/** What the one key does at this step, in words. */
function doneWord(step: Step, left: number, wait: number | null, done: boolean): string {
  if (done) return 'Done already';
  if (step.gate) return 'Pass the gate';
  const kind = itemWise(step);
  if (kind === 'test') return left > 0 ? 'Passed' : 'Done';
  if (kind && left > 1) return 'Next';
  if (step.waits > 0 && wait === null) return 'Start the wait';
  if (wait !== null && wait > 0) return 'Waiting';
  return 'Done';
}

export function ActionBar({
  step,
  state,
  left,
  wait,
  act,
  back,
  leave,
  open,
  showWhole,
}: {
  step: Step;
  state: RunState;
  left: number;
  wait: number | null;
  act: (all: boolean) => void;
  back: () => void;
  leave: () => void;
  open: (panel: PanelKind) => void;
  showWhole: () => void;
}) {
  const keys = usePrefs((s) => s.keys);
  const done = state.done.has(step.n);
  const waiting = wait !== null && wait > 0 && !done;
  // The key must go on meaning "done" after a tap on any of these.
  const small = (action: Action, icon: ReactNode, word: string, onClick: () => void, disabled = false) => (
    <Button
      key={action}
      disabled={disabled}
      className="min-h-16 flex-col !gap-0 px-3 text-sm"
      onClick={(e) => {
        e.currentTarget.blur();
        onClick();
      }}
    >
      <span className="flex items-center gap-2">
        {icon}
        <Key of={keys[action]} />
      </span>
      {word}
    </Button>
  );
  return (
    <nav aria-label="Actions" className="flex flex-wrap items-stretch gap-2 px-4 pb-4">
      {small('back', <Undo2 size={20} />, 'Take back', back, state.undoable === null || state.signedOff !== null)}
      {small('deviation', <CircleAlert size={20} />, 'Something is different', () =>
        open({ kind: 'deviation', item: null }),
      )}
      {small('photo', <Camera size={20} />, 'Photo', () => open({ kind: 'photo' }))}
      {small('note', <NotebookPen size={20} />, 'Note', () => open({ kind: 'note' }))}
      {small('profile', <Route size={20} />, 'Whole dive', showWhole)}
      {small('leave', null, 'Leave for now', leave, done || step.gate !== null)}
      {small('help', <Keyboard size={20} />, 'Keys', () => open({ kind: 'help' }))}
      <span className="flex-1" />
      {step.do === 'test' && left > 0 && (
        <>
          <Button className="min-h-16" onClick={() => open({ kind: 'test', outcome: 'fail' })}>
            Failed <Key of="f" />
          </Button>
          <Button className="min-h-16" onClick={() => open({ kind: 'test', outcome: 'waived' })}>
            Waive <Key of="w" />
          </Button>
        </>
      )}
      {waiting && (
        <Button className="min-h-16" onClick={() => open({ kind: 'timer' })}>
          End the wait <Key of={keys.timer} />
        </Button>
      )}
      {itemWise(step) && left > 1 && !done && (
        <Button
          className="min-h-16"
          onClick={(e) => {
            e.currentTarget.blur();
            act(true);
          }}
        >
          All {left} <Key of={keys.whole} />
        </Button>
      )}
      <Button
        weight="main"
        data-testid="done"
        className="min-h-16 min-w-56 text-2xl"
        disabled={done || waiting}
        onClick={(e) => {
          e.currentTarget.blur();
          act(false);
        }}
      >
        {doneWord(step, left, wait, done)} <Key of={keys.done} />
      </Button>
    </nav>
  );
}

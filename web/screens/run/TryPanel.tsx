import { useEffect, useRef, useState } from 'react';
import { tryNow, type EventBody, type RunState, type TrialMove } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { serverNow } from '../../state/clock.ts';
import { tell } from '../../../words/index.ts';

const MOVE_WORDS: Record<TrialMove['do'], (names: string) => string> = {
  mate: (names) => `Mate ${names}, the battery last`,
  on: () => 'Switch on',
  look: () => 'Look: does it do what it should?',
  off: () => 'Switch off fully',
  isolate: (names) => `Open ${names} first of all, and bend it aside`,
  open: (names) => `Open ${names}`,
};

/** A trial in the middle of the work: a few moves there and back, one key each, then the same step as before. */
export function TryPanel({ state, send }: { state: RunState; send: (bodies: EventBody[]) => boolean }) {
  const { context } = state;
  const [trial] = useState(() => tryNow(context, state, serverNow()));
  const [at, setAt] = useState(0);
  const [worked, setWorked] = useState<boolean | null>(null);
  const key = useRef<HTMLButtonElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each move puts the key under the finger again
  useEffect(() => key.current?.focus(), [at, worked]);
  if (trial.lacks.length > 0)
    return (
      <div className="grid gap-3 text-lg">
        <p className="font-semibold">It must not be switched on as it lies:</p>
        <ul className="grid gap-2">
          {trial.lacks.map((lack) => (
            <li key={`${lack.said.code} ${lack.item}`} className="rounded-lg bg-sunk p-3 dark:bg-line">
              {tell(context.model, lack.said)}
            </li>
          ))}
        </ul>
      </div>
    );
  const move = trial.moves[at];
  const finish = () =>
    send([
      {
        type: 'tried',
        standing: state.cursor,
        mated: trial.mated,
        worked: worked ?? false,
        isolated: trial.isolates,
        note: '',
      },
    ]);
  return (
    <div className="grid gap-4 text-lg">
      <CautionLine caution="static" />
      <ol className="grid gap-2">
        {trial.moves.map((m, i) => (
          <li
            key={m.do}
            aria-current={i === at ? 'step' : undefined}
            className={
              i === at
                ? 'rounded-lg bg-sunk p-3 font-bold dark:bg-line'
                : i < at
                  ? 'px-3 text-quiet line-through'
                  : 'px-3'
            }
          >
            {MOVE_WORDS[m.do](m.items.map((id) => context.model.nameOf(id)).join(', '))}
          </li>
        ))}
      </ol>
      {move?.do === 'look' ? (
        <div className="grid grid-cols-2 gap-3">
          <Button
            ref={key}
            onClick={() => {
              setWorked(true);
              setAt(at + 1);
            }}
          >
            It works
          </Button>
          <Button
            onClick={() => {
              setWorked(false);
              setAt(at + 1);
            }}
          >
            It does not
          </Button>
        </div>
      ) : move ? (
        <Button ref={key} weight="main" onClick={() => setAt(at + 1)}>
          Done
        </Button>
      ) : (
        <Button ref={key} weight="main" onClick={finish}>
          {trial.isolates ? 'Isolated again: go on where you were' : 'Go on where you were'}
        </Button>
      )}
    </div>
  );
}

import { Check, CircleHelp, X } from 'lucide-react';
import { type KeyboardEvent, useRef } from 'react';
import type { DeviceFunction } from '../../../core/anatomy/index.ts';
import type { IntakeForm } from './form.ts';

const ANSWERS = [
  ['pass', 'Works', '1', Check, 'border-moss bg-moss text-on-job'],
  ['fail', 'Fails', '2', X, 'border-crimson bg-crimson text-on-job'],
  [null, 'Cannot tell', '3', CircleHelp, 'border-quiet bg-quiet text-ground'],
] as const;

/** A quick run through what the device can do, one key each: an old fault is known to be old. */
export function Works({
  functions,
  works,
  set,
}: {
  functions: readonly DeviceFunction[];
  works: IntakeForm['works'];
  set: (works: IntakeForm['works']) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  const say = (id: string, outcome: 'pass' | 'fail' | null) => set({ ...works, [id]: outcome });
  const keys = (e: KeyboardEvent, at: number) => {
    const answer = ANSWERS.find(([, , key]) => key === e.key);
    const rows = list.current?.querySelectorAll<HTMLElement>('[data-function]');
    if (answer) {
      e.preventDefault();
      say(functions[at]!.id, answer[0]);
      rows?.[at + 1]?.focus();
    }
    if (e.key === 'ArrowDown') rows?.[at + 1]?.focus();
    if (e.key === 'ArrowUp') rows?.[at - 1]?.focus();
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') e.preventDefault();
  };
  const rest = functions.filter((f) => works[f.id] === undefined);
  return (
    <div className="grid gap-2">
      <p className="text-quiet">
        Try each before it is opened. Keys on a line: <kbd className="num">1</kbd> works, <kbd className="num">2</kbd>{' '}
        fails, <kbd className="num">3</kbd> cannot tell.
      </p>
      <ul ref={list} className="grid max-h-96 gap-1 overflow-auto sm:grid-cols-2">
        {functions.map((f, at) => (
          <li
            key={f.id}
            tabIndex={0}
            data-function={f.id}
            title={f.test}
            onKeyDown={(e) => keys(e, at)}
            className="flex min-h-12 items-center justify-between gap-2 rounded-lg px-2 focus-visible:bg-sunk"
          >
            <span className="min-w-0 truncate">{f.name}</span>
            <span className="flex shrink-0 gap-1">
              {ANSWERS.map(([outcome, word, , Icon, chosen]) => (
                <button
                  key={word}
                  type="button"
                  tabIndex={-1}
                  aria-label={`${f.name}: ${word}`}
                  aria-pressed={f.id in works && works[f.id] === outcome}
                  className={`grid size-12 place-items-center rounded-lg border-2 ${f.id in works && works[f.id] === outcome ? chosen : 'border-line'}`}
                  onClick={() => say(f.id, outcome)}
                >
                  <Icon size={20} aria-hidden="true" />
                </button>
              ))}
            </span>
          </li>
        ))}
      </ul>
      {rest.length > 0 && rest.length < functions.length && (
        <p>
          <button
            type="button"
            className="min-h-12 underline"
            onClick={() => set({ ...works, ...Object.fromEntries(rest.map((f) => [f.id, 'pass' as const])) })}
          >
            The other {rest.length} work
          </button>
        </p>
      )}
    </div>
  );
}

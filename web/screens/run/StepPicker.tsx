import { X } from 'lucide-react';
import { useLayoutEffect, useRef, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { stepItemName, type Plan } from '../../../core/dive/index.ts';
import type { RunState } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { spoken } from '../../../words/index.ts';

/** The whole dive at once, to look where one is or to take another step. */
export function StepPicker({
  plan,
  state,
  model,
  standing,
  chosen,
  choose,
  close,
}: {
  plan: Plan;
  state: RunState;
  model: Model;
  standing: number;
  chosen: number | null;
  choose: (step: number) => void;
  close: () => void;
}) {
  const here = useRef<HTMLButtonElement>(null);
  const [pointed, setPointed] = useState<number | null>(chosen);
  useLayoutEffect(() => {
    here.current?.scrollIntoView({ block: 'center' });
    here.current?.focus();
  }, []);
  return (
    <section
      data-panel="profile"
      aria-label="The whole dive"
      className="fixed inset-0 z-10 flex flex-col gap-3 bg-ground p-5"
    >
      <div className="flex items-center justify-between">
        <h2 className="text-2xl font-bold">The whole dive</h2>
        <Button weight="quiet" aria-label="Close" onClick={close}>
          <X />
        </Button>
      </div>
      <div className="panel p-2">
        <DiveProfile
          plan={plan}
          at={state.cursor}
          done={state.done}
          chosen={pointed}
          onChoose={setPointed}
          className="w-full"
        />
      </div>
      <ol className="grid min-h-0 flex-1 gap-x-4 overflow-auto md:grid-cols-2">
        {plan.steps.map((s) => (
          <li key={s.n}>
            <button
              ref={s.n === (chosen ?? standing) ? here : undefined}
              type="button"
              onMouseEnter={() => setPointed(s.n)}
              onFocus={() => setPointed(s.n)}
              onClick={() => choose(s.n)}
              className={
                `grid min-h-12 w-full grid-cols-[2.5rem_1.5rem_minmax(0,1fr)] items-center gap-2 rounded-lg px-2 ` +
                `text-left text-lg ${pointed === s.n ? 'bg-sunk' : ''} ${state.done.has(s.id) ? 'text-quiet' : ''}`
              }
            >
              <span className="num text-right">{s.n}</span>
              <span aria-hidden="true">
                {state.done.has(s.id) ? '✓' : s.n === standing ? '▸' : state.left.has(s.id) ? '○' : ''}
              </span>
              <span className="truncate">
                <b>{s.gate ? `Gate ${s.gate}` : spoken.verbs[s.do]}</b>{' '}
                {s.gate ? '' : s.items.map((id) => stepItemName(model, s, id)).join(', ')}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}

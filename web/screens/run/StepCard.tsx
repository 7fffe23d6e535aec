import { CornerUpLeft } from 'lucide-react';
import { stepItemName, toolName, type Step } from '../../../core/dive/index.ts';
import { itemWise, runsBeside, type RunContext, type RunState, type Timer } from '../../../core/run/index.ts';
import { calledOut } from '../../../core/screws/index.ts';
import { clock, minutes } from '../../../core/units/index.ts';
import { Button, CautionLine } from '../../controls/index.tsx';
import { TradeMark } from '../../drawing/marks.tsx';
import { PHASE_WORDS, tradeOf, VERB_WORDS } from '../../words.ts';

/** Longest list of items shown one below the other; beyond it they are counted. */
const SHOWN_ITEMS = 9;

export function StepCard({
  context,
  step,
  state,
  total,
  standing,
  nextItem,
  left,
  wait,
  waitsFor,
  timer,
  soft,
  because,
  goBack,
}: {
  context: RunContext;
  step: Step;
  state: RunState;
  total: number;
  standing: number;
  nextItem: string | null;
  left: number;
  wait: number | null;
  waitsFor: number | null;
  timer: Timer | null;
  soft: boolean;
  because: string[];
  goBack: () => void;
}) {
  const { model, wells } = context;
  const done = state.done.has(step.n);
  const kind = itemWise(step);
  const finished = state.cursor === null;
  const screwLike = kind === 'screw';
  const functionTest = step.do === 'test' && nextItem ? model.anatomy.functions.find((f) => f.id === nextItem) : null;
  const shown =
    step.do === 'gate'
      ? []
      : screwLike && nextItem
        ? [nextItem, ...step.items.filter((id) => id !== nextItem)]
        : step.items;
  return (
    <section className="panel flex-1 p-6" aria-live="polite" aria-label={`Step ${step.n}`}>
      {step.n !== standing && (
        <div className="mb-3 flex flex-wrap items-center gap-3 rounded-lg bg-sunk px-4 py-1">
          <span>
            You look at step <b className="num">{step.n}</b>; the run stands at <b className="num">{standing}</b>.
          </span>
          <Button weight="quiet" onClick={goBack}>
            <CornerUpLeft aria-hidden="true" />
            Back to {standing}
          </Button>
        </div>
      )}
      <p className="flex items-center gap-3 text-lg text-quiet">
        <svg viewBox="-12 -14 24 28" className="size-8" aria-hidden="true">
          <TradeMark trade={tradeOf(step)} x={0} y={0} r={8} />
        </svg>
        {PHASE_WORDS[step.phase]}, step{' '}
        <span className="num" data-testid="step-number">
          {step.n}
        </span>{' '}
        of <span className="num">{total}</span>
        {done && <b className="text-moss">✓ done</b>}
        {state.left.has(step.n) && <b className="text-ember">left for now</b>}
      </p>
      <h1 className="mt-1 text-5xl leading-tight font-bold" data-testid="verb">
        {finished && step.n === total ? 'All steps done' : step.gate ? `Gate ${step.gate}` : VERB_WORDS[step.do]}
      </h1>
      {functionTest ? (
        <div className="mt-3">
          <p className="text-3xl font-semibold">{functionTest.name}</p>
          <p className="mt-1 text-2xl">{functionTest.test}</p>
          <p className="mt-2 text-lg text-quiet">
            <span className="num">{step.items.length - left}</span> of <span className="num">{step.items.length}</span>{' '}
            tested
          </p>
        </div>
      ) : (
        <ul className={`mt-2 grid gap-1 ${shown.length > 4 ? 'text-xl' : 'text-2xl'}`}>
          {shown.slice(0, SHOWN_ITEMS).map((id) => {
            const dealt =
              state.items.get(step.n)?.has(id) ||
              state.device.absent.has(id) ||
              (step.do === 'test' && state.tests.has(id));
            return (
              <li
                key={id}
                data-item={id}
                className={`flex items-baseline gap-3 ${id === nextItem ? 'font-bold' : dealt ? 'text-quiet' : ''}`}
              >
                {kind && (
                  <span aria-hidden="true" className="w-6 shrink-0">
                    {dealt ? '✓' : id === nextItem ? '▸' : '·'}
                  </span>
                )}
                <span className={dealt ? 'line-through decoration-2' : ''}>{stepItemName(model, step, id)}</span>
                {screwLike && wells.get(id) && (
                  <span className="num rounded bg-sunk px-2 text-brass">{wells.get(id)}</span>
                )}
                {screwLike &&
                  !dealt &&
                  calledOut(model, id).map((tag) => (
                    <span key={tag} className="rounded border-2 border-ember px-2 text-base font-semibold text-ember">
                      {tag}
                    </span>
                  ))}
              </li>
            );
          })}
          {shown.length > SHOWN_ITEMS && <li className="text-quiet">and {shown.length - SHOWN_ITEMS} more</li>}
        </ul>
      )}
      {step.tool && (
        <p className="mt-3 text-2xl">
          <span className="text-quiet">with</span> {toolName(step.tool)}
        </p>
      )}
      {step.hint && <p className="mt-3 max-w-[46ch] text-xl leading-snug">{step.hint}</p>}
      {soft ? (
        <p className="mt-4 text-2xl font-bold text-moss" data-testid="wait">
          ✓ Soft by the thermometers: go on
        </p>
      ) : waitsFor !== null && wait !== null && wait > 0 ? (
        <p className="mt-4 text-2xl text-ember" data-testid="wait">
          <span className="num text-5xl font-bold">{clock(wait)}</span> to run from step {waitsFor}
        </p>
      ) : (
        step.waits > 0 && (
          <p className="mt-4 text-2xl text-ember" data-testid="wait">
            {timer === null ? (
              <>
                then wait {minutes(step.waits)}
                {runsBeside(context, step) && ', beside the next steps'}
              </>
            ) : wait! > 0 ? (
              <>
                <span className="num text-5xl font-bold">{clock(wait!)}</span> to run
              </>
            ) : (
              <b>The wait has run.</b>
            )}
          </p>
        )
      )}
      <p className="mt-4 text-lg text-quiet">
        <span className="num">{minutes(step.seconds)}</span> · {because.join('; ')}
      </p>
      {step.cautions.length > 0 && (
        <div className="mt-3 grid gap-1">
          {step.cautions.map((c) => (
            <CautionLine key={c} caution={c} large />
          ))}
        </div>
      )}
    </section>
  );
}

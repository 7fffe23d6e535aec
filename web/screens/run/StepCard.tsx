import { functionIn, type Model } from '../../../core/anatomy/index.ts';
import { CornerUpLeft } from 'lucide-react';
import { stepItemName, type Step } from '../../../core/dive/index.ts';
import { isProved, itemWise, runsBeside, type RunContext, type RunState, type Timer } from '../../../core/run/index.ts';
import { calledOut } from '../../../core/screws/index.ts';
import { clock, minutes } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { TradeMark } from '../../drawing/marks.tsx';
import { LookAnswers } from '../prove/LookAnswers.tsx';
import { Retest } from './Retest.tsx';
import { SuspectsLink } from './SuspectsLink.tsx';
import { tradeOf } from '../../trade.ts';
import { tellAll, toolName, spoken } from '../../../words/index.ts';

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
  cooling,
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
  waitsFor: Step | null;
  /** It was too hot, and cools before anything goes on. */
  cooling: boolean;
  timer: Timer | null;
  soft: boolean;
  because: string[];
  goBack: () => void;
}) {
  const { model, wells } = context;
  const done = state.done.has(step.id);
  const kind = itemWise(step);
  const finished = state.cursor === null;
  const screwLike = kind === 'screw';
  const looking = step.do === 'inspect' ? (step.items.find((id) => context.plan.look?.includes(id)) ?? null) : null;
  const functionTest = step.do === 'test' && nextItem ? functionIn(model.anatomy, nextItem) : null;
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
        {spoken.phases[step.phase]}, step{' '}
        <span className="num" data-testid="step-number">
          {step.n}
        </span>{' '}
        of <span className="num">{total}</span>
        {done && <b className="text-moss">✓ done</b>}
        {state.left.has(step.id) && <b className="text-ember">left for now</b>}
      </p>
      <h1 className="mt-1 text-5xl leading-tight font-bold" data-testid="verb">
        {finished && step.n === total ? 'All steps done' : step.gate ? `Gate ${step.gate}` : spoken.verbs[step.do]}
      </h1>
      {functionTest ? (
        <div className="mt-3">
          <p className="text-3xl font-semibold">{functionTest.name}</p>
          <p className="mt-1 text-2xl">{functionTest.test}</p>
          <p className="mt-2 text-lg text-quiet">
            <span className="num">{step.items.length - left}</span> of <span className="num">{step.items.length}</span>{' '}
            tested
          </p>
          <Failed of={step.items} state={state} name={(id) => stepItemName(model, step, id)} />
        </div>
      ) : (
        <ul className={`mt-2 grid gap-1 ${shown.length > 4 ? 'text-xl' : 'text-2xl'}`}>
          {shown.slice(0, SHOWN_ITEMS).map((id) => {
            const failed = step.do === 'test' && state.tests.get(id)?.outcome === 'fail';
            const dealt =
              !failed &&
              (state.items.get(step.id)?.has(id) ||
                state.device.absent.has(id) ||
                (step.do === 'test' && isProved(context, state, id, step.phase !== 'prove')));
            return (
              <li
                key={id}
                data-item={id}
                className={
                  `flex flex-wrap items-baseline gap-3 ` +
                  `${failed ? 'font-bold text-crimson' : id === nextItem ? 'font-bold' : dealt ? 'text-quiet' : ''}`
                }
              >
                {kind && (
                  <span aria-hidden="true" className="w-6 shrink-0">
                    {failed ? '✗' : dealt ? '✓' : id === nextItem ? '▸' : '·'}
                  </span>
                )}
                <span className={dealt ? 'line-through decoration-2' : ''}>{stepItemName(model, step, id)}</span>
                {failed && <span>failed: {state.tests.get(id)!.reason}</span>}
                {failed && <Retest of={id} />}
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
      {looking !== null && !done && <Look model={model} item={looking} state={state} />}
      {step.tool && (
        <p className="mt-3 text-2xl">
          <span className="text-quiet">with</span> {toolName(step.tool)}
        </p>
      )}
      {step.hint.length > 0 && <p className="mt-3 max-w-[46ch] text-xl leading-snug">{tellAll(model, step.hint)}</p>}
      <WaitLine
        context={context}
        step={step}
        wait={wait}
        waitsFor={waitsFor}
        cooling={cooling}
        timer={timer}
        soft={soft}
      />
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

/** What is waited for at this step, with the time left. */
function WaitLine({
  context,
  step,
  wait,
  waitsFor,
  cooling,
  timer,
  soft,
}: {
  context: RunContext;
  step: Step;
  wait: number | null;
  waitsFor: Step | null;
  cooling: boolean;
  timer: Timer | null;
  soft: boolean;
}) {
  const runs = wait !== null && wait > 0;
  const left = <span className="num text-5xl font-bold">{clock(wait ?? 0)}</span>;
  if (cooling && runs) {
    return (
      <p className="mt-4 rounded-lg bg-crimson p-4 text-2xl text-on-job" data-testid="wait">
        ✕ Too hot. Take it off the heat and let it cool: {left}. If it swells, hisses or smokes, stop.
      </p>
    );
  }
  if (soft) {
    return (
      <p className="mt-4 text-2xl font-bold text-moss" data-testid="wait">
        ✓ Soft by the thermometers: go on
      </p>
    );
  }
  if (waitsFor !== null && runs) {
    return (
      <p className="mt-4 text-2xl text-ember" data-testid="wait">
        {left} to run from step {waitsFor.n}
      </p>
    );
  }
  if (step.waits === 0) return null;
  return (
    <p className="mt-4 text-2xl text-ember" data-testid="wait">
      {timer === null && (
        <>
          then wait {minutes(step.waits)}
          {runsBeside(context, step) && ', beside the next steps'}
        </>
      )}
      {timer !== null && runs && <>{left} to run</>}
      {timer !== null && !runs && <b>The wait has run.</b>}
    </p>
  );
}

/** At the item that is looked at because a test failed: what was seen, as the suspects offer it. */
function Look({ model, item, state }: { model: Model; item: string; state: RunState }) {
  const seen = state.looks.findLast((l) => l.item === item);
  if (seen)
    return (
      <p className="mt-3 text-xl font-semibold">
        {seen.found === null ? '✓ Looked at: it is sound' : `✓ Looked at: ${spoken.causes[seen.found]}. Put it right.`}
      </p>
    );
  return (
    <div className="mt-3 grid gap-2">
      <p className="text-xl font-semibold">What do you see?</p>
      <LookAnswers model={model} item={item} large />
    </div>
  );
}

/** What has failed so far: it looks failed, and can be tried again here. */
function Failed({ of, state, name }: { of: string[]; state: RunState; name: (id: string) => string }) {
  const failed = of.filter((id) => state.tests.get(id)?.outcome === 'fail');
  if (failed.length === 0) return null;
  return (
    <ul className="mt-3 grid gap-2" aria-label="Failed">
      {failed.map((id) => (
        <li key={id} className="flex flex-wrap items-center gap-3 border-l-8 border-crimson pl-3 text-xl">
          <b className="text-crimson">✗ {name(id)}</b>
          <span>failed: {state.tests.get(id)!.reason}</span>
          <Retest of={id} />
        </li>
      ))}
      <li>
        <SuspectsLink />
      </li>
    </ul>
  );
}

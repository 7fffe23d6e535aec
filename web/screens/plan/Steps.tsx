import { useMemo } from 'react';
import { Link } from 'react-router';
import { chainOf, stepItemName, type Plan, type Step } from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { TradeMark } from '../../drawing/marks.tsx';
import { tradeOf } from '../../trade.ts';
import { explain, explainAll, tellAction, tellAll, toolName, spoken } from '../../../words/index.ts';

function because(model: Model, step: Step, most = 3): string {
  const told = explainAll(model, step.because);
  const shown = told.slice(0, most);
  const more = told.length - shown.length;
  return shown.join('; ') + (more > 0 ? `; and ${more} more` : '');
}

export function StepList({
  plan,
  model,
  chosen,
  setChosen,
  done,
}: {
  plan: Plan;
  model: Model;
  chosen: number | null;
  setChosen: (n: number) => void;
  done: ReadonlyMap<string, string>;
}) {
  return (
    <ol>
      {plan.steps.map((s, i) => (
        <li key={s.n}>
          {(i === 0 || plan.steps[i - 1]!.phase !== s.phase) && (
            <h3 className="px-3 pt-3 pb-1 text-sm font-semibold tracking-wide text-quiet">{spoken.phases[s.phase]}</h3>
          )}
          <button
            type="button"
            onClick={() => setChosen(s.n)}
            onMouseEnter={() => setChosen(s.n)}
            onFocus={() => setChosen(s.n)}
            aria-current={chosen === s.n ? 'step' : undefined}
            className={
              `grid min-h-12 w-full grid-cols-[2.2rem_1.6rem_minmax(0,1fr)_auto] items-center gap-2 rounded-lg ` +
              `px-2 py-1 text-left ${chosen === s.n ? 'bg-sunk' : ''} ${done.has(s.id) ? 'text-quiet' : ''}`
            }
          >
            <span className="num text-right text-sm text-quiet">{s.n}</span>
            <svg viewBox="-12 -12 24 24" className="size-6" aria-hidden="true">
              <TradeMark trade={tradeOf(s)} x={0} y={0} r={7} />
            </svg>
            <span className="min-w-0">
              <span className="block truncate">
                <b>{s.gate ? `Gate ${s.gate}` : spoken.verbs[s.do]}</b>{' '}
                {s.do === 'gate' ? tellAll(model, s.hint) : s.items.map((id) => stepItemName(model, s, id)).join(', ')}
              </span>
              <span className="block truncate text-sm text-quiet">{because(model, s, 2)}</span>
            </span>
            <span className="text-right text-sm whitespace-nowrap text-quiet">
              <span className="num block">
                {minutes(s.seconds)}
                {s.waits > 0 && <b className="text-ember"> + {minutes(s.waits)}</b>}
              </span>
              {s.cautions.length > 0 && (
                <span className="font-semibold text-crimson">
                  <span aria-hidden="true">▲ </span>
                  {s.cautions.map((c) => spoken.cautionNames[c]).join(', ')}
                </span>
              )}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

export function StepDetail({ step, model, plan, job }: { step: Step; model: Model; plan: Plan; job: string }) {
  const chain = useMemo(() => chainOf(model, plan, step), [model, plan, step]);
  return (
    <div className="grid gap-2">
      <p className="text-lg leading-tight font-bold">
        {step.n}. {step.gate ? `Gate ${step.gate}` : spoken.verbs[step.do]}{' '}
        <span className="font-normal">
          {step.items
            .slice(0, 6)
            .map((id) => stepItemName(model, step, id))
            .join(', ')}
          {step.items.length > 6 && ` and ${step.items.length - 6} more`}
        </span>
      </p>
      <p>
        <span className="text-quiet">With</span> {toolName(step.tool)}
        {step.live && step.phase !== 'prove' && <b className="text-crimson"> ⚡ live</b>}
      </p>
      {chain.length > 1 ? (
        <div>
          <p className="text-quiet">Because</p>
          <ol aria-label="Why this step" className="border-l-2 border-petrol pl-3">
            {chain.map((link, i) => (
              <li key={link.action.key}>
                {i === 0 ? (
                  <>to {tellAction(model, link.action)}</>
                ) : (
                  <>
                    {tellAction(model, link.action)}:{' '}
                    <span className="text-quiet">{link.because && explain(model, link.because)}</span>
                  </>
                )}
              </li>
            ))}
          </ol>
        </div>
      ) : (
        <p>
          <span className="text-quiet">Because</span> {because(model, step, 4)}
        </p>
      )}
      {step.waitsFor.length > 0 && <p className="text-ember">Waits for step {step.waitsFor.join(' and ')}</p>}
      {step.hint.length > 0 && <p>{tellAll(model, step.hint)}</p>}
      {(step.do === 'heat' || step.do === 'gap' || step.do === 'cut') && (
        <Link
          className="underline"
          to={`/jobs/${job}/opening?bond=${step.items[0]}&view=${step.do === 'heat' ? 'heat' : 'depth'}`}
        >
          {step.do === 'heat' ? 'See how hot it gets' : 'See how deep it goes'}
        </Link>
      )}
      {step.mirrors && (
        <p className="text-quiet">
          Level with step <span className="num">{step.mirrors}</span>
        </p>
      )}
      {step.cautions.map((c) => (
        <CautionLine key={c} caution={c} />
      ))}
    </div>
  );
}

import { consumablesOf, type Plan } from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { isOver, lossesToAgree, type RunState } from '../../../core/run/index.ts';
import { Consent, Given } from './Consent.tsx';
import { nameOfLoss, sentence, tell, toolName } from '../../../words/index.ts';

export function Losses({ plan, model, state, job }: { plan: Plan; model: Model; state: RunState; job: string }) {
  return (
    <section aria-labelledby="losses" className="panel p-5">
      <h2 id="losses" className="mb-2 text-xl font-semibold">
        What will be lost
      </h2>
      {plan.losses.length === 0 ? (
        <p>Nothing: no pairing is broken and no seal is given up.</p>
      ) : (
        <>
          <ul className="grid gap-2">
            {plan.losses.map((l, i) => (
              <li key={i}>
                <b>{nameOfLoss(model, l.function)}</b>: {tell(model, l.because)}.{' '}
                <span className="text-quiet">{tell(model, l.remedy)}</span>
              </li>
            ))}
          </ul>
          {lossesToAgree(state).length === 0 || isOver(state) ? (
            <Given state={state} />
          ) : (
            <Consent state={state} job={job} />
          )}
        </>
      )}
    </section>
  );
}

export function Ready({ plan, model }: { plan: Plan; model: Model }) {
  const tools = [...new Set(plan.steps.flatMap((s) => (s.tool ? [s.tool] : [])))];
  const spares = plan.replace.map(
    (id) => model.anatomy.spares.find((s) => s.replaces === id && plan.spares.includes(s.id))?.name ?? model.nameOf(id),
  );
  const renew = plan.renew.filter((id) => !plan.replace.includes(id)).map((id) => model.nameOf(id));
  const rows: [string, string[]][] = [
    ['Spares', spares],
    ['Moved to the spare', plan.transfers.map((t) => model.nameOf(t.part))],
    ['Renewed', renew],
    ['Tape and glue', consumablesOf(model, plan).map((c) => `${model.nameOf(c.bond)}: ${tell(model, c.what)}`)],
    ['Tools', tools.map((t) => toolName(t))],
  ];
  return (
    <section aria-labelledby="ready" className="panel p-5">
      <h2 id="ready" className="mb-2 text-xl font-semibold">
        Have ready
      </h2>
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
        {rows
          .filter(([, items]) => items.length > 0)
          .map(([label, items]) => (
            <div key={label} className="contents">
              <dt className="text-quiet">{label}</dt>
              <dd>{items.join(', ')}</dd>
            </div>
          ))}
      </dl>
    </section>
  );
}

/** What the shop lacks, and what that has changed. */
export function Advice({ plan, model }: { plan: Plan; model: Model }) {
  if (plan.missingTools.length + plan.changes.length === 0) return null;
  return (
    <section aria-label="Tools the shop lacks" className="panel border-l-8 border-ember p-5">
      {plan.missingTools.length > 0 && (
        <p className="font-semibold text-ember">
          Needed and not at hand: {plan.missingTools.map((id) => toolName(id)).join(', ')}.
        </p>
      )}
      {plan.changes.map((change) => (
        <p key={JSON.stringify(change)}>{sentence(tell(model, change))}.</p>
      ))}
    </section>
  );
}

import { useMemo } from 'react';
import { Link, useParams } from 'react-router';
import { modelOf, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import { DEFAULT_RULES, type HouseRules, type Plan } from '../../../core/dive/index.ts';
import type { RuleSet } from '../../../core/jobs/index.ts';
import { BONDS } from '../../../core/kinds/index.ts';
import { underCell } from '../../../core/opening/index.ts';
import { sentence, tell } from '../../../words/index.ts';
import { Loading, ProblemNote } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { DepthView } from './DepthView.tsx';
import { HeatView } from './HeatView.tsx';
import { useQuery } from '../../state/here.ts';

/** Bonds that are opened with heat or a pick. */
const opened = (model: Model) =>
  model.anatomy.bonds.filter(({ kind }) => {
    const { sticks, seals } = BONDS.of(kind);
    return sticks || seals;
  });

/** The bonds of a dive that are opened: those the dive takes first. */
function bondsOf(model: Model, plan: Plan | null): string[] {
  const inDive = plan
    ? [...new Set(plan.steps.filter((s) => s.do === 'heat' || s.do === 'cut').flatMap((s) => s.items))]
    : [];
  return [
    ...inDive,
    ...opened(model)
      .map((b) => b.id)
      .filter((id) => !inDive.includes(id)),
  ];
}

function OpeningOf({
  model,
  plan,
  rules,
  cracked,
}: {
  model: Model;
  plan: Plan | null;
  rules: HouseRules;
  cracked: boolean;
}) {
  const [query, setQuery] = useQuery();
  const bonds = bondsOf(model, plan);
  const asked = query.get('bond');
  const bond = asked && bonds.includes(asked) ? asked : bonds[0];
  if (!bond)
    return <p className="panel p-8 text-lg">Nothing on this device is bonded: it opens without heat or a pick.</p>;
  const soft = model.bonds.get(bond)!.softensAt;
  const depth = query.get('view') === 'depth' || soft === null;
  const how = depth ? underCell(model, model.bonds.get(bond)!) : null;
  const go = (next: { bond?: string; view?: string }) =>
    setQuery({ bond, view: depth ? 'depth' : 'heat', ...next }, { replace: true });
  const tab = (on: boolean) =>
    `min-h-12 border-b-4 px-4 text-lg font-semibold ${on ? 'border-petrol text-ink' : 'border-transparent text-quiet'}`;
  const step = plan?.steps.find((s) => s.do === 'heat' && s.items.includes(bond));
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <label className="w-full max-w-xl">
          <span className="label">Bond</span>
          <select className="field" value={bond} onChange={(e) => go({ bond: e.target.value })}>
            {bonds.map((id) => {
              const at = model.bonds.get(id)!.softensAt;
              return (
                <option key={id} value={id}>
                  {model.nameOf(id)} ({id}){at === null ? '' : `, softens at ${at} °C`}
                </option>
              );
            })}
          </select>
        </label>
        <div role="tablist" aria-label="Heat or depth" className="flex">
          <button
            type="button"
            role="tab"
            aria-selected={!depth}
            disabled={soft === null}
            title={soft === null ? 'This bond does not soften with heat' : undefined}
            className={tab(!depth)}
            onClick={() => go({ view: 'heat' })}
          >
            How hot, how long
          </button>
          <button
            type="button"
            role="tab"
            aria-selected={depth}
            className={tab(depth)}
            onClick={() => go({ view: 'depth' })}
          >
            How deep
          </button>
        </div>
      </div>
      {how ? (
        <section className="panel grid gap-3 p-5" aria-label="How it is released" data-testid="under-cell">
          <h2 className="text-xl font-semibold">Not cut, and not marked</h2>
          <p className="max-w-[60ch] text-lg">{sentence(tell(model, how))}.</p>
          <CautionLine caution="lithium" large />
        </section>
      ) : depth ? (
        <DepthView key={bond} model={model} bond={bond} rules={rules} crackedGlass={cracked} />
      ) : (
        <HeatView
          key={bond}
          model={model}
          bond={bond}
          rules={rules}
          solvent={step?.heat?.solvent ?? false}
          setting={step?.heat ?? null}
        />
      )}
    </div>
  );
}

/** The opening of one job's device, under the rules of its dive. */
export function JobOpening() {
  const { job, context } = useRunOf('job', 'context');
  if (!job?.plan || !context)
    return <p className="panel p-8">This job has no dive. Take the device in again and choose the parts to replace.</p>;
  return (
    <OpeningOf
      model={context.model}
      plan={job.plan}
      rules={{ ...DEFAULT_RULES, ...job.plan.rules }}
      cracked={job.crackedGlass}
    />
  );
}

/** The opening of a device by itself, under the rules in use. */
export function AnatomyOpening() {
  const id = useParams().anatomy!;
  const { data, problem } = useLoad<{ anatomy: Anatomy }>(`/anatomies/${id}`);
  const { data: sets } = useLoad<RuleSet[]>('/rules');
  const model = useMemo(() => (data ? modelOf(data.anatomy) : null), [data]);
  const rules = sets?.find((s) => s.chosen)?.rules;
  if (!model || !rules) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the anatomy" />;
  return (
    <div className="mx-auto max-w-7xl">
      <h1 className="mb-3 text-3xl font-bold">
        <Link to={`/anatomies/${id}`} className="no-underline">
          {model.anatomy.maker} {model.anatomy.name}
        </Link>
        : opening
      </h1>
      <OpeningOf model={model} plan={null} rules={rules} cracked={false} />
    </div>
  );
}

import { useEffect, useRef, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { recipeHint, type HeatSetting, type HouseRules } from '../../../core/dive/index.ts';
import type { NoRecipe, Recipe } from '../../../core/heat/index.ts';
import { clock, minutes } from '../../../core/units/index.ts';
import { Button, ProblemNote, Progress } from '../../controls/index.tsx';
import { messageOf } from '../../state/api.ts';
import { recipeInWorker } from '../../workers/heat.ts';
import { reckonable, type Asked } from './asked.ts';
import { tell, spoken } from '../../../words/index.ts';

/** The quickest heating that keeps every limit, found when it is asked for. */
export function RecipeCard({
  model,
  bond,
  asked,
  stands,
  rules,
  take,
}: {
  model: Model;
  bond: string;
  asked: Asked;
  /** How the device stands by then, by the plan of the job. */
  stands: Pick<HeatSetting, 'on' | 'off'> | null;
  rules: HouseRules;
  take: (r: Recipe) => void;
}) {
  const [found, setFound] = useState<{ recipe: Recipe | NoRecipe; others: Recipe[] } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const cancel = useRef<() => void>(() => {});
  const { source, room, solvent } = asked;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another source, room or bond asks anew
  useEffect(() => {
    if (asked.recipe) return;
    setFound(null);
    setShare(null);
    return () => cancel.current();
  }, [bond, source, room, solvent, asked.face, asked.own]);
  const search = () => {
    setShare(0);
    setProblem(null);
    const job = recipeInWorker(
      model.anatomy,
      bond,
      {
        source,
        own: { ...rules.sources, [source]: asked.own },
        hottest: rules.hottest,
        room,
        solvent,
        face: asked.face ?? stands?.on,
        off: stands?.off,
      },
      setShare,
    );
    cancel.current = job.cancel;
    job.result
      .then(
        (told) => ('refused' in told ? setProblem(told.refused) : setFound(told.ok)),
        (error) => setProblem(messageOf(error)),
      )
      .finally(() => setShare(null));
  };
  const line = (r: Recipe) => (
    <li
      key={`${r.source}${r.solvent}${r.passes}`}
      className="flex flex-wrap items-center justify-between gap-3 border-t border-line py-1"
    >
      <span>
        <b>{tell(model, recipeHint(r))}</b>{' '}
        <span className="text-quiet">
          {minutes(r.seconds)} in all, stays {clock(r.staysSoft)}, reheat {clock(r.reheat)}
          {r.band.peaks.cell !== undefined &&
            `, cell up to ${r.peaks.cell!.toFixed(0)} °C (${r.band.peaks.cell.map((t) => t.toFixed(0)).join(' to ')} by contact and air)`}
        </span>
      </span>
      <Button onClick={() => take(r)}>Use it</Button>
    </li>
  );
  return (
    <section aria-label="Recipe" className="panel p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-semibold">Quickest that keeps every limit</h2>
        {share === null && (
          <Button weight="main" disabled={!Number.isFinite(room) || !reckonable(asked)} onClick={search}>
            {found ? 'Search again' : 'Find it'}
          </Button>
        )}
      </div>
      {share !== null && (
        <Progress
          share={share}
          label="Recipes tried"
          stop={() => {
            cancel.current();
            setShare(null);
          }}
        />
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {found?.recipe.ok && (
        <ul className="mt-2" data-testid="recipe">
          {line(found.recipe)}
        </ul>
      )}
      {found && !found.recipe.ok && (
        <div className="mt-2" data-testid="recipe">
          <p className="font-semibold text-crimson">
            ✕ None with the {spoken.sources[found.recipe.source]}: {tell(model, found.recipe.reason)}.
          </p>
          <p className="mt-1 text-quiet">
            {found.others.length > 0
              ? 'Instead:'
              : 'Nothing else keeps the limits either: work cold, with solvent and patience.'}
          </p>
          <ul>{found.others.slice(0, 6).map(line)}</ul>
        </div>
      )}
    </section>
  );
}

import { useMemo } from 'react';
import { Link } from 'react-router';
import type { Plan } from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { lookAlikes, trayPlan } from '../../../core/screws/index.ts';
import { buttonClass } from '../../controls/index.tsx';
import { ScrewTray } from '../../drawing/ScrewTray.tsx';

/** Before the first screw comes out: which of them are taken for each other, and where each goes. */
export function ScrewsOfDive({ plan, model, job }: { plan: Plan; model: Model; job: string }) {
  const size = useMemo(
    () => ({ rows: plan.rules.trayRows, columns: plan.rules.trayColumns, trays: plan.rules.trays }),
    [plan],
  );
  const tray = useMemo(() => trayPlan(model, plan, size), [model, plan, size]);
  const worst = useMemo(() => {
    const letters = new Set(tray.lots.map((l) => l.letter));
    return lookAlikes(model).filter(({ a, b }) => letters.has(a) && letters.has(b));
  }, [model, tray]);
  if (tray.lots.length === 0) return null;
  return (
    <section aria-labelledby="dive-screws" className="panel grid gap-3 p-5">
      <h2 id="dive-screws" className="text-xl font-semibold">
        Screws of this dive
      </h2>
      {worst.length === 0 ? (
        <p>Whatever looks alike here fits alike.</p>
      ) : (
        <ul className="grid gap-1">
          {worst.slice(0, 6).map(({ a, b, dangers }) => (
            <li key={`${a}${b}`}>
              <b>
                {a} / {b}
              </b>{' '}
              look alike: {dangers[0]!.screw} at {dangers[0]!.at} is{' '}
              <span className="text-crimson">{dangers[0]!.worst.text}</span>
            </li>
          ))}
          {worst.length > 6 && <li className="text-quiet">and {worst.length - 6} more pairs</li>}
        </ul>
      )}
      {plan.rules.screws === 'wells' ? (
        <>
          <ScrewTray plan={tray} size={size} model={model} />
          <p className="text-sm text-quiet">
            {tray.proved
              ? 'Proved: no tray plan is better.'
              : `Objective ${tray.cost}, no plan is below ${tray.lowerBound}.`}{' '}
            Harmful look-alikes never share a well nor lie side by side{tray.conflicts.length > 0 ? ', but for:' : '.'}
          </p>
          {tray.conflicts.map((c) => (
            <p key={c} className="text-crimson">
              ▲ {c}
            </p>
          ))}
        </>
      ) : (
        <p>
          {plan.rules.screws === 'map'
            ? 'Each screw lies on its place on the map.'
            : 'Each screw lies on its place on the magnetic mat.'}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <a className={buttonClass()} href={`/api/screws/map/${model.anatomy.id}.pdf?paper=A4&job=${job}`} download>
          Screw map 1:1, A4
        </a>
        <a className={buttonClass()} href={`/api/screws/map/${model.anatomy.id}.pdf?paper=Letter&job=${job}`} download>
          Letter
        </a>
        <Link className={buttonClass('quiet')} to={`/anatomies/${model.anatomy.id}/screws`}>
          All screws
        </Link>
      </div>
    </section>
  );
}

import type { Plan } from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';

/** Old and new assembly beside each other: what moves across, and what the spare brings. */
export function SideBySide({ plan, model }: { plan: Plan; model: Model }) {
  const spares = plan.spares
    .map((id) => model.anatomy.spares.find((s) => s.id === id)!)
    .filter((s) => plan.transfers.some((t) => t.from === s.replaces));
  if (spares.length === 0) return null;
  return (
    <section aria-labelledby="sides" className="panel p-5">
      <h2 id="sides" className="mb-2 text-xl font-semibold">
        Old and new, side by side
      </h2>
      {spares.map((spare) => {
        const moved = plan.transfers.filter((t) => t.from === spare.replaces).map((t) => t.part);
        const steps = plan.steps.filter(
          (s) =>
            s.phase === 'turn' && s.items.some((id) => model.contextOf(id) === spare.replaces || moved.includes(id)),
        );
        return (
          <div key={spare.id} className="grid grid-cols-2 gap-4">
            {(['old', 'new'] as const).map((which) => (
              <div key={which}>
                <p className="mb-1 font-semibold">
                  {which === 'old' ? `Old ${model.nameOf(spare.replaces)}` : spare.name}
                </p>
                <ul>
                  {model.familyOf(spare.replaces).map((part) => {
                    const moves = moved.includes(part);
                    return (
                      <li key={part} className={moves ? 'text-brass' : ''}>
                        {moves ? (which === 'old' ? '→ ' : '← ') : '· '}
                        {model.nameOf(part)}
                        {moves ? (which === 'old' ? ' comes off' : ' goes on') : ''}
                      </li>
                    );
                  })}
                </ul>
              </div>
            ))}
            <p className="col-span-2 text-sm text-quiet">On the mat: steps {steps.map((s) => s.n).join(', ')}</p>
          </div>
        );
      })}
    </section>
  );
}

import type { CraftName } from '../../kinds/index.ts';
import { breaks, type CraftRule } from './moment.ts';

/** R12: the screws of one part with one driver are driven in one go, as far as they can be reached. */
const oneGo: CraftRule = ({ reading, checker, step, after, plan, index }) => {
  if (step.do !== 'unscrew' && step.do !== 'fasten') return null;
  const next = plan.steps[index + 1];
  const first = reading.fasteners.get(step.items[0]!)!;
  const like = (id: string) => {
    const f = reading.fasteners.get(id);
    return (
      f && f.drive === first.drive && f.kind === first.kind && f.face === first.face && sameParts(f.holds, first.holds)
    );
  };
  if (next && next.do === step.do && next.items.some(like)) return null;
  const later = plan.steps.slice(index + 1).flatMap((s) => (s.do === step.do && s.phase === step.phase ? s.items : []));
  const left = later.find(
    (id) => like(id) && (step.do === 'unscrew' ? checker.loosen(after, id) : checker.fasten(after, id)) === null,
  );
  return left ? breaks('R12', left, { code: 'left-for-later', item: left }) : null;
};

function sameParts(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((id) => b.includes(id));
}

/** R19: the first part of the outside that moves takes the rating of the device with it, and the plan says so. */
const ratingTold: CraftRule = ({ reading, document, checker, step, plan }) => {
  if (!document.body.ingress || step.phase !== 'descent' || !['ease', 'swing', 'lift'].includes(step.do)) return null;
  if (plan.losses.some((l) => l.function === 'moisture-rating')) return null;
  const opened = step.items.find((id) => reading.parts.has(id) && checker.layers.outside(id));
  return opened ? breaks('R19', opened, { code: 'rating-untold', item: opened, ingress: document.body.ingress }) : null;
};

/** By their names. */
export const OF_PLACES = {
  R12: oneGo,
  R19: ratingTold,
} satisfies Partial<Record<CraftName, CraftRule>>;

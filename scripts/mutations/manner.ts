import type { Anatomy, Point } from '../../core/anatomy/index.ts';
import { givesUp, type Plan, type Step } from '../../core/dive/index.ts';
import { far, length } from './hands.ts';

/*
 * The manner of a practised hand, over many plans: habits that one device or another does not allow, so that no single plan can be
 * blamed for them. Each is counted where it could be kept and where it was.
 */

/** Habits, and the least share of times that each is kept. Origin: own choice, a little under what the planner comes to. */
const HABITS = {
  'the screws of a part are driven before flexes are pressed onto it': 0.95,
  'the screws of a part are out before its seam is cut': 0.9,
  'the flexes of a part are open before its screws are out': 0.91,
  'flexes are opened in the reverse of their mating order': 0.9,
  'a part is pressed into its bonds and catches as soon as it lies': 0.95,
  'what an order keeps waiting is not unscrewed before': 0.95,
  'the hand goes by a short way': 0.9,
  'what makes ready comes before hands go in': 0.97,
  'what lies farther out is worked sooner': 0.85,
  'work on the mat comes after the way in': 0.78,
} as const;
type Habit = keyof typeof HABITS;

function shortest(points: readonly Point[]): number {
  if (points.length < 3) return length(points);
  const best = (at: Point, left: readonly Point[]): number =>
    left.length === 0 ? 0 : Math.min(...left.map((p, k) => far(at, p) + best(p, left.toSpliced(k, 1))));
  return Math.min(...points.map((p, k) => best(p, points.toSpliced(k, 1))));
}

export class Manner {
  private readonly counts = new Map<Habit, { kept: number; all: number }>();

  private count(habit: Habit, kept: boolean): void {
    const c = this.counts.get(habit) ?? { kept: 0, all: 0 };
    this.counts.set(habit, { kept: c.kept + Number(kept), all: c.all + 1 });
  }

  note(anatomy: Anatomy, plan: Plan): void {
    if (givesUp(plan)) return;
    const { steps } = plan;
    const nth = (phase: Step['phase'], verbs: readonly Step['do'][], id: string) =>
      steps.findIndex((s) => s.phase === phase && verbs.includes(s.do) && s.items.includes(id));
    const within = (id: string, whole: string): boolean => {
      for (let at: string | null = id; at; at = anatomy.parts.find((p) => p.id === at)!.within)
        if (at === whole) return true;
      return false;
    };
    const tether = (part: string, plug: string) =>
      anatomy.parts.find((p) => p.id === part)!.swing?.tether.includes(plug) ?? false;
    const layer = (id: string | undefined): number | null => {
      const part = anatomy.parts.find((p) => p.id === id);
      const screw = anatomy.fasteners.find((f) => f.id === id);
      const whole = part ?? anatomy.parts.find((p) => p.id === screw?.holds[0]);
      return whole && whole.within === null && whole.face !== 'edge' ? whole.layer : null;
    };
    for (const c of anatomy.connectors) {
      const [opened, mated] = [nth('descent', ['disconnect'], c.id), nth('ascent', ['connect'], c.id)];
      for (const f of anatomy.fasteners) {
        const own = f.holds.some((p) => p === c.from || p === c.to) && !f.holds.some((p) => tether(p, c.id));
        const [out, driven] = [nth('descent', ['unscrew'], f.id), nth('ascent', ['fasten'], f.id)];
        if (own && mated >= 0 && driven >= 0 && f.face !== 'edge')
          this.count('the screws of a part are driven before flexes are pressed onto it', driven < mated);
        const held = (end: string) => f.holds.some((p) => within(end, p));
        if (opened >= 0 && out >= 0 && held(c.from) !== held(c.to))
          this.count('the flexes of a part are open before its screws are out', opened < out);
      }
    }
    for (const b of anatomy.bonds) {
      const cut = nth('descent', ['cut', 'pull', 'release'], b.id);
      for (const f of anatomy.fasteners) {
        const out = nth('descent', ['unscrew'], f.id);
        if (cut >= 0 && out >= 0 && f.holds.some((p) => b.joins.includes(p)))
          this.count('the screws of a part are out before its seam is cut', out < cut);
      }
    }
    for (const list of anatomy.mateOrder)
      for (let k = 0; k + 1 < list.length; k++) {
        const [sooner, later] = [
          nth('descent', ['disconnect'], list[k + 1]!),
          nth('descent', ['disconnect'], list[k]!),
        ];
        if (sooner >= 0 && later >= 0)
          this.count('flexes are opened in the reverse of their mating order', sooner <= later);
      }
    const joints = [...anatomy.bonds, ...anatomy.latches];
    for (const [i, s] of steps.entries()) {
      if (s.do !== 'fit' || s.phase !== 'ascent') continue;
      const own = joints.filter((j) => j.joins.some((p) => s.items.includes(p))).map((j) => j.id);
      const presses = (o: Step) => (o.do === 'press' || o.do === 'cure') && o.items.some((id) => own.includes(id));
      const later = steps.slice(i + 1);
      const until = later.findIndex((o) => o.do === 'fit');
      if (later.slice(0, until < 0 ? later.length : until).some(presses))
        this.count('a part is pressed into its bonds and catches as soon as it lies', presses(steps[i + 1]!));
    }
    for (const { first, then } of anatomy.orders) {
      const off = nth('descent', ['lift'], first);
      for (const f of anatomy.fasteners) {
        const out = nth('descent', ['unscrew'], f.id);
        if (off >= 0 && out >= 0 && f.holds.includes(then))
          this.count('what an order keeps waiting is not unscrewed before', off < out);
      }
    }
    this.noteWay(anatomy, steps);
    const inside = steps.findIndex((s) => s.phase === 'descent');
    const back = steps.findIndex((s) => s.phase === 'ascent');
    for (const [i, s] of steps.entries()) {
      if (s.phase === 'prepare') this.count('what makes ready comes before hands go in', i < inside);
      if (s.phase === 'turn')
        this.count(
          'work on the mat comes after the way in',
          i < back && !steps.slice(i).some((o) => o.phase === 'descent'),
        );
      const next = steps[i + 1];
      if (s.phase !== 'descent' || next?.phase !== 'descent') continue;
      const [own, other] = [layer(s.items[0]), layer(next.items[0])];
      if (own !== null && other !== null && own !== other)
        this.count('what lies farther out is worked sooner', own < other);
    }
  }

  /** Steps of one verb and tool that follow one another, by the places of their first items. */
  private noteWay(anatomy: Anatomy, steps: readonly Step[]): void {
    const at = (id: string): Point | null =>
      anatomy.fasteners.find((f) => f.id === id)?.at ?? anatomy.connectors.find((c) => c.id === id)?.at ?? null;
    for (let i = 0; i < steps.length; ) {
      let to = i + 1;
      while (
        to < steps.length &&
        steps[to]!.do === steps[i]!.do &&
        steps[to]!.tool === steps[i]!.tool &&
        steps[to]!.face === steps[i]!.face
      )
        to++;
      const places = steps
        .slice(i, to)
        .map((s) => at(s.items[0]!))
        .filter((p) => p !== null);
      if (places.length >= 3 && places.length <= 7)
        this.count('the hand goes by a short way', length(places) <= 1.6 * shortest(places) + 5);
      i = to;
    }
  }

  told(): Record<string, string> {
    return Object.fromEntries([...this.counts].map(([habit, { kept, all }]) => [habit, `${kept} of ${all}`]));
  }

  /** The first habit that is kept too seldom, or `null`. */
  amiss(): string | null {
    for (const [habit, { kept, all }] of this.counts)
      if (kept < HABITS[habit] * all) return `${habit}: ${kept} of ${all}`;
    return null;
  }
}

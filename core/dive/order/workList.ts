import type { Lag, Problem, Task } from '../../schedule/index.ts';
import type { Draft } from '../entry/descent.ts';
import type { HouseRules } from '../house/rules.ts';

/** Drafts that are done in one go, as the scheduler sees them. */
export interface Work {
  drafts: Draft[];
  before: Set<number>;
  face: 'front' | 'back' | 'edge';
  onDevice: boolean;
  opens: boolean;
  closes: boolean;
  rank: number;
  /** Drawn up again once the order is known: gates and tests depend on it. */
  bundle: number | null;
}

/** The work of a dive with what must come before what. */
export class WorkList {
  readonly works: Work[] = [];
  readonly lags: Lag[] = [];

  constructor(private readonly rules: HouseRules) {}

  add(drafts: Draft[], rest: Partial<Omit<Work, 'drafts' | 'before'>> & { before?: Iterable<number> } = {}): number {
    this.works.push({
      drafts,
      face: 'edge',
      onDevice: true,
      opens: false,
      closes: false,
      rank: 0,
      bundle: null,
      ...rest,
      before: new Set(rest.before ?? []),
    });
    return this.works.length - 1;
  }

  /** `to` begins when the waits of `from` have run. */
  lag(from: number, to: number): void {
    const { drafts } = this.works[from]!;
    const last = drafts.at(-1);
    const least = Math.max(0, ...drafts.map((d) => d.waits));
    const heat = last?.do === 'heat';
    const workable = last?.heat?.staysSoft ?? this.rules.workable;
    this.lags.push({
      from,
      to,
      least,
      most: heat ? least + workable : null,
      redo: heat ? (last.heat?.reheat ?? this.rules.reheat) : 0,
    });
  }

  /**
   * Adds drafts one after another, cut behind each wait so that other work may fill it.
   * @returns the first and the last of the works made
   */
  addInSeries(drafts: Draft[], rest: Partial<Omit<Work, 'drafts'>>): { first: number; last: number } {
    const pieces: Draft[][] = [[]];
    for (const draft of drafts) {
      pieces.at(-1)!.push(draft);
      if (draft.waits > 0 && draft !== drafts.at(-1)) pieces.push([]);
    }
    const indices = pieces.map((piece, k) =>
      this.add(piece, {
        ...rest,
        before: k === 0 ? (rest.before ?? []) : [],
        opens: k === pieces.length - 1 && (rest.opens ?? false),
        closes: k === pieces.length - 1 && (rest.closes ?? false),
      }),
    );
    for (let k = 0; k + 1 < indices.length; k++) this.lag(indices[k]!, indices[k + 1]!);
    return { first: indices[0]!, last: indices.at(-1)! };
  }

  problem(start: { face: 'front' | 'back'; open: number }): Problem {
    return {
      tasks: this.works.map((work): Task => {
        const tools = work.drafts.flatMap((d) => (d.tool === null ? [] : [d.tool]));
        const changes = tools.filter((tool, i) => i > 0 && tool !== tools[i - 1]).length;
        const last = work.drafts.at(-1);
        return {
          before: [...work.before],
          hands: work.drafts.reduce((sum, d) => sum + d.seconds, 0) + changes * this.rules.toolChange,
          firstTool: tools[0] ?? null,
          lastTool: tools.at(-1) ?? null,
          face: work.onDevice ? work.face : 'edge',
          onDevice: work.onDevice,
          holds: last && holdsDevice(last, this.rules) ? Math.max(...work.drafts.map((d) => d.waits)) : 0,
          opens: work.opens,
          closes: work.closes,
          rank: work.rank,
        };
      }),
      lags: this.lags,
      toolChange: this.rules.toolChange,
      turnOver: this.rules.turnOver,
      startFace: start.face,
      startTool: null,
      startOpen: start.open,
    };
  }
}

/** While it waits the device lies on the heat or under the weight, and nothing else can be done on it. */
export function holdsDevice(step: Pick<Draft, 'do' | 'waits'>, rules: HouseRules): boolean {
  if (step.waits === 0) return false;
  return step.do === 'heat' || ((step.do === 'press' || step.do === 'cure') && rules.pressing === 'weight');
}

import { HANDS, type Guard, type Lag, type Problem, type Task } from '../../schedule/index.ts';
import type { Draft } from '../entry/draft.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Pose } from '../types.ts';

/** Drafts that are done in one go, as the scheduler sees them. */
export interface Work {
  drafts: Draft[];
  before: Set<number>;
  face: 'front' | 'back' | 'edge';
  /** How a fold must lie; `null` in a device of one body, or however it lies. */
  pose: Pose | null;
  onDevice: boolean;
  /** The next work on the device, or `null`. */
  then: number | null;
  /** Where the hand works, mm; `null` is anywhere. */
  at: readonly [number, number] | null;
  rank: number;
  /** The bundle of the way back that it is drawn up from, again once the order is known: gates and tests depend on it. */
  bundle: number | null;
}

/** Work that is looked at or said rather than done with the hands: what is in hand stays there. */
const NEUTRAL: ReadonlySet<Draft['do']> = new Set([
  'discharge',
  'power-off',
  'photo',
  'inspect',
  'turn-over',
  'power-on',
  'test',
  'gate',
  'confirm-loss',
]);

/** What a step is done with: its tool, bare hands, or `null` where what is in hand may stay there. */
export function heldFor(step: Pick<Draft, 'tool' | 'do'>): string | null {
  return step.tool ?? (NEUTRAL.has(step.do) ? null : HANDS);
}

/** R12: taking up another tool costs a change, also where hands came between; putting one down costs nothing. */
export function takesUp(tool: string | null, held: string | null): boolean {
  return tool !== null && tool !== HANDS && tool !== held;
}

/** The work of a dive with what must come before what. */
export class WorkList {
  readonly works: Work[] = [];
  readonly lags: Lag[] = [];
  readonly guards: Guard[] = [];
  /** The work that each work has to follow at once. */
  private readonly leads = new Map<number, number>();
  /** The works that each work waits out, as the lags say. */
  private readonly waitedOut = new Map<number, number[]>();

  /** @param heatsBeside whether the device may be heated while a part hangs open (R6) */
  constructor(
    private readonly rules: HouseRules,
    private readonly heatsBeside = false,
  ) {}

  add(drafts: Draft[], rest: Partial<Omit<Work, 'drafts' | 'before'>> & { before?: Iterable<number> } = {}): number {
    this.works.push({
      drafts,
      face: 'edge',
      pose: null,
      onDevice: true,
      then: null,
      at: null,
      rank: 0,
      bundle: null,
      ...rest,
      before: new Set(rest.before ?? []),
    });
    return this.works.length - 1;
  }

  order(first: number, then: number): void {
    if (first !== then) this.works[then]!.before.add(first);
  }

  /** Puts one work before another unless that cannot be; says whether it could. */
  prefer(first: number, then: number): boolean {
    if (first === then) return false;
    // What has to follow at once is done in one go: one chain cannot come both before and after another.
    const [before, after] = [this.chainOf(first), this.chainOf(then)];
    const apart = !before.includes(then);
    const against = apart ? after.some((b) => before.some((a) => this.precedes(b, a))) : this.precedes(then, first);
    if (against) return false;
    this.works[then]!.before.add(first);
    return true;
  }

  /** The works that have to follow one another at once, this one among them. */
  private chainOf(work: number): number[] {
    const chain = [this.leadsTo(work)];
    for (let at = this.works[chain[0]!]!.then; at !== null; at = this.works[at]!.then) chain.push(at);
    return chain;
  }

  /** Must `first` be done before `then`? */
  precedes(first: number, then: number): boolean {
    const seen = new Set<number>();
    const stack = [then];
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      if (at === first) return true;
      if (seen.has(at)) continue;
      seen.add(at);
      stack.push(...this.works[at]!.before);
      stack.push(...(this.waitedOut.get(at) ?? []));
    }
    return false;
  }

  /**
   * `then` is the next work on the device after `first`, and with it after all that follow one another at once up to
   * `first`, unless something that it waits for waits for one of these.
   */
  follow(first: number, then: number): boolean {
    if (first === then || this.works[first]!.then !== null || this.leads.has(then)) return false;
    if (this.precedes(then, first)) return false;
    const lead = this.leadsTo(first);
    const sooner = [...this.works[then]!.before].filter((i) => this.works[i]!.onDevice && this.leadsTo(i) !== lead);
    if (sooner.some((i) => this.precedes(lead, i))) return false;
    for (const i of sooner) this.order(i, lead);
    this.order(first, then);
    this.works[first]!.then = then;
    this.leads.set(then, first);
    return true;
  }

  /** The first of the works that have to follow one another at once up to this one. */
  leadsTo(work: number): number {
    let at = work;
    for (let sooner = this.leads.get(at); sooner !== undefined; sooner = this.leads.get(at)) at = sooner;
    return at;
  }

  /** `to` begins when the waits of `from` have run; what was heated is gone on with at once (R6). */
  lag(from: number, to: number): void {
    const { drafts } = this.works[from]!;
    const last = drafts.at(-1);
    const least = Math.max(0, ...drafts.map((d) => d.waits));
    const heat = last?.do === 'heat';
    const workable = last?.heat?.staysSoft ?? this.rules.workable;
    this.waitedOut.set(to, [...(this.waitedOut.get(to) ?? []), from]);
    this.lags.push({
      from,
      to,
      least,
      most: heat ? least + workable : null,
      redo: heat ? (last.heat?.reheat ?? this.rules.reheat) : 0,
    });
    if (heat) this.follow(from, to);
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
    const indices = pieces.map((piece, k) => this.add(piece, { ...rest, before: k === 0 ? (rest.before ?? []) : [] }));
    for (let k = 0; k + 1 < indices.length; k++) this.lag(indices[k]!, indices[k + 1]!);
    return { first: indices[0]!, last: indices.at(-1)! };
  }

  /** @param startFace the face that is up, or how a fold lies */
  problem(startFace: 'front' | 'back' | Pose): Problem {
    return {
      tasks: this.works.map((work) => this.task(work)),
      lags: this.lags,
      guards: this.guards,
      toolChange: this.rules.toolChange,
      turnOver: this.rules.turnOver,
      startFace,
      startTool: null,
    };
  }

  private task(work: Work): Task {
    const tools = work.drafts.map(heldFor).filter((tool) => tool !== null);
    const changes = tools.filter((tool, i) => i > 0 && takesUp(tool, tools[i - 1]!)).length;
    const last = work.drafts.at(-1);
    return {
      before: [...work.before],
      hands: work.drafts.reduce((sum, d) => sum + d.seconds, 0) + changes * this.rules.toolChange,
      firstTool: tools[0] ?? null,
      lastTool: tools.at(-1) ?? null,
      face: work.onDevice ? (work.pose ?? work.face) : 'edge',
      onDevice: work.onDevice,
      holds: last && holdsDevice(last, this.rules) ? Math.max(...work.drafts.map((d) => d.waits)) : 0,
      then: work.then,
      shut: !this.heatsBeside && work.onDevice && work.drafts.some((d) => d.do === 'heat'),
      at: work.onDevice ? work.at : null,
      rank: work.rank,
    };
  }
}

/** While it waits the device lies on the heat or under the weight, and nothing else can be done on it. */
export function holdsDevice(step: Pick<Draft, 'do' | 'waits'>, rules: HouseRules): boolean {
  if (step.waits === 0) return false;
  return step.do === 'heat' || ((step.do === 'press' || step.do === 'cure') && rules.pressing === 'weight');
}

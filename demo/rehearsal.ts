import { modelOf, type Anatomy, type Model } from '../core/anatomy/index.ts';
import { planDive, type Step } from '../core/dive/index.ts';
import {
  admit,
  foldRun,
  gateBlockers,
  lossesToAgree,
  moveAt,
  runContext,
  type EventBody,
  type RunContext,
  type RunEvent,
  type RunState,
} from '../core/run/index.ts';
import { tinyBond, tinyDevice } from './tiny.ts';

/** A run rehearsed with a clock of its own. */
export class Rehearsal {
  readonly context: RunContext;
  readonly events: RunEvent[] = [];
  now = Date.UTC(2026, 0, 5, 9, 0, 0);

  /** @param device a model, a run that is planned already, or what to change about the tiny device before it is used */
  constructor(
    replace: string | string[] = 'camera',
    device: Model | RunContext | ((a: Anatomy) => void) = (a) => {
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
    },
  ) {
    if ('checker' in device) {
      this.context = device;
      return;
    }
    const model = typeof device === 'function' ? modelOf(tinyDevice(device)) : device;
    this.context = runContext(model, planDive(model, { replace: [replace].flat() }, undefined, { budget: 0 }));
  }
  private known: RunState | null = null;
  get state(): RunState {
    this.known = foldRun(this.context, this.events, this.known);
    return this.known;
  }
  get steps(): readonly Step[] {
    return this.state.context.plan.steps;
  }
  step(verb: string, item?: string): Step {
    return this.steps.find((s) => (s.gate ?? s.do) === verb && (item === undefined || s.items.includes(item)))!;
  }
  add(...bodies: EventBody[]): void {
    for (const body of bodies) {
      this.now += 1000;
      this.events.push({
        id: `00000000-0000-4000-8000-${String(this.events.length).padStart(12, '0')}`,
        job: 'j',
        seq: this.events.length + 1,
        at: new Date(this.now).toISOString(),
        by: 'Ysolde',
        version: this.state.version,
        ...body,
      });
    }
  }
  /** Presses the one key at a step until it is done. */
  do(step: Step): void {
    // The press runs beside the work; at its gate it is waited for.
    if (step.gate === 'G6') this.now += 3600_000;
    const losses = this.state.context.plan.losses.map((l) => l.function);
    if (lossesToAgree(this.state).length > 0)
      this.add({ type: 'losses-agreed', losses, word: 'the customer', said: new Date(this.now).toISOString() });
    for (let tries = 0; !this.state.done.has(step.id); tries++) {
      const move = moveAt(this.state.context, this.state, step, this.now);
      if (move.kind === 'refused')
        throw new Error(`${step.n} ${step.do}: ${move.refusal.rule} ${JSON.stringify(move.refusal.said)}`);
      if (move.kind === 'wait') this.now += move.seconds * 1000;
      else this.add(...move.events);
      if (tries > 200) throw new Error(`step ${step.n} does not end`);
    }
  }
  until(n: number, except: number[] = []): this {
    for (const step of this.steps) if (step.n < n && !except.includes(step.n)) this.do(step);
    return this;
  }
  blockers(step: Step) {
    return gateBlockers(this.state.context, this.state, step, this.now);
  }
  refusal(body: EventBody) {
    return admit(this.state.context, this.state, body, this.now);
  }
}

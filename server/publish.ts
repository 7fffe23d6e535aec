import type { Anatomy } from '../core/anatomy/index.ts';
import { differences, type Difference } from '../core/draft/index.ts';
import type { DiveRequest, Plan } from '../core/dive/index.ts';
import { withWells } from '../core/run/index.ts';
import { Problem } from './problem.ts';
import type { Services } from './services.ts';

/** What becomes of a job when its device gets a new revision. */
export interface JobOutlook {
  id: string;
  number: number;
  customer: string;
  /** moves: planned on the new revision; keeps: its dive has begun, or it cannot be planned there. */
  becomes: 'moves' | 'keeps';
  because: string;
  /** What the customer agreed to stands. */
  holds: boolean;
}

export interface Outlook {
  /** What changed since the newest revision, in words; for a new device, none. */
  changes: Difference[];
  /** The number that the revision will have. */
  revision: number;
  jobs: JobOutlook[];
}

const lossesOf = (plan: Plan): Set<string> => new Set(plan.losses.map((l) => l.function));

/** What publishing a document would do; nothing is changed. */
export async function outlookOf(services: Services, anatomy: Anatomy): Promise<Outlook & { plans: Map<string, Plan> }> {
  const { anatomies, jobs, pool } = services;
  const before = anatomies.has(anatomy.id) ? anatomies.get(anatomy.id) : null;
  const changes = before ? differences(before.anatomy, anatomy) : [];
  const revision = (before?.revision ?? 0) + 1;
  const plans = new Map<string, Plan>();
  const outlook: JobOutlook[] = [];
  for (const { job, state } of before ? jobs.onOlder(anatomy.id, revision) : []) {
    const one = { id: job.id, number: job.number, customer: job.customer };
    const { plan } = job;
    if (state.startedAt) {
      outlook.push({ ...one, becomes: 'keeps', because: 'its dive has begun', holds: true });
      continue;
    }
    if (!plan) {
      outlook.push({
        ...one,
        becomes: 'keeps',
        because: 'it has no plan yet; it is planned on what it has',
        holds: true,
      });
      continue;
    }
    try {
      const request: DiveRequest = { replace: plan.replace, spares: plan.spares, condition: plan.condition };
      const next = await pool.run('plan', { anatomy, request, rules: plan.rules });
      const agreed = new Set(state.agreed?.losses);
      const known = state.agreed ? agreed : lossesOf(plan);
      const more = [...lossesOf(next)].filter((f) => !known.has(f));
      plans.set(job.id, next);
      const because =
        more.length > 0
          ? `it would now lose ${more.join(', ')}: to be agreed anew`
          : 'nothing more is lost than before';
      outlook.push({ ...one, becomes: 'moves', because, holds: more.length === 0 });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      outlook.push({ ...one, becomes: 'keeps', because: `it cannot be planned on it: ${error.message}`, holds: true });
    }
  }
  return { changes, revision, jobs: outlook, plans };
}

/**
 * Publishes a document as a revision, and moves the jobs that wait to it.
 * @throws Problem 422 with every fault; nothing is stored then
 */
export async function publish(services: Services, document: Anatomy, by: string): Promise<Outlook> {
  const { anatomies, jobs, pool } = services;
  const anatomy = await pool.run('checkAnatomy', { text: JSON.stringify(document) });
  const { plans, ...outlook } = await outlookOf(services, anatomy);
  const words = outlook.changes.map((d) => d.text);
  const stored = anatomies.add(anatomy, by, words);
  const model = anatomies.modelOf(anatomy.id, stored.revision);
  for (const one of outlook.jobs) {
    const plan = plans.get(one.id);
    if (!plan) continue;
    const { state } = jobs.stateOf(one.id);
    const because = words.slice(0, 6).join('; ') || 'a new revision';
    const event = {
      type: 'moved',
      revision: stored.revision,
      anatomy,
      plan: withWells(model, plan),
      holds: one.holds,
      because,
    } as const;
    try {
      await jobs.make(one.id, event, by, state.seq);
    } catch (error) {
      // Somebody began it in this moment: it keeps what it has.
      if (!(error instanceof Problem)) throw error;
      Object.assign(one, { becomes: 'keeps', because: error.message });
    }
  }
  return { ...outlook, revision: stored.revision };
}

import { randomUUID } from 'node:crypto';
import type { Anatomy, Fault } from '../core/anatomy/index.ts';
import { differences, type Difference } from '../core/draft/index.ts';
import type { DiveRequest, Plan } from '../core/dive/index.ts';
import { withWells } from '../core/run/index.ts';
import type { Journal, Procedure } from './keeping/journal.ts';
import { Problem } from './problem.ts';
import type { Anatomies } from './anatomies.ts';
import type { Db } from './db/db.ts';
import type { Jobs } from './jobs.ts';
import type { Pool } from './pool.ts';

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

/** What publishing did. */
export interface Published extends Outlook {
  /** What of the sound device cannot be planned yet. */
  warnings: Fault[];
}

const lossesOf = (plan: Plan): Set<string> => new Set(plan.losses.map((l) => l.function));

/** What publishing reaches. */
export interface Publisher {
  db: Db;
  anatomies: Anatomies;
  jobs: Jobs;
  pool: Pool;
  journal: Journal;
}

/** What publishing a document would do; nothing is changed. */
export async function outlookOf(
  services: Pick<Publisher, 'anatomies' | 'jobs' | 'pool'>,
  anatomy: Anatomy,
): Promise<Outlook & { plans: Map<string, Plan> }> {
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
 * @param alongside what is stored in the same transaction as the revision
 * @throws Problem 422 with every fault, 409 when another revision was published meanwhile; nothing is stored then
 */
export async function publish(
  services: Publisher,
  document: Anatomy,
  by: string,
  alongside: (revision: number) => void = () => {},
): Promise<Published> {
  const { anatomies, jobs, pool } = services;
  const { anatomy, warnings } = await pool.run('checkAnatomy', { text: JSON.stringify(document) });
  const { plans, ...outlook } = await outlookOf(services, anatomy);
  const words = outlook.changes.map((d) => d.text);
  const because = words.slice(0, 6).join('; ') || 'a new revision';
  const moves = outlook.jobs.flatMap(({ id, holds }): Move[] => {
    const plan = plans.get(id);
    return plan ? [{ job: id, plan, holds }] : [];
  });
  const facts: Publishing = { anatomy, revision: outlook.revision, because, by, moves };
  const key = `publishing ${anatomy.id} ${randomUUID()}`;
  const stored = await services.journal.around('publishing', key, facts, async () =>
    services.db.transaction(() => {
      const made = anatomies.add(anatomy, by, words);
      if (made.revision > facts.revision)
        throw new Problem(409, { error: 'another revision was published in this moment; look at it first' });
      alongside(made.revision);
      return made;
    }),
  );
  for (const one of outlook.jobs) {
    if (!plans.has(one.id) || jobs.stateOf(one.id).job.revision === stored.revision) continue;
    // Somebody began it in this moment: it keeps what it has.
    Object.assign(one, { becomes: 'keeps', because: 'its dive has begun' });
  }
  return { ...outlook, revision: stored.revision, warnings };
}

interface Move {
  job: string;
  plan: Plan;
  holds: boolean;
}
interface Publishing {
  anatomy: Anatomy;
  revision: number;
  because: string;
  by: string;
  moves: Move[];
}

/** Jobs that move to a revision: with its publishing, or at the next start. */
export function publishing({ anatomies, jobs }: Pick<Publisher, 'anatomies' | 'jobs'>): Procedure<Publishing> {
  const waits = (job: string, revision: number) => {
    if (!jobs.has(job) || !jobs.isReadable(job)) return null;
    const { job: now, state } = jobs.stateOf(job);
    return now.revision! < revision && !state.startedAt && !state.signedOff ? state : null;
  };
  /** Was it published at all, or stopped before? */
  const isThere = ({ anatomy, revision }: Publishing) =>
    anatomies.has(anatomy.id) && anatomies.get(anatomy.id).revision >= revision;
  return {
    kind: 'publishing',
    lane: 'publishing',
    steps: [
      {
        name: 'jobs',
        run: async (facts) => {
          if (!isThere(facts)) return;
          const { anatomy, revision, because, by, moves } = facts;
          const model = anatomies.modelOf(anatomy.id, revision);
          for (const { job, plan, holds } of moves) {
            const state = waits(job, revision);
            if (!state) continue;
            const moved = { type: 'moved', revision, anatomy, plan: withWells(model, plan), holds, because } as const;
            await jobs.make(job, [moved], by, state.seq).catch((error) => {
              if (!(error instanceof Problem)) throw error;
            });
          }
        },
      },
    ],
    left: (facts) =>
      isThere(facts) && facts.moves.some(({ job }) => waits(job, facts.revision)) ? 'a job has not moved yet' : null,
  };
}

import type { Fault } from '../core/anatomy/index.ts';
import type { Refusal, RunEvent } from '../core/run/index.ts';

/** What the browser gets instead of a result. Never a stack trace. */
export interface ProblemBody {
  error: string;
  faults?: Fault[];
  refusal?: Refusal;
  /** Events the sender has not seen, when its `seq` was stale. */
  missed?: RunEvent[];
}

export class Problem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 415 | 422 | 429,
    readonly body: ProblemBody,
  ) {
    super(body.error);
  }
}

export const notFound = (what: string) => new Problem(404, { error: `${what} was not found` });

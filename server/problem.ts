import type { Fault } from '../core/anatomy/index.ts';
import type { Edit } from '../core/draft/index.ts';
import type { Refusal, RunEvent } from '../core/run/index.ts';
import { Halted } from './keeping/journal.ts';

/** What the browser gets instead of a result. Never a stack trace. */
export interface ProblemBody {
  error: string;
  faults?: Fault[];
  refusal?: Refusal;
  /** Events the sender has not seen, when its `seq` was stale. */
  missed?: RunEvent[];
  /** The event that was refused, by its id; what stood before it is stored. */
  refused?: { id: string; error: string; refusal: Refusal | null };
  /** What an editor of a draft has not seen, and which of its edits are taken in already. */
  draft?: { version: number; missed: { version: number; edit: Edit; by: string }[] | null; known: string[] };
  /** The edit that was refused, by its id. */
  edit?: string;
  /** Whose bundle it is, where that shop is not trusted yet. */
  stranger?: { name: string; fingerprint: string; key: string };
  /** It is older than the newest bundle of that shop that was taken: what it is, and what is here. */
  older?: { revision: number; madeAt: string; newest: { revision: number; madeAt: string } };
  /** Events that were stored although one was refused. */
  events?: RunEvent[];
}

export class Problem extends Error {
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 408 | 409 | 412 | 413 | 415 | 422 | 428 | 429 | 500 | 503 | 507,
    readonly body: ProblemBody,
  ) {
    super(body.error);
  }
}

export const notFound = (what: string) => new Problem(404, { error: `${what} was not found` });

/** What is wrong with the disk, in words, and what becomes of what was sent; `null` for an error of another kind. */
export function problemOf(error: unknown): Problem | null {
  if (error instanceof Halted)
    return new Problem(error.code === 'ENOSPC' || error.code === 'SQLITE_FULL' ? 507 : 503, {
      error: `it was begun and is not finished (${error.message}); it goes on by itself`,
    });
  const { code } = error as { code?: string };
  switch (code) {
    case 'ENOSPC':
    case 'EDQUOT':
    case 'SQLITE_FULL':
      return new Problem(507, {
        error: 'the disk of the server is full; make room there. What was not stored is kept on this screen',
      });
    case 'EROFS':
    case 'EACCES':
    case 'SQLITE_READONLY':
    case 'SQLITE_READONLY_DBMOVED':
    case 'SQLITE_CANTOPEN':
    case 'SQLITE_IOERR':
    case 'SQLITE_IOERR_WRITE':
    case 'SQLITE_IOERR_FSYNC':
    case 'SQLITE_BUSY':
      return new Problem(503, {
        error: "the shop's folder cannot be written now; was it moved away? What was not stored is kept on this screen",
      });
    case 'DAMAGED':
      return new Problem(500, { error: (error as Error).message });
    default:
      return null;
  }
}

import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { USUAL, tooLate, watch, type Limit } from '../limits.ts';
import { Problem } from '../problem.ts';
import type { Answer, PictureAnswer, PictureWork, PictureWorkName } from './work.ts';

/**
 * What pictures may take: pieces of work that wait (each holds its file in memory meanwhile), bytes of memory of their process, and
 * ms after which it ends where nothing comes. Origin: own choice; the largest picture that is read was measured at 1.6 GB.
 */
export const PICTURES = { waiting: 40, bytes: 2e9, idleMs: 300_000 } as const;
/** How often its memory is looked at, ms. Origin: own choice; a decoder fills less than half a gigabyte meanwhile. */
const LOOK_MS = 100;

/**
 * Reads pictures, one at a time, in a process with a memory of its own: a small file may hold a hundred million pixels, and may have
 * been made to bring a decoder down. What takes too much of time or of memory ends that process and nothing else.
 */
export class Pictures {
  private child: ChildProcess | null = null;
  private turn: Promise<unknown> = Promise.resolve();
  private waiting = 0;
  private closing = false;
  private idle: NodeJS.Timeout | undefined;

  constructor(private readonly most: Partial<Record<keyof typeof PICTURES | keyof Limit, number>> = {}) {}

  /**
   * @param gone aborted when nobody waits for the answer any more
   * @throws Problem 415 or 422 for the picture's own fault, 503 when too many wait, it took too long, or the server stops
   */
  async run<N extends PictureWorkName>(
    name: N,
    input: Parameters<PictureWork[N]>[0],
    gone?: AbortSignal,
  ): Promise<PictureAnswer<N>> {
    if (this.waiting >= (this.most.waiting ?? PICTURES.waiting))
      throw new Problem(503, { error: 'too many pictures at once; send it again in a moment' });
    this.waiting++;
    const mine = this.turn.then(() => this.ask(name, input, gone));
    this.turn = mine.catch(() => {});
    try {
      const answer = await mine;
      if ('failed' in answer) throw new Error(answer.failed);
      if ('problem' in answer) throw new Problem(answer.problem.status, answer.problem.body);
      return answer.ok;
    } finally {
      this.waiting--;
    }
  }

  /** Ends what is being read. */
  close(): void {
    this.closing = true;
    if (this.child) this.letGo(this.child);
  }

  /** The next picture gets another process. */
  private letGo(child: ChildProcess): void {
    if (this.child === child) this.child = null;
    child.kill('SIGKILL');
  }

  private process(): ChildProcess {
    clearTimeout(this.idle);
    if (this.child) return this.child;
    const module = fileURLToPath(new URL('./process.mjs', import.meta.url));
    const child = fork(module, [], { serialization: 'advanced', stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
    this.child = child;
    // What goes wrong between two pieces of work is told by the next.
    child.on('error', () => {});
    child.once('exit', () => {
      if (this.child === child) this.child = null;
    });
    return child;
  }

  private ask<N extends PictureWorkName>(
    name: N,
    input: Parameters<PictureWork[N]>[0],
    gone?: AbortSignal,
  ): Promise<Answer<PictureAnswer<N>>> {
    const { bytes, idleMs, ...limit } = { ...USUAL, ...PICTURES, ...this.most };
    return new Promise((resolve, reject) => {
      if (this.closing) return reject(stopping());
      if (gone?.aborted) return reject(nobody());
      const child = this.process();
      child.ref();
      child.channel?.ref();
      let why: Problem | null = null;
      const end = (problem: Problem) => {
        why = problem;
        child.kill('SIGKILL');
      };
      const leave = () => end(nobody());
      const unwatch = watch(
        limit,
        () => `/proc/${child.pid}`,
        (late) => end(tooLate('this picture', late, limit)),
      );
      const look = setInterval(() => memoryOf(child) > bytes && end(tooLarge()), LOOK_MS);
      const settled = () => {
        unwatch();
        clearInterval(look);
        gone?.removeEventListener('abort', leave);
        child.off('message', answered).off('error', failed).off('exit', ended);
        child.unref();
        child.channel?.unref();
        this.idle = setTimeout(() => this.letGo(child), idleMs).unref();
      };
      const answered = (answer: unknown) => {
        settled();
        resolve(answer as Answer<PictureAnswer<N>>);
      };
      const failed = (error: Error) => {
        settled();
        this.letGo(child);
        reject(why ?? error);
      };
      const ended = (code: number | null) => {
        settled();
        if (this.closing) reject(stopping());
        else if (why) reject(why);
        // A decoder that is ended by a signal was brought down by what it read; one that ends with a code is ill itself.
        else reject(code === null ? tooLarge() : new Error(`what reads pictures ended with ${code}`));
      };
      gone?.addEventListener('abort', leave);
      child.on('message', answered).on('error', failed).on('exit', ended);
      child.send({ name, input }, (error) => error && failed(error));
    });
  }
}

const stopping = () => new Problem(503, { error: 'the server is stopping; ask again once it is back' });
const nobody = () => new Problem(503, { error: 'nobody waits for this any more' });
const tooLarge = () => new Problem(415, { error: 'the picture is damaged or too large to read; take it again' });

/** Bytes that a process holds in memory; 0 where the system does not tell. */
function memoryOf({ pid }: ChildProcess): number {
  try {
    const kB = /^VmRSS:\s+(\d+) kB$/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
    return Number(kB ?? 0) * 1024;
  } catch {
    return 0;
  }
}

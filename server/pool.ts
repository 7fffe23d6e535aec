import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { USUAL, tooLate, watch, type Late, type Limit } from './limits.ts';
import { Problem } from './problem.ts';
import type { Task, TaskName, Tasks } from './tasks.ts';

/** How many may wait for a hand, and how long a hand stays without work, ms. Origin: own choice. */
export const POOL = { waiting: 32, idleMs: 600_000 } as const;

/**
 * Everything that computes for long, off the thread that answers requests. What takes too long is ended, and what
 * would have to wait too long is refused at once.
 */
export class Pool {
  private piscina: Piscina | null = null;
  private closing = false;

  /** @param data folder of the shop's data, in which threads keep what others need not compute again */
  constructor(
    private readonly data: string | null = null,
    private readonly limit: Limit = USUAL,
  ) {}

  private hands(): Piscina {
    this.piscina ??= new Piscina({
      filename: fileURLToPath(new URL('./worker.mjs', import.meta.url)),
      minThreads: 0,
      maxThreads: Math.max(1, availableParallelism() - 1),
      idleTimeout: POOL.idleMs,
      workerData: { data: this.data },
    });
    return this.piscina;
  }

  /**
   * @param gone aborted when nobody waits for the answer any more: what computes for nobody is ended
   * @throws Problem 503 when too much waits, it took too long, or the server stops; what the computation itself says is a `Problem`
   *   as well
   */
  async run<N extends TaskName>(
    name: N,
    input: Parameters<Tasks[N]>[0],
    gone?: AbortSignal,
  ): Promise<Awaited<ReturnType<Tasks[N]>>> {
    if (this.closing) throw stopping();
    if (this.hands().queueSize >= POOL.waiting) {
      throw new Problem(503, { error: 'too much is being computed at once; try again in a moment' });
    }
    const stop = new AbortController();
    // The thread that has begun it, by the number that the system has for it; 0 before that.
    const thread = new Int32Array(new SharedArrayBuffer(4));
    let late: Late | null = null;
    const unwatch = watch(
      this.limit,
      () => (thread[0] === 0 ? null : `/proc/self/task/${thread[0]}`),
      (why) => {
        late = why;
        stop.abort();
      },
    );
    const leave = () => stop.abort();
    if (gone?.aborted) leave();
    gone?.addEventListener('abort', leave);
    try {
      const task: Task & { thread: Int32Array } = { name, input, thread };
      const answer = (await this.hands().run(task, { signal: stop.signal })) as
        | { ok: Awaited<ReturnType<Tasks[N]>> }
        | { problem: { status: 404 | 422; body: { error: string } } };
      if ('problem' in answer) throw new Problem(answer.problem.status, answer.problem.body);
      return answer.ok;
    } catch (error) {
      if (error instanceof Problem) throw error;
      if (this.closing) throw stopping();
      if (gone?.aborted) throw new Problem(503, { error: 'nobody waits for this any more' });
      if (late !== null) throw tooLate('this', late, this.limit);
      throw error;
    } finally {
      unwatch();
      gone?.removeEventListener('abort', leave);
    }
  }

  async close(): Promise<void> {
    this.closing = true;
    await this.piscina?.destroy();
    this.piscina = null;
  }
}

const stopping = (): Problem => new Problem(503, { error: 'the server is stopping; ask again once it is back' });

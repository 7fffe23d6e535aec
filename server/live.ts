import type { LiveMessage } from '../core/jobs/index.ts';

/** A message with its number in this run of the server. */
export interface Numbered {
  id: string;
  message: LiveMessage;
}

type Listener = (numbered: Numbered) => void;

/** Messages kept for those who come back. Origin: own choice; some minutes of fifty busy benches. */
const KEPT = 20_000;

/** What happens in the shop, told to every browser that listens. */
export class Live {
  private readonly listeners = new Set<Listener>();
  private readonly kept: Numbered[] = [];
  private count = 0;
  /** Tells this run of the server from others: their numbers mean nothing here. */
  private readonly epoch = Date.now().toString(36);

  tell(message: LiveMessage): void {
    const numbered = { id: `${this.epoch}-${++this.count}`, message };
    this.kept.push(numbered);
    if (this.kept.length > KEPT * 1.1) this.kept.splice(0, this.kept.length - KEPT);
    for (const listener of this.listeners) listener(numbered);
  }

  /** @returns what ends the listening */
  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** The number of the newest message, to go on from. */
  get last(): string {
    return `${this.epoch}-${this.count}`;
  }

  /** What came after a message, or `null` when that is not known any more and all has to be asked for anew. */
  since(id: string): Numbered[] | null {
    const [epoch, number] = id.split('-');
    const n = Number(number);
    if (epoch !== this.epoch || !Number.isInteger(n) || n > this.count) return null;
    const first = this.count - this.kept.length + 1;
    return n + 1 < first ? null : this.kept.slice(n + 1 - first);
  }
}

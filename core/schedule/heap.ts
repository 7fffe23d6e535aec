/** A binary heap; `before` says which of two comes out first. */
export class Heap<T> {
  private readonly items: T[] = [];

  constructor(private readonly before: (a: T, b: T) => boolean) {}

  get size(): number {
    return this.items.length;
  }

  peek(): T | undefined {
    return this.items[0];
  }

  push(item: T): void {
    let i = this.items.push(item) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (!this.before(item, this.items[up]!)) break;
      this.items[i] = this.items[up]!;
      i = up;
    }
    this.items[i] = item;
  }

  /** @throws Error when empty */
  pop(): T {
    const top = this.items[0];
    if (top === undefined) throw new Error('the heap is empty');
    const last = this.items.pop()!;
    const n = this.items.length;
    if (n > 0) {
      let i = 0;
      for (;;) {
        let child = 2 * i + 1;
        if (child >= n) break;
        if (child + 1 < n && this.before(this.items[child + 1]!, this.items[child]!)) child++;
        if (!this.before(this.items[child]!, last)) break;
        this.items[i] = this.items[child]!;
        i = child;
      }
      this.items[i] = last;
    }
    return top;
  }
}

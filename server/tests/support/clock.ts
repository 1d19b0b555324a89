import type { Clock } from '../../src/clock';

/** A clock that stands still until it is moved on; what is due then runs in its order. */
export class TestClock implements Clock {
  private at = Date.now();
  private readonly waiting = new Set<{ due: number; again: number | null; run: () => void }>();

  now(): number {
    return this.at;
  }

  after(ms: number, run: () => void): () => void {
    return this.put({ due: this.at + ms, again: null, run });
  }

  every(ms: number, run: () => void): () => void {
    return this.put({ due: this.at + ms, again: ms, run });
  }

  advance(ms: number): void {
    const until = this.at + ms;
    for (;;) {
      const next = [...this.waiting].filter((w) => w.due <= until).sort((a, b) => a.due - b.due)[0];
      if (!next) break;
      this.at = next.due;
      if (next.again === null) this.waiting.delete(next);
      else next.due += next.again;
      next.run();
    }
    this.at = until;
  }

  private put(entry: { due: number; again: number | null; run: () => void }): () => void {
    this.waiting.add(entry);
    return () => void this.waiting.delete(entry);
  }
}

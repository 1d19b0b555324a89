/** Time for what beats and waits: the system's, or one that tests move on. Milliseconds. */
export interface Clock {
  now(): number;
  /** @returns what calls it off */
  after(ms: number, run: () => void): () => void;
  every(ms: number, run: () => void): () => void;
}

export const SYSTEM_CLOCK: Clock = {
  now: () => Date.now(),
  after(ms, run) {
    const timer = setTimeout(run, ms);
    return () => clearTimeout(timer);
  },
  every(ms, run) {
    const timer = setInterval(run, ms);
    return () => clearInterval(timer);
  },
};

/** Keeps what was made lately, up to a number of bytes; what was asked for longest ago goes first. */
export class Lately<T> {
  private readonly kept = new Map<string, { made: Promise<T>; bytes: number }>();
  private bytes = 0;

  constructor(
    private readonly most: number,
    private readonly weigh: (made: T) => number,
  ) {}

  /** What goes by this name; made when it is not there. What fails is not kept. */
  async get(name: string, make: () => Promise<T>): Promise<T> {
    const known = this.kept.get(name);
    if (known) {
      this.kept.delete(name);
      this.kept.set(name, known);
      return known.made;
    }
    const entry = { made: make(), bytes: 0 };
    this.kept.set(name, entry);
    try {
      const made = await entry.made;
      if (this.kept.get(name) === entry) {
        entry.bytes = this.weigh(made);
        this.bytes += entry.bytes;
        this.trim();
      }
      return made;
    } catch (error) {
      this.kept.delete(name);
      throw error;
    }
  }

  private trim(): void {
    for (const [name, { bytes }] of this.kept) {
      if (this.bytes <= this.most) return;
      this.kept.delete(name);
      this.bytes -= bytes;
    }
  }
}

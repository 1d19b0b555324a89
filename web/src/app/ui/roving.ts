/** The way an arrow key points; null for any other key. */
export const arrowOf = (event: KeyboardEvent): readonly [number, number] | null =>
  (({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }) as const)[event.key] ?? null;

/** How many things lie in the first row of a grid. */
export function columnsOf(things: ArrayLike<HTMLElement>): number {
  const all = Array.from(things);
  return all.filter((t) => t.offsetTop === all[0]?.offsetTop).length;
}

/**
 * Where an arrow key leads in a row (or, with columns, a grid) of `count` things, of which `at` is the present one.
 * @returns the place to go to, with the event taken; null when the key leads nowhere or belongs to somebody else
 */
export function walk(event: KeyboardEvent, at: number, count: number, columns = 0): number | null {
  if (event.ctrlKey || event.metaKey || event.altKey || count === 0) return null;
  const down = columns || 1;
  const to = {
    ArrowRight: at + 1,
    ArrowLeft: at - 1,
    ArrowDown: at + down,
    ArrowUp: at - down,
    Home: 0,
    End: count - 1,
  }[event.key];
  if (to === undefined) return null;
  event.preventDefault();
  return Math.min(count - 1, Math.max(0, to));
}

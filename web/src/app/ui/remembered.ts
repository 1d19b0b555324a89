/** What this browser was told to remember; null where there is nothing, or no storage. */
export function remembered(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(name) ?? 'null');
  } catch {
    return null;
  }
}

/** Remembers something, or with null forgets it. Without storage it lasts as long as the page. */
export function remember(name: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(name);
    else localStorage.setItem(name, JSON.stringify(value));
  } catch {
    // Nothing to be done, and nothing lost but the memory.
  }
}

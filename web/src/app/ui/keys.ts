/** Keys that do one thing, or things that belong together, as they stand on the sheet of keys. */
export interface KeyRow<T> {
  /** As they are written on the sheet. */
  shown: string;
  words: string;
  /** Only with Ctrl, or Command. */
  ctrl?: true;
  /** What each does, by the key in small letters; left out where somebody else takes care of it. */
  acts?: Readonly<Record<string, (target: T, event: KeyboardEvent) => void>>;
}

/** Keys under a heading. */
export interface KeyGroup {
  title: string;
  rows: readonly Pick<KeyRow<never>, 'shown' | 'words'>[];
}

/** What a key does, if anything. */
export function actOf<T>(
  rows: readonly KeyRow<T>[],
  event: KeyboardEvent,
): ((target: T, event: KeyboardEvent) => void) | undefined {
  const ctrl = event.ctrlKey || event.metaKey;
  const key = event.key.toLowerCase();
  for (const row of rows)
    if ((row.ctrl ?? false) === ctrl && row.acts && Object.hasOwn(row.acts, key)) return row.acts[key];
  return undefined;
}

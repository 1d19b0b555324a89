import { anchorWith, BESIDE_TEXT, GableError, type Anchor, type Frame } from '@gable/core';
import { anchorNow } from '../codec/beside-text';
import { lengthOf, writeLength, type Names } from './names';
import type { Site } from './site';

/**
 * Frames beside a text (ODF 1.2 Part 1 §20.290, style:horizontal-pos; §20.291, style:horizontal-rel; §20.387,
 * style:vertical-pos; §20.388, style:vertical-rel; §20.390, style:wrap; §20.346, style:run-through; numbers from memory).
 */
const FROM_X: Readonly<Record<Anchor['from']['x'], string>> = {
  page: 'page',
  margin: 'page-content',
  column: 'paragraph',
  character: 'char',
  'left-margin': 'page-start-margin',
  'right-margin': 'page-end-margin',
  'inside-margin': 'page-start-margin',
  'outside-margin': 'page-end-margin',
};
const FROM_Y: Readonly<Record<Anchor['from']['y'], string>> = {
  page: 'page',
  margin: 'page-content',
  paragraph: 'paragraph',
  line: 'line',
  'top-margin': 'page',
  'bottom-margin': 'page',
  'inside-margin': 'page',
  'outside-margin': 'page',
};
const ALIGN_X = { left: 'left', centre: 'center', right: 'right', inside: 'inside', outside: 'outside' } as const;
const ALIGN_Y = { top: 'top', centre: 'middle', bottom: 'bottom', inside: 'top', outside: 'bottom' } as const;
const SIDES = { both: 'parallel', left: 'left', right: 'right', larger: 'biggest' } as const;
const EDGES = ['top', 'right', 'bottom', 'left'] as const;

const keyOf = <T extends string>(table: Readonly<Record<T, string>>, value: string | undefined): T | undefined =>
  (Object.keys(table) as T[]).find((key) => table[key] === value);

/** How a frame is tied to its text; undefined for one in a line, or elsewhere. */
export function readAnchor({ styles, style, inText, frameFlow }: Site): Anchor | undefined {
  if (!inText || frameFlow === 'inline') return undefined;
  const get = (name: string): string | undefined => styles.property(style, name);
  const wrap = get('style:wrap') ?? 'none';
  const tight = get('style:wrap-contour') === 'true';
  const around = tight ? (get('style:wrap-contour-mode') === 'full' ? 'through' : 'tight') : 'square';
  const all = lengthOf(get('fo:margin')) ?? 0;
  const far = (edge: (typeof EDGES)[number]): number => lengthOf(get(`fo:margin-${edge}`)) ?? all;
  const [x, y] = [keyOf(ALIGN_X, get('style:horizontal-pos')), keyOf(ALIGN_Y, get('style:vertical-pos'))];
  const rel = (name: string): string | undefined => get(name)?.replace(/^(paragraph|frame)-content$/, '$1');
  return anchorWith(
    {
      from: {
        x: keyOf(FROM_X, rel('style:horizontal-rel')) ?? BESIDE_TEXT.from.x,
        y: keyOf(FROM_Y, rel('style:vertical-rel')) ?? BESIDE_TEXT.from.y,
      },
      wrap: wrap === 'none' ? 'top-bottom' : wrap === 'run-through' ? 'none' : around,
      behind: wrap === 'run-through' && get('style:run-through') === 'background',
      distances: { top: far('top'), right: far('right'), bottom: far('bottom'), left: far('left') },
    },
    {
      align: { ...(x && { x }), ...(y && { y }) },
      sides: wrap === 'dynamic' ? 'larger' : keyOf(SIDES, wrap),
    },
  );
}

/** How a shape or a text box lies beside its text (ODF 1.2 Part 1 §19.758, text:anchor-type): one of a page counts from that. */
export function anchorOf(site: Site, type: string | undefined): Anchor | undefined {
  const anchor = type === 'as-char' ? undefined : readAnchor(site);
  return anchor && type === 'page' ? { ...anchor, from: { x: 'page', y: 'page' } } : anchor;
}

/** The properties of a style that say how a frame lies beside a text. */
export function anchorProperties({ from, align, wrap, sides = 'both', behind, distances }: Anchor): [string, string][] {
  const around = wrap === 'none' ? 'run-through' : wrap === 'top-bottom' ? 'none' : SIDES[sides];
  const tight = wrap === 'tight' || wrap === 'through';
  return [
    ['style:wrap', around],
    ['style:run-through', behind ? 'background' : 'foreground'],
    ['style:wrap-contour', String(tight)],
    ...(tight ? ([['style:wrap-contour-mode', wrap === 'through' ? 'full' : 'outside']] as [string, string][]) : []),
    ['style:number-wrapped-paragraphs', 'no-limit'],
    ['style:horizontal-pos', align?.x ? ALIGN_X[align.x] : 'from-left'],
    ['style:horizontal-rel', FROM_X[from.x]],
    ['style:vertical-pos', align?.y ? ALIGN_Y[align.y] : 'from-top'],
    ['style:vertical-rel', FROM_Y[from.y]],
    ...EDGES.map((edge): [string, string] => [`fo:margin-${edge}`, writeLength(distances[edge])]),
  ];
}

/**
 * What the style of a frame has to say anew of its place beside the text; null where the old one says it.
 * @param was as read
 */
export function newLying(site: Site, was: Frame, next: Frame): [string, string][] | null {
  if (!site.inText || next.flow === 'inline') return null;
  if (next.anchor?.locked)
    throw new GableError(
      'cannot-write',
      `Picture ${next.n} cannot be locked to its paragraph in this kind of file.`,
      'Take the lock off.',
      { n: next.n },
    );
  const now = anchorProperties(anchorNow(was, next));
  if (site.frameFlow === 'inline' || !was.anchor) return was.flow === next.flow ? null : now;
  const before = new Map(anchorProperties(was.anchor));
  const changed = now.filter(([key, value]) => before.get(key) !== value).map(([key]) => key);
  if (changed.length === 0) return null;
  const margins = changed.some(isMargin);
  // One margin may stand for all of them (§20.202, fo:margin): all are said then.
  return now.filter(([key]) => changed.includes(key) || (margins && isMargin(key)));
}

const isMargin = (key: string): boolean => key.startsWith('fo:margin');

/** Which attributes of a style these properties take the place of. */
export function replacedBy(lying: readonly [string, string][] | null, n: Names): (attribute: string) => boolean {
  const fresh = new Set((lying ?? []).map(([key]) => n.of(key)));
  if (lying?.some(([key]) => isMargin(key))) fresh.add(n.of('fo:margin'));
  return (attribute) => fresh.has(attribute);
}

import {
  ANCHOR_FROM,
  anchorWith,
  BESIDE_TEXT,
  bounds,
  flatten,
  framePath,
  fromEmu,
  toEmu,
  type Anchor,
  type Frame,
} from '@gable/core';
import { anchorNow } from '../codec/beside-text';
import { child, descend, type Element } from '../xml/located';
import { bindingsOf, type Splice } from '../xml/splice';
import { integer, measure } from './values';

/**
 * Drawings beside a text: `wp:anchor` (ISO/IEC 29500-1 §20.4.2.3), from where their places count (§20.4.3.4, ST_RelFromH;
 * §20.4.3.5, ST_RelFromV), how they are aligned (§20.4.3.1, §20.4.3.2), and how the text goes round them (§20.4.2.15 to
 * §20.4.2.20).
 */
const AXES = [
  ['x', 'positionH'],
  ['y', 'positionV'],
] as const;
type Axis = (typeof AXES)[number][0];

const ALIGN = {
  left: 'left',
  centre: 'center',
  right: 'right',
  top: 'top',
  bottom: 'bottom',
  inside: 'inside',
  outside: 'outside',
};
const SIDES = { both: 'bothSides', left: 'left', right: 'right', larger: 'largest' } as const;
const WRAPS = {
  none: 'wrapNone',
  square: 'wrapSquare',
  tight: 'wrapTight',
  through: 'wrapThrough',
  'top-bottom': 'wrapTopAndBottom',
} as const;
const EDGES = ['top', 'bottom', 'left', 'right'] as const;

const isOn = (v: string | undefined): boolean => v === '1' || v === 'true' || v === 'on';
const keyOf = <T extends string>(table: Readonly<Record<T, string>>, value: string | undefined): T | undefined =>
  (Object.keys(table) as T[]).find((key) => table[key] === value);
/** `leftMargin` as `left-margin`, and back. */
const spaced = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
const joined = (name: string): string => name.replace(/-([a-z])/g, (_, c: string) => c.toUpperCase());

const wrapOf = (holder: Element): Element | undefined =>
  holder.children.find((c) => /^wrap(None|Square|Tight|Through|TopAndBottom)$/.test(c.local));

/** The distance from the text: that of its wrapping, else of the drawing. */
const distanceAttribute = (edge: (typeof EDGES)[number]): string => `dist${edge[0]!.toUpperCase()}`;

/** How a drawing is tied to its text; undefined for one in a line. */
export function readAnchor(holder: Element): Anchor | undefined {
  if (holder.local !== 'anchor') return undefined;
  const wrap = wrapOf(holder);
  const said = (axis: Axis): { from: string; align: string | undefined } => {
    const position = child(holder, axis === 'x' ? 'positionH' : 'positionV');
    return {
      from: spaced(position?.attributes['relativeFrom'] ?? ''),
      align: keyOf(ALIGN, child(position, 'align')?.text.trim()),
    };
  };
  const [x, y] = [said('x'), said('y')];
  const far = (edge: (typeof EDGES)[number]): number => {
    const name = distanceAttribute(edge);
    return fromEmu(integer(wrap?.attributes[name] ?? holder.attributes[name]));
  };
  const align = { ...(x.align && { x: x.align }), ...(y.align && { y: y.align }) } as Anchor['align'];
  return anchorWith(
    {
      from: {
        x: ANCHOR_FROM.x.find((f) => f === x.from) ?? BESIDE_TEXT.from.x,
        y: ANCHOR_FROM.y.find((f) => f === y.from) ?? BESIDE_TEXT.from.y,
      },
      wrap: keyOf(WRAPS, wrap?.local) ?? 'none',
      behind: isOn(holder.attributes['behindDoc']),
      distances: { top: far('top'), right: far('right'), bottom: far('bottom'), left: far('left') },
    },
    {
      align,
      sides: keyOf(SIDES, wrap?.attributes['wrapText']),
      ...(isOn(holder.attributes['locked']) && { locked: true }),
    },
  );
}

/**
 * An anchor's attributes, its simple position and its positions, for a drawing that comes out of its line.
 * @param height how far in front it lies
 */
export function anchorStart(
  prefix: string,
  bindings: string,
  { anchor, box, height }: { anchor: Anchor; box: Frame['box']; height: number },
): string {
  const far = EDGES.map((edge) => ` ${distanceAttribute(edge)}="${toEmu(anchor.distances[edge])}"`).join('');
  return (
    `<${prefix}anchor${bindings}${far} simplePos="0" relativeHeight="${height}" behindDoc="${anchor.behind ? 1 : 0}" locked="${anchor.locked ? 1 : 0}" layoutInCell="1" allowOverlap="1">` +
    `<${prefix}simplePos x="0" y="0"/>${AXES.map(([axis]) => position(prefix, axis, anchor, box[axis])).join('')}`
  );
}

function position(prefix: string, axis: Axis, { from, align }: Anchor, offset: number): string {
  const name = `${prefix}${axis === 'x' ? 'positionH' : 'positionV'}`;
  const by = align?.[axis];
  const place = by
    ? `<${prefix}align>${ALIGN[by]}</${prefix}align>`
    : `<${prefix}posOffset>${toEmu(offset)}</${prefix}posOffset>`;
  return `<${name} relativeFrom="${joined(from[axis])}">${place}</${name}>`;
}

/** How the text goes round, as an element; tightly round the box. */
export function wrapElement(
  prefix: string,
  { wrap, sides = 'both' }: Pick<Anchor, 'wrap' | 'sides'>,
  frame?: Frame,
): string {
  const name = `${prefix}${WRAPS[wrap]}`;
  if (wrap === 'none' || wrap === 'top-bottom') return `<${name}/>`;
  const start = `<${name} wrapText="${SIDES[sides]}"`;
  if (wrap === 'square') return `${start}/>`;
  const polygon = (frame && polygonOf(prefix, frame)) ?? wrapPolygon(prefix, BOX, false);
  return `${start}>${polygon}</${name}>`;
}

type Points = readonly { x: number; y: number }[];
const BOX: Points = [
  { x: 0, y: 0 },
  { x: 0, y: 1 },
  { x: 1, y: 1 },
  { x: 1, y: 0 },
];

/** `wp:wrapPolygon` (§20.4.2.16), in 21,600ths of the extent. @param points in shares of that */
function wrapPolygon(prefix: string, points: Points, edited: boolean): string {
  const [first, ...rest] = points.map((p) => `x="${Math.round(p.x * 21_600)}" y="${Math.round(p.y * 21_600)}"`);
  const lines = [...rest, first].map((p) => `<${prefix}lineTo ${p}/>`).join('');
  return `<${prefix}wrapPolygon edited="${edited ? 1 : 0}"><${prefix}start ${first}/>${lines}</${prefix}wrapPolygon>`;
}

function polygonOf(prefix: string, next: Frame): string | null {
  const { width, height } = next.box;
  const path = framePath(next);
  const b = bounds(path);
  const points = flatten(path, Math.max(b.width, b.height) / 150)[0] ?? [];
  return points.length === 0
    ? null
    : wrapPolygon(
        prefix,
        points.map((p) => ({ x: p.x / width, y: p.y / height })),
        true,
      );
}

/** The outline that text runs along round a drawing, in shares of its extent; null where it runs round its box. */
export function readPolygon(holder: Element): { x: number; y: number }[] | null {
  const polygon = child(wrapOf(holder), 'wrapPolygon');
  const points = (polygon?.children ?? []).filter((p) => p.local === 'start' || p.local === 'lineTo');
  const at = (p: Element, axis: Axis): number => integer(p.attributes[axis]) / 21_600;
  return points.length > 2 ? points.map((p) => ({ x: at(p, 'x'), y: at(p, 'y') })) : null;
}

/** Text that runs tightly round a picture follows its shape. */
export function writePolygon(splice: Splice, holder: Element, next: Frame): void {
  const old = child(wrapOf(holder), 'wrapPolygon');
  const xml = old && polygonOf(old.name.slice(0, old.name.length - old.local.length), next);
  if (old && xml) splice.replace(old, xml);
}

const moved = (a: number, b: number): boolean => toEmu(a) !== toEmu(b);

/**
 * Writes what changed of an anchor, and of the place it gives its drawing.
 * @param was the frame as read
 */
export function writeAnchor(splice: Splice, holder: Element, was: Frame, next: Frame): void {
  const prefix = holder.name.slice(0, holder.name.length - holder.local.length);
  const [old, now] = [was.anchor ?? BESIDE_TEXT, anchorNow(was, next)];
  for (const [axis, name] of AXES) {
    const element = child(holder, name);
    const same = old.from[axis] === now.from[axis] && old.align?.[axis] === now.align?.[axis];
    // What is aligned stays so, however large it becomes.
    if (!element || (same && (now.align?.[axis] !== undefined || !moved(was.box[axis], next.box[axis])))) continue;
    const offset = child(element, 'posOffset');
    if (same && offset) splice.content(offset, String(toEmu(next.box[axis])));
    else splice.replace(element, position(prefix, axis, now, next.box[axis]));
    // A simple position would win (§20.4.2.3, simplePos).
    if (isOn(holder.attributes['simplePos'])) splice.attribute(holder, 'simplePos', '0');
  }
  if (old.behind !== now.behind) splice.attribute(holder, 'behindDoc', now.behind ? '1' : '0');
  if (old.locked !== now.locked) splice.attribute(holder, 'locked', now.locked ? '1' : '0');
  const wrap = wrapOf(holder);
  const rewrapped = old.wrap !== now.wrap;
  if (rewrapped && wrap) splice.replace(wrap, wrapElement(prefix, now, next));
  else if (wrap && old.sides !== now.sides && wrap.attributes['wrapText'] !== undefined)
    splice.attribute(wrap, 'wrapText', SIDES[now.sides ?? 'both']);
  for (const edge of EDGES) {
    const name = distanceAttribute(edge);
    if (!moved(old.distances[edge], now.distances[edge]) && !(rewrapped && wrap?.attributes[name] !== undefined))
      continue;
    const value = String(toEmu(now.distances[edge]));
    splice.attribute(holder, name, value);
    if (!rewrapped && wrap?.attributes[name] !== undefined) splice.attribute(wrap, name, value);
  }
}

/** A drawing goes back into its line: nothing of its anchor stays. */
export function leaveAnchor(splice: Splice, holder: Element): void {
  const prefix = holder.name.slice(0, holder.name.length - holder.local.length);
  splice.retag(
    holder,
    `<${prefix}inline${bindingsOf(holder)} distT="0" distB="0" distL="0" distR="0">`,
    `</${prefix}inline>`,
  );
  for (const c of holder.children)
    if (/^(simplePos|position[HV]|wrap\w+|sizeRel[HV])$/.test(c.local)) splice.replace(c, '');
}

/** A freely placed drawing's offset in points; 0 where it has none. */
export function readOffset(holder: Element, axis: Axis): number {
  const text = descend(holder, axis === 'x' ? 'positionH' : 'positionV', 'posOffset')?.text;
  return text === undefined ? 0 : (measure(text.trim()) ?? 0);
}

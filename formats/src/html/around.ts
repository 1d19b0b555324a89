import {
  bounds,
  cssClip,
  cssPaint,
  equal,
  frameOfBlock,
  framePath,
  FULL_SEAT,
  isBand,
  isDecoration,
  isVeil,
  LEAST_LETTERS,
  LETTERS_SHARE,
  svgParts,
  trimNumber,
  wordsIn,
  type Box,
  type Frame,
  type FramedItem,
  type Text,
  type Tie,
} from '@gable/core';
import type { AroundPicture } from '../codec/contract';
import { laidMarkup } from '../codec/laid';
import { standsWith, writtenFluid } from './place';
import { SET, type Found } from './page-source';
import { escapeHtml, parentTag, type Node, type Tag } from './tree';

/**
 * What stands around a picture of a web page, by the rules of its ties, which hold at every width: words beside it in the flow of the
 * page, below it where there is no room; what lies over, behind and around it at shares of its box. Lengths in points.
 */

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];
export type Style = Readonly<Record<string, string | null>>;

export const pt = (length: number): string => `${trimNumber(length, 3)}pt`;
/** In small windows there is less room: no more than so much of the width of the window, in hundredths. */
const ROOM = 8;
/** Smaller than this nothing gets smaller, in points. */
const LEAST_ROOM = 12;
const upTo = (length: number, of: number, least: number): string =>
  length > least ? `min(${pt(length)}, ${of}vw)` : pt(length);
export const roomy = (length: number): string => upTo(length, ROOM, LEAST_ROOM);

/** From an edge, outward where it is negative. */
const off = (length: number): string => (length < -LEAST_ROOM ? `max(${pt(length)}, -${ROOM}vw)` : pt(length));

export const share = (part: number, whole: number): string => `${trimNumber((part / Math.max(1e-6, whole)) * 100, 3)}%`;

/** An element of ours: nothing that the page says of others of its name counts. */
export const span = (style: Style, inner: string, more = ''): string => element('span', style, inner, more);

/** The same of another name. */
export function element(tag: string, style: Style, inner: string, more = ''): string {
  const declarations = Object.entries({ all: 'initial', 'font-family': 'inherit', ...style }).flatMap(([k, v]) =>
    v === null ? [] : [`${k}:${v}`],
  );
  return `<${tag} style="${escapeHtml(declarations.join(';'))}"${more}>${inner}</${tag}>`;
}

/** Something added, and whether it lies beneath what it follows. */
export interface Member {
  item: FramedItem;
  beneath: boolean;
}

/** All that stands around a picture, and the name of the element round it. */
export interface Ring {
  all: readonly Member[];
  name: string;
  /** Can blocks stand here, such as headings? Elsewhere only what stands among words can (HTML §3.2.5.2). */
  blocks?: true;
}

/** What stands in the place of a picture, with all that stands around it. */
export interface Standing {
  /** Markup round that of the frame. */
  wrap(frame: string): string;
  /** The name of the element round all of it, and its rule. */
  name: string;
  rule: string;
}

export const membersOf = ({ before, behind }: Pick<AroundPicture, 'before' | 'behind'>): Member[] => [
  ...before.map((item) => ({ item, beneath: true })),
  ...behind.map((item) => ({ item, beneath: false })),
];

const BARE = { left: 0, top: 0, right: 0, bottom: 0 };

/**
 * The set of a picture and what stands around it.
 * @param next the picture's frame, whose box stands at the corner that all others count from
 * @param name of the element round it
 */
export function standingRound({ place, outer }: Found, next: Frame, around: AroundPicture, name: string): Standing {
  const { width, height } = next.box;
  const box: Box = { x: 0, y: 0, width, height };
  const all = membersOf(around);
  const ids = new Set(all.map(({ item }) => item.id));
  const ring: Ring = { all, name };
  // What follows none of the others stands by the picture; bands go behind all of the set.
  const first = all.filter(({ item }) => !ids.has(item.tie?.to ?? ''));
  const own = first.filter(({ item }) => !isBand(item));
  const bands = first.filter(({ item }) => isBand(item));
  const { fluid, said } = place.sizing;
  const sides = own.filter(({ item }) => isUpright(item.tie));
  const room = roomOf(first, box);
  const wide =
    room.left +
    room.right +
    sides.reduce((sum, { item }) => sum + item.at.box.width + gapOf(item.at.box, box, item.tie!), 0);
  const part = fluid && writtenFluid(fluid, 1);
  const tall = said !== null && said.endsWith('%');
  const alone =
    place.style['float'] === undefined &&
    !place.item &&
    !/absolute|fixed/.test(place.style['position'] ?? '') &&
    standsAlone(outer);
  const wrap = (frame: string): string => {
    const stage = staged(frame, { box, own, ring, tall, fluid: fluid !== null });
    return sides.length === 0 && own.every(({ item }) => item.tie?.as !== 'beside')
      ? stage
      : columned(stage, { box, own, ring, grows: fluid !== null, tall });
  };
  const { display = 'inline', position = 'relative', ...stands } = standsWith(place, next);
  const block = !display.startsWith('inline');
  const declarations: Style = {
    margin: '0',
    ...stands,
    position,
    display: /^(none|contents)$/.test(display) ? 'none' : block ? 'flex' : 'inline-flex',
    'flex-flow': 'row wrap',
    'align-items': tall ? 'stretch' : 'center',
    'box-sizing': 'border-box',
    padding: Object.values(room).some((r) => r > 0)
      ? [room.top, room.right, room.bottom, room.left].map(roomy).join(' ')
      : null,
    width: part ? `calc(${part.width} + ${pt(wide)})` : block ? 'fit-content' : null,
    'max-width': part && part.most !== '100%' ? `min(100%, calc(${part.most} + ${pt(wide)}))` : '100%',
    height: tall ? said : null,
    // What is drawn beyond it gives the page no scroll bar, as with the frame itself (CSS Containment 2 §3.3).
    contain: 'layout',
  };
  const body = Object.entries(declarations).flatMap(([k, v]) => (v === null ? [] : [`  ${k}: ${v};`]));
  const behind = bands.map((m) => elementOf(m.item, bandStyle(m.item, alone), ring)).join('');
  return {
    name,
    wrap: (frame) => `<span class="${name}" ${SET}>${behind}${wrap(frame)}</span>`,
    rule: `.${name} {\n${body.join('\n')}\n}`,
  };
}

/** A band is behind all of the set; from edge to edge of the window, wherever it stands there, if nothing else stands in its row. */
function bandStyle({ fill }: FramedItem, alone: boolean): Style {
  const paint = fill?.kind === 'paint' ? fill.paint : null;
  const endless = alone && paint?.kind === 'solid';
  return {
    ...{ position: 'absolute', inset: '0' },
    ...(endless && { 'box-shadow': `0 0 0 100vmax ${cssPaint(paint)}`, 'clip-path': 'inset(0 -100vmax)' }),
  };
}

/** Elements that stand among words (HTML §4.5). */
const AMONG = /^(a|span|em|strong|b|i|u|small|label|picture|mark|abbr)$/;

/** Stands nothing else in the row of an element? */
function standsAlone(outer: Tag): boolean {
  for (let e = outer; ;) {
    const parent = parentTag(e);
    if (!parent) return true;
    const isBlank = (node: Node): boolean => ('value' in node ? node.value.trim() === '' : !('tagName' in node));
    if (!parent.childNodes.every((node) => node === e || isBlank(node) || isBlock(node))) return false;
    if (!AMONG.test(parent.tagName)) return true;
    e = parent;
  }
}
const isBlock = (node: Node): boolean => 'tagName' in node && !AMONG.test(node.tagName) && node.tagName !== 'img';

const isUpright = (tie: Tie | undefined): boolean =>
  tie?.as === 'beside' && (tie.side === 'left' || tie.side === 'right');

/** From what is followed to what follows it, along its side. */
function gapOf(own: Box, to: Box, { side = 'bottom' }: Tie): number {
  switch (side) {
    case 'left':
      return to.x - own.x - own.width;
    case 'right':
      return own.x - to.x - to.width;
    case 'top':
      return to.y - own.y - own.height;
    default:
      return own.y - to.y - to.height;
  }
}

/** What rings, blocks and words along a circle need on each side of it, so that they lie over nothing of the page. */
function roomOf(own: readonly Member[], box: Box): typeof BARE {
  return own.reduce((room, { item }) => {
    const { at, tie } = item;
    if (tie?.as !== 'around' && tie?.as !== 'behind' && tie?.as !== 'along') return room;
    const b = tie.as === 'along' ? inkOf(item) : at.box;
    return {
      left: Math.max(room.left, box.x - b.x),
      top: Math.max(room.top, box.y - b.y),
      right: Math.max(room.right, b.x + b.width - box.x - box.width),
      bottom: Math.max(room.bottom, b.y + b.height - box.y - box.height),
    };
  }, BARE);
}

/** Where words along a circle have ink: the rest of their box is nobody's. */
function inkOf({ at: { box }, shape, seat }: FramedItem): Box {
  const ink = bounds(framePath({ box, shape, seat }));
  return { ...ink, x: box.x + ink.x, y: box.y + ink.y };
}

interface Stage {
  box: Box;
  own: readonly Member[];
  ring: Ring;
  tall?: boolean;
  fluid?: boolean;
}

/** What is followed, with all that lies behind it and over it. */
function staged(self: string, { box, own, ring, tall = false, fluid = false }: Stage): string {
  const over = own.filter(({ item }) => item.tie?.as !== 'beside');
  const markup = (beneath: boolean): string =>
    over
      .filter((m) => m.beneath === beneath)
      .map((m) => itemMarkup(m, liesOn(m.item, box), ring))
      .join('');
  const style = {
    ...{ display: 'flex', position: 'relative', 'align-items': tall ? 'stretch' : 'flex-start', 'min-width': '0' },
    ...{
      'max-width': '100%',
      width: fluid ? '100%' : null,
      flex: tall ? '1 1 0' : null,
      'min-height': tall ? '0' : null,
    },
  };
  return element(boxIn(ring), style, markup(true) + self + markup(false));
}

/** What is followed, with words above and below it, and beside it. */
function columned(stage: string, { box, own, ring, grows, tall }: Omit<Stage, 'fluid'> & { grows: boolean }): string {
  const on = (...sides: Tie['side'][]): Member[] =>
    own.filter(({ item: { tie } }) => tie?.as === 'beside' && sides.includes(tie.side ?? 'bottom'));
  const flat = on('top', 'bottom').map((m) => itemMarkup(m, standsAbove(m.item, box), ring));
  const column =
    flat.length === 0 && !grows
      ? stage
      : element(
          boxIn(ring),
          {
            ...{
              display: 'flex',
              'flex-direction': 'column',
              position: 'relative',
              'min-width': '0',
              'max-width': '100%',
            },
            flex: grows ? growing(box.width) : '0 1 auto',
            height: tall ? '100%' : null,
          },
          stage + flat.join(''),
        );
  return (
    column +
    on('left', 'right')
      .map((m) => itemMarkup(m, standsBeside(m.item, box, grows), ring))
      .join('')
  );
}

/** From half a width on, in its share of what there is. */
const growing = (width: number): string => `${trimNumber(width, 1)} 1 ${pt(width / 2)}`;

/** Words above or below: as wide as a share of what they follow, whose width does not hang on them. */
function standsAbove({ at, tie }: FramedItem, to: Box): Style {
  const { width } = at.box;
  const gap = roomy(gapOf(at.box, to, tie!));
  const off = share(at.box.x - to.x, to.width);
  return {
    ...{
      position: 'relative',
      width: '0',
      'min-width': share(width, to.width),
      'margin-left': off === '0%' ? null : off,
    },
    ...(tie!.side === 'top' ? { order: '-1', 'margin-bottom': gap } : { 'margin-top': gap }),
  };
}

/**
 * Words beside: in a row, as far as that has room; below each other elsewhere.
 * @param grows does what they are beside hang on its column? Then both give way until each has half of what it would take
 */
function standsBeside({ at, tie }: FramedItem, to: Box, grows: boolean): Style {
  const gap = roomy(gapOf(at.box, to, tie!));
  const along = tie!.along ?? 0;
  const { width } = at.box;
  return {
    ...{ position: 'relative', 'max-width': pt(width), 'min-width': '0', flex: grows ? growing(width) : '0 1 auto' },
    'align-self': tie!.align === 'start' ? 'flex-start' : tie!.align === 'end' ? 'flex-end' : null,
    top: along === 0 ? null : pt(along),
    ...(tie!.side === 'left' ? { order: '-1', 'margin-right': gap } : { 'margin-left': gap }),
  };
}

/** Over, behind, around or inside: from the edges of the box that they lie on, or at shares of it. */
export function liesOn({ at, tie }: FramedItem, to: Box): Style {
  const b = at.box;
  const [left, top] = [b.x - to.x, b.y - to.y];
  const [right, bottom] = [to.width - left - b.width, to.height - top - b.height];
  const position = 'absolute';
  switch (tie?.as) {
    case 'around':
    case 'behind':
      return { position, inset: [top, right, bottom, left].map(off).join(' ') };
    case 'inside':
    case 'along':
      return {
        ...{ position, left: share(left, to.width), top: share(top, to.height) },
        ...{ width: share(b.width, to.width), height: share(b.height, to.height) },
      };
    case 'over': {
      const middle = tie.side !== 'top' && tie.side !== 'bottom';
      return {
        ...{ position, left: share(left, to.width), width: share(b.width, to.width), 'min-height': pt(b.height) },
        ...(middle
          ? { top: `calc(50% + ${pt(tie.gap)})`, translate: '0 -50%' }
          : tie.side === 'top'
            ? { top: pt(top) }
            : { bottom: pt(bottom) }),
      };
    }
    default:
      return { position, left: pt(left), top: pt(top), width: pt(b.width), 'min-height': pt(b.height) };
  }
}

const ANCHOR = { top: 'flex-start', middle: 'center', bottom: 'flex-end' } as const;

const boxIn = ({ blocks }: Ring): string => (blocks ? 'div' : 'span');

/** Something added with what follows it in turn. @param stands where it stands among what it follows */
export function itemMarkup({ item }: Member, stands: Style, ring: Ring): string {
  const at = ring.all.findIndex((m) => m.item === item);
  // Of what follows it, the earlier lies beneath it.
  const own = ring.all.flatMap((m, i) =>
    m.item.tie?.to === item.id && m.item !== item ? [{ ...m, beneath: i < at }] : [],
  );
  const box = item.at.box;
  if (own.length === 0) return elementOf(item, stands, ring);
  const { position, ...self } = stands;
  const inner = elementOf(
    item,
    { position: 'relative', width: '100%', 'min-height': self['min-height'] ?? null },
    ring,
  );
  const stage = staged(inner, { box, own, ring, fluid: true });
  const beside = own.some((m) => m.item.tie?.as === 'beside');
  const content = beside ? columned(stage, { box, own, ring, grows: false, tall: false }) : stage;
  return element(boxIn(ring), { display: 'block', position: position ?? 'relative', ...self }, content);
}

/** The element of an item: its shape, and its words. */
function elementOf(item: FramedItem, stands: Style, ring: Ring): string {
  const { name, all } = ring;
  const { fill, turn, flip, opacity, at } = item;
  const text = item.text && wordsIn(at.box, item, item.text);
  const paint = fill?.kind === 'paint' ? fill.paint : null;
  const isPlain =
    item.shape.name === 'rectangle' &&
    equal(item.seat, FULL_SEAT) &&
    !item.outline &&
    !item.shadow &&
    !flip.horizontal &&
    !flip.vertical;
  const { inset } = text ?? {};
  const style: Style = {
    display: 'flex',
    'flex-direction': 'column',
    'justify-content': text ? ANCHOR[text.anchor] : null,
    'box-sizing': 'border-box',
    padding: inset ? [inset.top, inset.right, inset.bottom, inset.left].map(pt).join(' ') : null,
    background: isPlain && paint ? cssPaint(paint) : null,
    'backdrop-filter': isPlain ? blurOf(fill) : null,
    opacity: opacity < 1 ? trimNumber(opacity, 3) : null,
    rotate: turn === 0 ? null : `${trimNumber(turn, 3)}deg`,
    // What lies over the picture leaves it to the pointer.
    'pointer-events': text ? null : 'none',
    ...stands,
  };
  const drawn = isPlain ? '' : shapeDrawing(item, `${name}-${all.findIndex((m) => m.item === item) + 1}`);
  const words = text ? text.paragraphs.map((p, i) => paragraphMarkup(p, i === 0, ring)).join('') : '';
  const described = item.alt ? ` role="img" aria-label="${escapeHtml(item.alt)}"` : '';
  const label = isDecoration(item) ? ' aria-hidden="true"' : described;
  return element(boxIn(ring), style, drawn + words, label + laidMarkup(item.name, true));
}

/** What lies beneath shows through blurred (Filter Effects 2 §2, backdrop-filter). */
const blurOf = (fill: FramedItem['fill']): string | null => (isVeil(fill) ? `blur(${pt(fill.blur)})` : null);

/** A shape as a drawing that goes with its box (SVG 2 §8.2); before a veil what it blurs, cut to its shape. */
function shapeDrawing(item: FramedItem, id: string): string {
  const { box } = item.at;
  const frame = frameOfBlock(item, { box, turn: 0, flip: item.flip });
  const { defs, shadow, content, outline } = svgParts(frame, null, id);
  const n = (v: number): string => trimNumber(v, 3);
  const [sx, sy] = [item.flip.horizontal ? -1 : 1, item.flip.vertical ? -1 : 1];
  const mirrored =
    sx < 0 || sy < 0
      ? ` transform="translate(${n(sx < 0 ? box.width : 0)} ${n(sy < 0 ? box.height : 0)}) scale(${sx} ${sy})"`
      : '';
  const blur = blurOf(item.fill);
  const clip = blur === null ? { value: null, defs: '' } : cssClip(frame, framePath(frame), `${id}-veil`);
  const flipped = mirrored && blur !== null ? `${sx} ${sy}` : null;
  const veil =
    blur === null
      ? ''
      : span(
          {
            ...{ position: 'absolute', inset: '0', 'backdrop-filter': blur, 'clip-path': clip.value },
            ...{ scale: flipped, 'pointer-events': 'none' },
          },
          '',
        );
  const style = 'all:initial;position:absolute;inset:0;width:100%;height:100%;overflow:visible;pointer-events:none';
  // Lines keep their weight where the box is stretched (SVG 2 §13.9); in CSS pixels.
  const even = (content + outline).replace(
    /stroke-width="([\d.]+)"/g,
    (_all, w: string) => `stroke-width="${n(Number(w) / 0.75)}" vector-effect="non-scaling-stroke"`,
  );
  const defined = defs + clip.defs;
  return (
    `${veil}<svg style="${style}" viewBox="0 0 ${n(box.width)} ${n(box.height)}" preserveAspectRatio="none" aria-hidden="true">` +
    `${defined && `<defs>${defined}</defs>`}<g${mirrored}>${shadow}${even}</g></svg>`
  );
}

const ALIGN: Record<Paragraph['align'], string> = { start: 'start', centre: 'center', end: 'end', justify: 'justify' };
/** A line is so high, in ems of its letters: that of most fonts of the web (common practice). */
const LINE = 1.2;

/** A paragraph, or a heading by its level: real ones where blocks can stand, elsewhere what says that it is one (WAI-ARIA 1.2 §5.4). */
function paragraphMarkup(paragraph: Paragraph, isFirst: boolean, { blocks }: Ring): string {
  const { align, runs, bullet, indent, spacing, level } = paragraph;
  const style = {
    ...{ display: 'block', position: 'relative', 'text-align': ALIGN[align], 'white-space': 'pre-wrap' },
    'overflow-wrap': 'anywhere',
    'line-height': trimNumber(LINE * (spacing?.lines ?? 1), 3),
    'margin-top': !isFirst && spacing?.before ? pt(spacing.before) : null,
    'padding-left': indent?.left ? pt(indent.left) : null,
    'text-indent': indent?.first ? pt(indent.first) : null,
  };
  const mark = bullet && runs[0] ? [{ ...runs[0], text: `${bullet} ` }] : [];
  const inner = [...mark, ...runs].map(runMarkup).join('');
  if (blocks) return element(level === undefined ? 'p' : `h${level}`, style, inner);
  return span(style, inner, level === undefined ? '' : ` role="heading" aria-level="${level}"`);
}

/** Kinds of fonts (CSS Fonts 4 §2.1.3), which are not names. */
const GENERIC = /^(serif|sans-serif|monospace|cursive|fantasy|system-ui|ui-[a-z-]+)$/;

function runMarkup({ text, font, size, weight, italic, underline, paint }: Run): string {
  const ink = paint.kind === 'solid' ? paint : { kind: 'solid' as const, ...paint.stops[0]! };
  const face = font.replace(/['"\\;{}<>]/g, '');
  const style = {
    // Where none is named, those of the page.
    'font-family': face === '' ? 'inherit' : GENERIC.test(face) ? face : `'${face}', sans-serif`,
    'font-size': upTo(size, LETTERS_SHARE * 100, LEAST_LETTERS),
    'font-weight': String(weight),
    'font-style': italic ? 'italic' : null,
    'text-decoration': underline ? 'underline' : null,
    // What is inherited is said by the paragraph.
    ...{ 'white-space': 'inherit', 'line-height': 'inherit', 'overflow-wrap': 'inherit' },
    color: cssPaint(ink),
  };
  return span(style, text.split('\n').map(escapeHtml).join('<br>'));
}

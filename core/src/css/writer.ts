import type { Path } from '../geometry/path';
import { toCssPolygon, toSvgPath } from '../geometry/svg-path';
import { transform } from '../geometry/transform';
import { stopsInOrder, type Frame, type Paint, type Placement, type Size } from '../model/frame';
import { lyingOf, positionsThatHold, type Lying } from '../fluid/lying';
import { containZoom, deriveView } from '../placement/view';
import { silhouettePath } from '../placement/overstep';
import { escapeXml, rectangularGradient, svgParts, svgToneStep } from '../svg/writer';
import { keptShape } from './kept';
import { toneSteps } from '../tone/tone';
import { trimNumber } from '../units';

/** Markup and style for a page that somebody else runs. */
export interface CssFigure {
  html: string;
  css: string;
}

/** A page whose `<img>` is framed where it stands, among text or in a link: what goes round it must be phrasing content. */
export interface Within {
  /** The markup of the `<img>`, as the page has it. */
  img: string;
  /** What it is: a video lies in its box as an image does. */
  tag?: 'img' | 'video';
  /** More attributes of what goes round it. */
  attributes: string;
  /** Which of `filter` and `opacity` the page gives it and the frame's tone now says. */
  recoloured?: readonly string[];
  /** Where it stood: declarations that hang on its surroundings, such as float and margins, in the page's own words. */
  place?: Readonly<Record<string, string>>;
  /** Width and largest width in the page's own terms, in the place of points. */
  fluid?: { width: string; most: string } | null;
  /** A height that the page says by itself: then the frame's ratio is not kept, and the picture covers its box at every width. */
  height?: string | null;
  /** Does the image size itself, as the page has it? */
  natural?: boolean;
  /** Do further rules size what goes round it, as the page sizes the image? Its ratio is then that of the window. */
  declared?: { ratio: Size | null };
  /** Does the page itself say well how the picture lies in its box (`object-fit`, `object-position`)? */
  ownFit?: boolean;
}

/** What a page's own rules may have given an `<img>`, and what its frame gives it now. */
const INITIAL_STYLE: Record<string, string> = {
  margin: '0',
  padding: '0',
  border: '0',
  'border-radius': '0',
  outline: '0',
  background: 'none',
  'box-shadow': 'none',
  'clip-path': 'none',
  mask: 'none',
  position: 'static',
  inset: 'auto',
  transform: 'none',
  rotate: 'none',
  scale: 'none',
  translate: 'none',
  'object-fit': 'fill',
  'object-position': '50% 50%',
  'min-width': '0',
  'min-height': '0',
  'max-width': 'none',
  'max-height': 'none',
  'aspect-ratio': 'auto',
  float: 'none',
};

const n = (x: number): string => trimNumber(x, 4);
const percent = (part: number, whole: number): string => `${n((part / whole) * 100)}%`;

/**
 * The frame as a `<figure>` with an `<img>`, in fractions of its box, so that it stretches with a fluid column: the box
 * keeps its ratio, the picture its place, and outline and shadow are drawings that scale along. In a page the image goes on
 * sizing its box from within: only images are compressed where content decides about widths (CSS Sizing 3 §5.2.2).
 * @param picture address and pixels of the picture
 * @param name class of the figure, unique on the page; letters, digits and dashes
 * @param within puts it round an `<img>` of a page in the place of a figure of its own
 */
export function frameToCss(
  frame: Frame,
  picture: { src: string; size: Size },
  name = 'framed',
  within?: Within,
): CssFigure {
  const { box, tone } = frame;
  const part = within ? 'span' : 'div';
  const sure = within ? ' !important' : '';
  const img = within?.tag ?? 'img';
  const path = silhouettePath(frame);
  const parts = svgParts(frame, null, name);
  const rules: string[] = [];
  const rule = (selector: string, declarations: Record<string, string | null>): void => {
    const body = Object.entries(declarations)
      .filter(([, v]) => v !== null)
      .map(([k, v]) => `  ${k}: ${v}${selector === ` ${img}` ? sure : ''};`);
    if (body.length > 0) rules.push(`.${name}${selector} {\n${body.join('\n')}\n}`);
  };
  const flip = frame.flip.horizontal || frame.flip.vertical;
  const turn = [
    frame.turn === 0 ? '' : `rotate(${n(frame.turn)}deg)`,
    flip ? `scale(${frame.flip.horizontal ? -1 : 1}, ${frame.flip.vertical ? -1 : 1})` : '',
  ].filter(Boolean);
  const { transform: moved = 'none', position = 'relative', display, ...stands } = within?.place ?? {};
  // What the page moves it by keeps a name of its own, so that it can be told from the frame's turn.
  if (moved !== 'none') turn.unshift('var(--moved)');
  rule('', {
    margin: '0',
    ...stands,
    '--moved': moved === 'none' ? null : moved,
    position,
    ...(within
      ? {
          display: displayOf(display),
          width: within.fluid?.width ?? (displayOf(display) === 'block' ? 'fit-content' : null),
          'max-width': within.declared ? null : (within.fluid?.most ?? '100%'),
          'min-height': within.declared ? '0' : null,
          // A row that stretches what is in it does not stretch this.
          height: within.height ?? 'fit-content',
          // Like an image it stands on the line with its lower margin edge, and what is drawn beyond it is seen and not
          // reckoned with: a page gets no scroll bar from it (CSS Containment 2 §3.3).
          contain: 'layout',
        }
      : { width: '100%', 'max-width': `${n(box.width)}pt`, 'aspect-ratio': `${n(box.width)} / ${n(box.height)}` }),
    transform: turn.length > 0 ? turn.join(' ') : null,
    isolation: tone?.fading?.multiply ? null : 'isolate',
    'mix-blend-mode': tone?.fading?.multiply ? 'multiply' : null,
  });
  // Where the box has another ratio in other windows, what keeps its own is no share of it.
  const kept = within?.height || within?.declared ? keptShape(frame) : null;
  const clip = kept ? { value: null, defs: '' } : cssClip(frame, path, `${name}-clip`);
  rule(` > ${part}`, {
    ...(within
      ? { display: 'block', position: 'relative', height: within.height || within.declared ? '100%' : null }
      : { position: 'absolute', inset: '0' }),
    overflow: frame.overstep ? 'visible' : 'hidden',
    'clip-path': clip.value,
    mask: kept ? kept.mask : null,
    background: frame.backing ? cssPaint(frame.backing) : null,
  });
  const steps = toneSteps(tone);
  const blur = tone?.softness?.blur ?? 0;
  const filter = [steps.length > 0 ? `url(#${name}-tone)` : '', blur > 0 ? `blur(${n(blur)}pt)` : ''].filter(Boolean);
  const opacity = tone?.fading?.opacity ?? 1;
  const rest = (name: string, value: string): string | null => (within?.recoloured?.includes(name) ? value : null);
  const look = {
    filter: filter.length ? filter.join(' ') : rest('filter', 'none'),
    opacity: opacity === 1 ? rest('opacity', '1') : n(opacity),
  };
  const tiled = frame.placement.fit === 'tile';
  const place = within
    ? { ...INITIAL_STYLE, ...sizeImage(frame, within), ...placeWithin(frame, picture.size, within) }
    : placeImage(frame, picture.size);
  rule(` ${img}`, { ...place, ...look, ...(tiled && within ? { opacity: '0' } : {}) });
  if (within && hangsOnWindow(within) && !within.ownFit) rules.push(...narrower(frame, name, img));
  if (within) rules.push(...growing(frame, { name, img }, place['transform-origin'] === '0 0'));
  if (tiled) rule(' i', { ...placeTiles(frame, picture), ...look });
  rule(' > svg', {
    position: 'absolute',
    inset: '0',
    width: '100%',
    height: '100%',
    overflow: 'visible',
    'pointer-events': 'none',
  });
  const lies = kept
    ? `viewBox="${kept.viewBox}" preserveAspectRatio="${kept.aspect}"`
    : `viewBox="0 0 ${n(box.width)} ${n(box.height)}" preserveAspectRatio="none"`;
  const viewBox = `${lies} aria-hidden="true"`;
  // The parts below and above the picture are two drawings; both may refer to what the first one defines.
  const inside = frame.backing ? svgParts({ ...frame, backing: null }, null, name) : parts;
  // Where the ratio is not kept, lines keep their weight all the same (SVG 2 §13.9, vector-effect); in CSS pixels.
  const even = (markup: string): string =>
    within?.height || within?.declared
      ? markup.replace(
          /stroke-width="([\d.]+)"/g,
          (_all, w: string) => `stroke-width="${n(Number(w) / 0.75)}" vector-effect="non-scaling-stroke"`,
        )
      : markup;
  const above = even(inside.content + inside.outline);
  const filters =
    steps.length > 0
      ? `<filter id="${name}-tone" color-interpolation-filters="sRGB">${steps.map(svgToneStep).join('')}</filter>`
      : '';
  const defs = parts.defs + filters + clip.defs;
  const below = defs + parts.shadow;
  const lines = [
    within ? `<span class="${name}"${within.attributes}>` : `<figure class="${name}">`,
    below === '' ? '' : `  <svg ${viewBox}><defs>${defs}</defs>${parts.shadow}</svg>`,
    `  <${part}>${tiled ? '<i></i>' : ''}${within?.img ?? `<img src="${escapeXml(picture.src)}" alt="${escapeXml(frame.alt)}">`}</${part}>`,
    above === '' ? '' : `  <svg ${viewBox}>${above}</svg>`,
    within ? '</span>' : '</figure>',
  ].map((line) => (within ? line.trim() : line));
  return { html: lines.filter(Boolean).join(within ? '' : '\n'), css: rules.join('\n') };
}

/** Has its box another ratio in other windows? */
const hangsOnWindow = ({ natural, height, declared }: Within): boolean => !!(natural || height || declared);

/** How large an image in a page is: as its frame, or as the page has it. The box round it takes its size from it. */
function sizeImage({ box }: Frame, { fluid, height, natural, declared }: Within): Record<string, string | null> {
  if (natural) {
    const page = new Set([
      'max-width',
      'max-height',
      'min-width',
      'min-height',
      'aspect-ratio',
      'object-fit',
      'object-position',
    ]);
    return { display: 'block', ...Object.fromEntries([...page].map((name) => [name, null])) };
  }
  const ratio = declared ? declared.ratio : height ? null : box;
  return {
    display: 'block',
    width: fluid || declared ? '100%' : `${n(box.width)}pt`,
    'max-width': '100%',
    height: height || declared ? '100%' : 'auto',
    'aspect-ratio': ratio ? `${n(ratio.width)} / ${n(ratio.height)}` : 'auto',
  };
}

/**
 * Where the picture of an image in a page lies: drawn over the whole box and mapped from there to its place, in shares of
 * the box; where the box has no ratio of its own, it covers it about the point that it was aimed at.
 */
function placeWithin(frame: Frame, size: Size, within: Within): Record<string, string | null> {
  const { box, placement } = frame;
  if (placement.fit === 'tile') return {};
  const view = deriveView(placement, box, size);
  const p = view.placement;
  if (hangsOnWindow(within)) {
    if (within.ownFit) return { 'object-fit': null, 'object-position': null };
    if (p.fit === 'stretch') return { 'object-fit': 'fill' };
    if (p.fit === 'contain' && p.zoom <= containZoom(p, box, size) + 1e-9) {
      const at = objectPosition(p.aim, box, size, 'contain');
      const maps = [p.turn === 0 ? '' : `rotate(${n(p.turn)}deg)`, p.mirror ? 'scaleX(-1)' : ''].filter(Boolean);
      return {
        'object-fit': 'contain',
        'object-position': at,
        ...(maps.length > 0 ? { 'transform-origin': at, transform: maps.join(' ') } : {}),
      };
    }
    const maps = [
      p.turn === 0 ? '' : `rotate(${n(p.turn)}deg)`,
      p.zoom > 1 + 1e-9 ? `scale(${n(p.zoom)})` : '',
      p.mirror ? 'scaleX(-1)' : '',
    ].filter(Boolean);
    const widest = positionsThatHold(frame)?.at.at(-1);
    return {
      'object-fit': 'cover',
      ...covering(p, widest ?? lyingOf(p, box, size)),
      ...(maps.length > 0 ? { transform: maps.join(' ') } : {}),
    };
  }
  const plain = p.turn === 0 && !p.mirror;
  if (p.fit === 'stretch' && plain) return { 'object-fit': 'fill' };
  // What covers its own box is cut there.
  if (p.fit === 'cover' && !frame.overstep && p.zoom === 1 && plain && Math.abs(p.distortion - 1) < 1e-9)
    return { 'object-fit': 'cover', 'object-position': objectPosition(p.aim, box, size, 'cover') };
  const [, , , , e, f] = view.matrix;
  const across = (view.scale.x * size.width) / box.width;
  const down = (view.scale.y * size.height) / box.height;
  const map = [
    `translate(${percent(e, box.width)}, ${percent(f, box.height)})`,
    p.turn === 0 ? '' : `rotate(${n(p.turn)}deg)`,
    `scale(${trimNumber(p.mirror ? -across : across, 6)}, ${trimNumber(down, 6)})`,
  ].filter(Boolean);
  return { 'object-fit': 'fill', 'transform-origin': '0 0', transform: map.join(' ') };
}

/**
 * A picture that covers a box of any ratio, lying so in it. It is drawn closer about the same point, so that a share of what is hidden
 * stays one; mirrored about the one at which it covers the box after that, too.
 */
function covering({ zoom, mirror }: Placement, { x, y }: Lying): Record<string, string> {
  const share = (part: number): string => `${n(part * 100)}%`;
  const z = Math.max(1, zoom);
  const position = `${share(mirror ? 1 - x : x)} ${share(y)}`;
  const origin = `${share(mirror ? (x + z * (1 - x)) / (1 + z) : x)} ${share(y)}`;
  return { 'object-position': position, ...(z > 1 + 1e-9 || mirror ? { 'transform-origin': origin } : {}) };
}

/**
 * The picture grows while it is pointed at, or its link has the focus; not where readers ask for less motion (Media Queries 5 §12.1).
 * @param fromCorner is it mapped from the corner of its box? Growing, it moves by half of what it grows.
 */
function growing(
  { hover, overstep, placement }: Frame,
  { name, img }: { name: string; img: string },
  fromCorner: boolean,
): string[] {
  // A subject over the edge would leave its outline behind; tiles are no picture that grows.
  if (!hover || overstep || placement.fit === 'tile') return [];
  const more = fromCorner ? ` translate: ${percent(1 - hover.zoom, 2)} ${percent(1 - hover.zoom, 2)} !important;` : '';
  const pointed = `.${name}:hover ${img}, :is(a, button):focus-visible .${name} ${img}`;
  return [
    `@media (prefers-reduced-motion: no-preference) {\n  .${name} ${img} { transition: scale 0.5s ease-out, translate 0.5s ease-out; }\n  ${pointed} { scale: ${n(hover.zoom)} !important;${more} }\n}`,
  ];
}

/** Rules for windows of less than the widest kind, the narrower ones later, so that they count. */
function narrower(frame: Frame, name: string, img: string): string[] {
  const all = positionsThatHold(frame)?.at ?? [];
  return all
    .slice(0, -1)
    .reverse()
    .map((at) => {
      const body = Object.entries(covering(frame.placement, at)).map(([k, v]) => `    ${k}: ${v} !important;`);
      // Up to the next whole pixel, in the words that older browsers know, too (Media Queries 4 §2.4.2).
      return `@media (max-width: ${at.upTo! + 0.98}px) {\n  .${name} ${img} {\n${body.join('\n')}\n  }\n}`;
    });
}

/** `object-position`: percentages are of the difference of box and picture (CSS Images 3 §5.5, CSS Backgrounds 3 §2.6). */
function objectPosition(aim: { u: number; v: number }, box: Size, size: Size, fit: 'cover' | 'contain'): string {
  const [x, y] = [box.width / size.width, box.height / size.height];
  const k = fit === 'cover' ? Math.max(x, y) : Math.min(x, y);
  const at = (a: number, whole: number, picture: number): string => {
    const room = whole - picture * k;
    return Math.abs(room) < 1e-6 ? '50%' : percent(whole / 2 - a * picture * k, room);
  };
  return `${at(aim.u, box.width, size.width)} ${at(aim.v, box.height, size.height)}`;
}

/** How a box that is not replaced lies in its surroundings as an image of that `display` does (CSS Display 3 §2). */
const displayOf = (display = 'inline'): string =>
  /^(none|contents)$/.test(display) ? 'none' : display.startsWith('inline') ? 'inline-block' : 'block';

/**
 * The shape as a value of `clip-path` (CSS Masking 1 §5): a polygon where it has no curves, else a drawing in shares.
 * @param path as `framePath` has it @param id of the drawing
 */
export function cssClip(
  frame: Pick<Frame, 'box' | 'shape' | 'seat' | 'overstep'>,
  path: Path,
  id: string,
): { value: string | null; defs: string } {
  const { box, shape, seat } = frame;
  const fills = seat.fit === 'fill' && !frame.overstep;
  if (fills && (shape.name === 'rectangle' || shape.name === 'square')) return { value: null, defs: '' };
  if (fills && (shape.name === 'circle' || shape.name === 'ellipse'))
    return { value: 'ellipse(50% 50% at 50% 50%)', defs: '' };
  const straight = path.every((s) => s.op !== 'C' && s.op !== 'A');
  if (straight && path.filter((s) => s.op === 'M').length === 1 && path.length < 60)
    return { value: toCssPolygon(path, box), defs: '' };
  const d = toSvgPath(transform(path, [1 / box.width, 0, 0, 1 / box.height, 0, 0]), 6);
  return {
    value: `url(#${id})`,
    defs: `<clipPath id="${id}" clipPathUnits="objectBoundingBox"><path d="${d}"/></clipPath>`,
  };
}

/** Where the `<img>` lies in the box. */
function placeImage(frame: Frame, size: Size): Record<string, string | null> {
  const { box, placement } = frame;
  const view = deriveView(placement, box, size);
  const p = view.placement;
  if (placement.fit === 'tile')
    // The tiles are a background; the image itself stays for those who cannot see them.
    return { position: 'absolute', width: '1px', height: '1px', 'clip-path': 'inset(50%)' };
  const whole = { display: 'block', width: '100%', height: '100%' };
  if (placement.fit === 'stretch' && placement.turn === 0 && !placement.mirror)
    return { ...whole, 'object-fit': 'fill' };
  if (
    p.fit === 'cover' &&
    !frame.overstep &&
    p.zoom === 1 &&
    p.turn === 0 &&
    !p.mirror &&
    Math.abs(p.distortion - 1) < 1e-9
  )
    return { ...whole, 'object-fit': 'cover', 'object-position': objectPosition(p.aim, box, size, 'cover') };
  const width = view.scale.x * size.width;
  const height = view.scale.y * size.height;
  const [, , , , e, f] = view.matrix;
  const turned = [p.turn === 0 ? '' : `rotate(${n(p.turn)}deg)`, p.mirror ? 'scaleX(-1)' : ''].filter(Boolean);
  return {
    position: 'absolute',
    left: percent(e, box.width),
    top: percent(f, box.height),
    width: percent(width, box.width),
    height: percent(height, box.height),
    'max-width': 'none',
    'transform-origin': turned.length > 0 ? '0 0' : null,
    transform: turned.length > 0 ? turned.join(' ') : null,
  };
}

/** Tiles as a repeated background: size and place in fractions of the box. Mirrored and turned tiles are left plain. */
function placeTiles(frame: Frame, picture: { src: string; size: Size }): Record<string, string | null> {
  const { box } = frame;
  const view = deriveView(frame.placement, box, picture.size);
  const width = view.scale.x * picture.size.width;
  const height = view.scale.y * picture.size.height;
  const [, , , , e, f] = view.matrix;
  const at = (offset: number, free: number): string => (Math.abs(free) < 1e-9 ? '0%' : `${n((offset / free) * 100)}%`);
  return {
    position: 'absolute',
    inset: '0',
    'background-image': `url("${picture.src.replace(/["\\\n]/g, (c) => encodeURIComponent(c))}")`,
    'background-size': `${percent(width, box.width)} ${percent(height, box.height)}`,
    'background-position': `${at(e, box.width - width)} ${at(f, box.height - height)}`,
  };
}

/** A paint as a `background` of CSS. */
export function cssPaint(paint: Paint): string {
  const colour = (c: { colour: string; opacity: number }): string =>
    c.opacity === 1
      ? c.colour
      : `${c.colour}${Math.round(c.opacity * 255)
          .toString(16)
          .padStart(2, '0')}`;
  if (paint.kind === 'solid') return colour(paint);
  if (paint.kind === 'rectangular') {
    const box = { width: 100, height: 100 };
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" preserveAspectRatio="none">${rectangularGradient(paint, box, 'g')}</svg>`;
    return `url("data:image/svg+xml,${encodeURIComponent(svg).replace(/'/g, '%27')}") 0 0/100% 100%`;
  }
  const stops = stopsInOrder(paint)
    .map((s) => `${colour(s)} ${n(s.at * 100)}%`)
    .join(', ');
  // CSS counts angles from the top; ours from the right.
  return paint.kind === 'linear'
    ? `linear-gradient(${n(paint.angle + 90)}deg, ${stops})`
    : `radial-gradient(circle farthest-corner, ${stops})`;
}

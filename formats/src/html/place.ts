import { clamp, trimNumber, type Size } from '@gable/core';
import type { Edges, Fluid, Sizing, Style } from './box';
import { percentOf, PIXEL, pointsOf } from '../css/lengths';
import { SIDES } from '../css/shorthands';
import { ownDeclarations } from '../css/rules';

/** Layout declarations to copy from an image to the wrapper that replaces it. */
export interface Place {
  /** Declarations that hang on the image's surroundings: float, margins, its share of a grid, … */
  style: Readonly<Record<string, string>>;
  /** How it comes by its size. */
  sizing: Sizing;
  /** Does it size itself, since nothing that a frame could say tells how large it is? */
  natural: boolean;
  /** Is it an item of a flexible row? Images there are never narrower than they are (CSS Flexbox 1 §4.5). */
  item: boolean;
  /** Does the page say how the picture lies in its box, and not a frame of ours? */
  ownFit: boolean;
}

/** Properties that place an image among its surroundings; they go to the wrapper that replaces it. */
const PLACING =
  /^(float|clear|vertical-align|display|position|top|right|bottom|left|z-index|order|flex|flex-.*|align-self|justify-self|place-self|grid-area|grid-row.*|grid-column.*|shape-outside|shape-margin|break-.*)$/;

/** What moves an image from where it stands (CSS Transforms 2 §5). */
const MOVING = /^(transform|rotate|scale|translate)$/;

/** An element that is not positioned ignores them (CSS Positioned Layout 3 §3). */
const OFFSET = /^(position|top|right|bottom|left|z-index)$/;

/** What ends a declaration, or the style sheet, cannot go over. */
const isPlain = (value: string): boolean => !/[;{}<]/.test(value);

/** The same, as it was written with a frame. @param css its rules @param name its class */
export function writtenPlace(css: string, name: string): Place {
  const rule = new Map(ownDeclarations(new RegExp(`\\.${name} \\{([^{}]*)\\}`).exec(css)?.[1] ?? '').declarations);
  const style: Record<string, string> = {};
  for (const [name, value] of rule)
    if (PLACING.test(name) || /^(margin-.*|rotate|scale|translate)$/.test(name)) style[name] = value;
  if (rule.has('--moved')) style['transform'] = rule.get('--moved')!;
  const [, part, less = '0pt'] = /^(?:calc\()?([\d.]+%)(?: - ([\d.]+pt)\))?$/.exec(rule.get('width') ?? '') ?? [];
  const share = percentOf(part);
  const most = pointsOf(rule.get('max-width'));
  const fluid = share === null ? null : { share, less: pointsOf(less)!, most: most === null ? null : most / PIXEL };
  const image = new Map(ownDeclarations(new RegExp(`\\.${name} img \\{([^{}]*)\\}`).exec(css)?.[1] ?? '').important);
  const natural = image.size > 0 && !image.has('width');
  const height = rule.get('height') ?? 'fit-content';
  return {
    style,
    sizing: { fluid, said: height === 'fit-content' ? null : height },
    natural,
    item: rule.has('min-width'),
    ownFit: !image.has('object-fit'),
  };
}

/** The width of a frame that hangs on its column, as it is written with it. @param k how much wider it is than it was read */
export function writtenFluid({ share, less, most }: Fluid, k: number): { width: string; most: string } {
  const part = `${trimNumber(share * k * 100, 4)}%`;
  return {
    width: less === 0 ? part : `calc(${part} - ${trimNumber(less * k, 4)}pt)`,
    most: most === null ? '100%' : `${trimNumber(most * k, 3)}px`,
  };
}

/**
 * Where an image stands on its page.
 * @param round its border and padding
 * @param moves does the page's own `transform` stay, because a frame cannot say it?
 * @param inside what is said of the element that it stands in
 */
export function placeOf(
  style: Style,
  round: Edges,
  { moves, inside }: { moves: boolean; inside: Style | undefined },
): Record<string, string> {
  const out: Record<string, string> = {};
  const stands = !/^(relative|absolute|fixed|sticky)$/.test(style.get('position') ?? 'static');
  for (const [name, value] of style)
    if (isPlain(value) && (PLACING.test(name) ? !(stands && OFFSET.test(name)) : moves && MOVING.test(name)))
      out[name] = value;
  // Where border and padding were, there is room for the outline.
  for (const side of SIDES) {
    const said = style.get(`margin-${side}`) ?? '0';
    const margin = pointsOf(said);
    if (margin !== null && round[side] + margin !== 0)
      out[`margin-${side}`] = `${clamp(round[side] + margin, -9999, 9999)}pt`;
    else if (margin === null && isPlain(said)) out[`margin-${side}`] = said;
  }
  // In a grid an image is not stretched, other boxes are (CSS Box Alignment 3 §6.2, normal).
  const grid = /grid$/.test(inside?.get('display') ?? '') && !inside?.has('align-items') && !inside?.has('place-items');
  if (grid && !('align-self' in out) && !('place-self' in out)) out['align-self'] = 'start';
  return out;
}

/** What places a frame among its surroundings as it placed the image. @param declared is it sized as the page sizes that? */
export const standsWith = (
  { style, item, sizing }: Place,
  { box }: { box: Size },
  declared = false,
): Readonly<Record<string, string>> => ({
  ...style,
  ...(item &&
    (declared
      ? { 'flex-shrink': '0' }
      : sizing.fluid?.most !== null && { 'min-width': `min(${trimNumber(box.width, 4)}pt, 100%)` })),
});

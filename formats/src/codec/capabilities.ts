import { equal, GableError, shapeOf, type Frame } from '@gable/core';

export type Format = 'docx' | 'pptx' | 'xlsx' | 'odt' | 'odp' | 'ods' | 'odg' | 'svg' | 'html' | 'site';

/** What some formats cannot say of a frame, by name, with the words for it. */
export const FEATURES = {
  turn: 'a picture turned inside its shape',
  mirror: 'a mirrored picture',
  tile: 'a tiled picture',
  backing: 'a colour behind the picture',
  tone: 'a changed tone',
  seat: 'a shape that does not fill its box',
  spread: 'a shadow that is spread',
  blur: 'a shadow with a soft edge',
  inner: 'a shadow inside the shape',
  inside: 'an outline inside the edge',
  outside: 'an outline outside the edge',
  faded: 'an outline faded as a whole',
  gradient: 'an outline in a gradient',
  compound: 'an outline of several lines',
  shape: 'a shape that Gable does not know',
  outset: 'a picture that does not fill its box',
  flip: 'a flipped frame',
  group: 'a look of its own within a group of the older markup',
} as const;
export type Feature = keyof typeof FEATURES;

/** DrawingML (ISO/IEC 29500-1 §20.1). */
const DRAWINGML: ReadonlySet<Feature> = new Set([
  'turn',
  'mirror',
  'tile',
  'backing',
  'tone',
  'seat',
  'spread',
  'outside',
  'shape',
]);
/** OpenDocument has no terms for these, or readers do not share them. */
const OPENDOCUMENT: ReadonlySet<Feature> = new Set([
  'turn',
  'mirror',
  'backing',
  'tone',
  'seat',
  'spread',
  'blur',
  'inner',
  'gradient',
  'compound',
  'shape',
  'outset',
  'flip',
]);
const WEB: ReadonlySet<Feature> = new Set(['shape']);

/** Formats that pictures can be put into and taken out of. */
export const CAN_INSERT: ReadonlySet<Format> = new Set(['docx', 'pptx', 'svg']);

/** What each format cannot express natively. Some have an exact equivalent (`equivalents/`); the codecs know those. */
export const UNSUPPORTED: Readonly<Record<Format, ReadonlySet<Feature>>> = {
  docx: DRAWINGML,
  pptx: DRAWINGML,
  xlsx: DRAWINGML,
  odt: OPENDOCUMENT,
  odp: OPENDOCUMENT,
  ods: OPENDOCUMENT,
  odg: OPENDOCUMENT,
  svg: WEB,
  html: WEB,
  site: WEB,
};

/**
 * What of a frame a format cannot say natively. What stays as it was read is never touched, so it always fits.
 */
export function unsupportedIn(format: Format, was: Frame, next: Frame): Feature[] {
  const beyond = UNSUPPORTED[format];
  const p = next.placement;
  const lined = next.outline && !equal(next.outline, was.outline) ? next.outline : null;
  const shaded = next.shadow && !equal(next.shadow, was.shadow) ? next.shadow : null;
  const placed = !equal(p, was.placement);
  const found: [Feature, unknown][] = [
    ['turn', placed && p.turn !== 0],
    ['mirror', placed && p.mirror],
    ['tile', placed && p.fit === 'tile'],
    ['backing', next.backing && !equal(next.backing, was.backing)],
    ['tone', next.tone && !equal(next.tone, was.tone)],
    ['seat', next.seat.fit !== 'fill'],
    ['spread', shaded && shaded.spread !== 0],
    ['blur', shaded && shaded.blur > 0],
    ['inner', shaded?.kind === 'inner'],
    ['inside', lined?.side === 'inside'],
    ['outside', lined?.side === 'outside' || (lined?.gap ?? 0) > 0],
    ['faded', lined && (lined.opacity ?? 1) !== 1],
    ['gradient', lined && lined.paint.kind !== 'solid'],
    ['compound', lined && (lined.lines ?? 'single') !== 'single'],
    ['outset', placed && p.fit === 'contain'],
    ['flip', !equal(next.flip, was.flip)],
    ['shape', !shapeOf(next.shape) && !equal(next.shape, was.shape)],
  ];
  return found.filter(([name, is]) => is && beyond.has(name)).map(([name]) => name);
}

/** Does nothing differ but the alternative text? Then nothing else is written. */
export const onlyAlt = (was: Frame, next: Frame): boolean => equal({ ...was, alt: next.alt }, next);

/** Refuses what a format cannot say natively, before anything is written. @throws GableError `cannot-write` */
export function refuseUnsupported(n: number, unsupported: readonly Feature[]): void {
  if (unsupported.length === 0) return;
  throw new GableError(
    'cannot-write',
    `Picture ${n} has ${unsupported.map((m) => FEATURES[m]).join(' and ')}, which this format has no words for.`,
    'Take that back for this picture, or let it be painted into the pixels.',
    { n },
  );
}

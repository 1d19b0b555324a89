import { equal, GableError, shapeOf, type Frame, type Restyles } from '@gable/core';

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
  overstep: 'a subject that reaches over the edge',
  cast: 'a shadow of the subject on its picture',
  video: 'a video',
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
  'overstep',
  'cast',
  'video',
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
  'overstep',
  'cast',
  'video',
]);
const WEB: ReadonlySet<Feature> = new Set(['shape', 'video']);

/** Kinds of pictures that go into files as they come: what moves goes on moving. */
export type ImageType = 'png' | 'jpeg' | 'gif' | 'webp' | 'avif';
const EVERYWHERE: ReadonlySet<ImageType> = new Set(['png', 'jpeg', 'gif']);
/** What browsers show beside these. */
const IN_BROWSERS: ReadonlySet<ImageType> = new Set([...EVERYWHERE, 'webp', 'avif']);

/** What can be done with files of a format. */
export interface Capabilities {
  /** Kinds of pictures that its readers show; others become PNG. */
  images: ReadonlySet<ImageType>;
  /** What it cannot express natively. Some of it has an exact equivalent (`equivalents/`); the codecs know those. */
  lacks: ReadonlySet<Feature>;
  /** Its pages have a fixed size, or are laid out: a text's page by page, a web page for a window. */
  pages: 'fixed' | 'text' | 'web';
  /**
   * Where pictures can be put in, and taken out: among what lies on a page, or in front of all of that; between the blocks of
   * a text or of a web page; at a cell.
   */
  insert: 'page' | 'text' | 'web' | 'cell';
  /** Whatever lies on its pages can be removed, and put into another order. */
  arrange: boolean;
  /** What lies on one page can be put together in groups, and plain groups taken apart. */
  groups: boolean;
  /** Its pages can be put into another order, copied, made anew and taken out. */
  turns: boolean;
  /** What of a page can look otherwise: its own shapes and words, these and the colour behind it, or nothing. */
  restyles: Restyles;
  /** Its headers and footers can get pictures. */
  margin: boolean;
  /** Can something show by itself what lies beneath it, blurred? Elsewhere that is painted. */
  blurs: boolean;
  /** Can fonts be put into it, in the terms of its standard? */
  fonts: boolean;
  /** Can words show what stands in a cell? */
  cells: boolean;
  /** What can go from it to make it smaller: pixels and private data, private data alone, or nothing. */
  slim: 'all' | 'private' | 'none';
}

const OFFICE = {
  images: EVERYWHERE,
  ...{
    arrange: false,
    groups: false,
    turns: false,
    restyles: null,
    margin: false,
    blurs: false,
    fonts: true,
    cells: false,
  },
  slim: 'all',
} as const;
const OPEN_PAGES = {
  ...OFFICE,
  lacks: OPENDOCUMENT,
  pages: 'fixed',
  insert: 'page',
  arrange: true,
  groups: true,
  turns: true,
  restyles: 'all',
} as const;
const WEB_PAGE = {
  images: IN_BROWSERS,
  lacks: WEB,
  pages: 'web',
  insert: 'web',
  arrange: false,
  groups: false,
  turns: false,
  restyles: 'shapes',
  margin: false,
  blurs: true,
  fonts: true,
  cells: false,
} as const;

export const CAPABILITIES: Readonly<Record<Format, Capabilities>> = {
  docx: { ...OFFICE, lacks: DRAWINGML, pages: 'text', insert: 'text', restyles: 'all', margin: true },
  pptx: {
    ...OFFICE,
    lacks: DRAWINGML,
    pages: 'fixed',
    insert: 'page',
    arrange: true,
    groups: true,
    turns: true,
    restyles: 'all',
    // There is no documented way.
    fonts: false,
  },
  xlsx: {
    ...OFFICE,
    lacks: DRAWINGML,
    pages: 'fixed',
    insert: 'cell',
    groups: true,
    restyles: 'shapes',
    fonts: false,
    cells: true,
  },
  odt: { ...OFFICE, lacks: OPENDOCUMENT, pages: 'text', insert: 'text', restyles: 'all', margin: true },
  odp: OPEN_PAGES,
  ods: { ...OFFICE, lacks: OPENDOCUMENT, pages: 'fixed', insert: 'cell', groups: true, restyles: 'shapes' },
  odg: OPEN_PAGES,
  // On pages and in drawings the number of pixels can be the size on the page.
  svg: {
    images: EVERYWHERE,
    lacks: WEB,
    pages: 'fixed',
    insert: 'page',
    arrange: true,
    groups: true,
    turns: false,
    restyles: 'all',
    margin: false,
    blurs: false,
    fonts: true,
    cells: false,
    slim: 'none',
  },
  html: { ...WEB_PAGE, slim: 'none' },
  site: { ...WEB_PAGE, slim: 'private' },
};

/**
 * What of a frame a format cannot say natively. What stays as it was read is never touched, so it always fits.
 */
export function unsupportedIn(format: Format, was: Frame, next: Frame): Feature[] {
  const beyond = CAPABILITIES[format].lacks;
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
    ['overstep', next.overstep && !equal(next, was)],
    ['cast', next.overstep?.shadow && !equal(next, was)],
    ['video', next.video && !equal(next.video, was.video)],
    ['shape', !shapeOf(next.shape) && !equal(next.shape, was.shape)],
  ];
  return found.filter(([name, is]) => is && beyond.has(name)).map(([name]) => name);
}

/** What only concerns the picture in its box: where it must be painted, outline, shadow and shape stay the file's own. */
export const IN_THE_BOX: ReadonlySet<Feature> = new Set(['turn', 'mirror', 'tile', 'backing', 'tone', 'outset']);

/** Where a picture is painted into its box, a subject that reaches over that must be painted, too; and what is painted is no video. */
export const withOverstepping = (found: Feature[], { overstep, video }: Frame): Feature[] => {
  const painted = paintedOf(found);
  // Of what is painted nothing plays.
  const still = video && painted.length > 0 && !found.includes('video') ? (['video'] as const) : [];
  return overstep && painted.length > 0 && painted.every((m) => IN_THE_BOX.has(m))
    ? [...found, ...still, 'overstep']
    : [...found, ...still];
};

/** What of a frame must be painted where a format cannot say it: all but a video, whose picture stands by itself. */
export const paintedOf = (found: readonly Feature[]): Feature[] => found.filter((m) => m !== 'video');

/** Does nothing differ but the alternative text? Then nothing else is written. */
export const onlyAlt = (was: Frame, next: Frame): boolean => equal({ ...was, alt: next.alt }, next);

/** Refuses what a format cannot say natively, before anything is written. @throws GableError `cannot-write` */
export function refuseUnsupported(n: number, unsupported: readonly Feature[]): void {
  if (unsupported.length === 0) return;
  throw new GableError(
    'cannot-write',
    `Picture ${n} has ${unsupported.map((m) => FEATURES[m]).join(' and ')}, which this format cannot hold.`,
    'Undo that for this picture, or let it be painted into the pixels.',
    { n },
  );
}

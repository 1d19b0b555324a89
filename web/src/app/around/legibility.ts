import { inject, Injectable } from '@angular/core';
import {
  besideInText,
  calmestPlace,
  boxInText,
  FACE_COVERED,
  factsOfWords,
  frameOfBlock,
  frameOfItem,
  framePath,
  groundOf,
  papersOf,
  isAdded,
  isBand,
  isPictureItem,
  isVeil,
  itemIdOf,
  leastVeil,
  legibleInk,
  JUDGED_PIXELS,
  lettersIn,
  lookOfWords,
  meets,
  mixed,
  nearLetters,
  paintedBounds,
  regionOnPage,
  softened,
  stackOf,
  tonePixels,
  toSvgPath,
  withChildren,
  type Box,
  type BoxInWindow,
  type Document,
  type FramedItem,
  type ItemId,
  type Ground,
  type Page,
  type PictureItem,
  type Placed,
  type Tie,
  type WordsLook,
} from '@gable/core';
import { Painter } from '../paint/painter';
import { inWindow } from './in-window';
import { isWordsOfPage, withRuns } from './items';
import { measure } from './measure';
import { Images } from '../work/images';
import { keyOf, shownDocument, sizeOf, type WorkModel } from '../work/work-model';

/** How well words can be read, and what would help. */
export interface Legibility {
  /** Of the ink with what is beneath it; all but the worst twentieth of the pixels have that much. */
  contrast: number;
  /** What they need, by their size (WCAG 2.2 SC 1.4.3). */
  least: number;
  /** A colour that can be read there; null where the words can be, or none can. */
  ink: string | null;
  /** How opaque a dark (or light) ground must be at least; null where there is no need, or no way. */
  veil: { colour: string; opacity: number } | null;
  /** A colour that is less harsh there; null where the words are not. */
  soft: string | null;
  /** The share of a face that they cover. */
  face: number;
  /** The share of their letters that stick out of their shape. */
  outside: number;
  /** The width of the window that this is of, where that is not the one of the page as it is shown. */
  window?: number;
  /** By which rule they lie where the picture beneath is calm; null where they can be read as they are, or nowhere. */
  calm: Tie | null;
}

/** What is known of words without what would help. */
export type WordsSeen = Pick<Legibility, 'contrast' | 'least' | 'face' | 'outside'>;

/** The picture that words lie over, as it is on its page. */
interface Beneath {
  item: PictureItem;
  box: Box;
  /** Where in the stack of the page. */
  at: number;
  faces: readonly Box[];
}

/** Words where they lie. */
interface Seen extends WordsSeen, WordsLook {
  beneath: Ground;
  picture: Beneath | null;
  /** That picture, and what lies over it beneath them. */
  over: readonly Placed[];
}

/** A calm place is looked for on so many pixels along the longer side of the picture. */
const CALM_PIXELS = 240;
/** Windows in which words read about as well count as one. */
const NEAR = 0.02;
/** So much more is left for words, which another font may set wider. */
const SLACK = 1.05;

/** Judges words by what is painted beneath them. */
@Injectable()
export class LegibilityOf {
  private readonly painter = inject(Painter);
  private readonly images = inject(Images);

  /** What pictures are known: words over others are judged anew when these are. */
  readonly known = this.images.seen;

  /** How well words can be read, and what they cover. @param ground behind their page, where that does not say it */
  async facts(m: WorkModel, item: FramedItem, ground?: string): Promise<WordsSeen | null> {
    const seen = await this.look(m, item, ground);
    if (!seen) return null;
    const { contrast, least, face, outside } = seen;
    return { contrast, least, face, outside };
  }

  /** The same, with what would help. @param palette colours of the page */
  async of(m: WorkModel, item: FramedItem, palette: readonly string[], ground?: string): Promise<Legibility | null> {
    const seen = await this.look(m, item, ground);
    if (!seen) return null;
    const { contrast, least, face, outside, ink, own, beneath, picture, over } = seen;
    const reads = contrast >= least;
    const calm =
      picture && item.tie?.as === 'over' && item.tie.to === picture.item.id && (!reads || face > FACE_COVERED)
        ? await this.calmest(m, over, { item, picture, ink, least, behind: beneath.behind })
        : null;
    const judged = { contrast, least, face, outside, calm, ink: null, veil: null, soft: null };
    const flattened = own ? flat(beneath, own) : beneath;
    if (reads) return { ...judged, soft: softened(ink, flattened) };
    const dark = leastVeil(ink, beneath, '#000000', least);
    const light = leastVeil(ink, beneath, '#ffffff', least);
    const veil =
      dark !== null && (light === null || dark <= light)
        ? { colour: '#000000', opacity: dark }
        : light !== null
          ? { colour: '#ffffff', opacity: light }
          : null;
    return { ...judged, ink: legibleInk(flattened, palette, least), veil };
  }

  /**
   * The same in that of some windows in which words on a web page can be read worst.
   * @param boxes of the picture that they stand around, in these windows
   */
  async atWorst(
    m: WorkModel,
    item: FramedItem,
    palette: readonly string[],
    { ground, boxes }: { ground: string | undefined; boxes: readonly BoxInWindow[] },
  ): Promise<Legibility | null> {
    const here = await this.of(m, item, palette, ground);
    const picture = m.work.pictures.find((p) => itemIdOf(p) === besideInText(item));
    if (!here || !picture) return here;
    let worst: Legibility = here;
    for (const box of boxes) {
      const seen = inWindow(m, picture, box);
      const there = shownDocument(seen).items[item.id];
      const judged = there?.kind === 'framed' ? await this.of(seen, there, palette, ground) : null;
      if (judged && judged.contrast / judged.least < worst.contrast / worst.least - NEAR)
        // What fits its shape, and which place is calm, is for the page as it is shown.
        worst = { ...judged, outside: here.outside, calm: here.calm, soft: null, window: box.window };
    }
    return worst;
  }

  /** What lies beneath words, and how well they can be read there; null for what is not to be judged. */
  private async look(m: WorkModel, item: FramedItem, ground?: string): Promise<Seen | null> {
    const document = shownDocument(m);
    const holds = (id: ItemId): boolean => withChildren(document, id).includes(item.id);
    const page =
      document.pages.find((p) => p.items.some(holds)) ?? besidePicture(document, item) ?? alone(item, ground);
    const look = lookOfWords(isWordsOfPage(item) ? asSeen(item, ground) : item);
    if (!look || !page) return null;
    const stack = stackOf(document, page).map((placed) => ({ ...placed, box: boxOf(placed) }));
    const below = stack.slice(
      0,
      stack.findIndex((p) => p.item.id === item.id),
    );
    const behind = ground ?? groundOf(page);
    const blur = isVeil(item.fill) ? item.fill.blur : 0;
    const box = nearLetters(measure(), item);
    const pixels = await this.painted(m, below, { box, behind, blur, pixels: JUDGED_PIXELS });
    if (!pixels) return null;
    const beneath: Ground = { data: pixels.data, behind };
    const picture = this.beneath(m, document, below, item);
    return {
      ...{ ...look, beneath, picture, over: picture ? below.slice(picture.at) : [] },
      ...factsOfWords(measure(), item, look, { beneath, faces: picture?.faces ?? [] }),
      // A web page makes room for its own words.
      ...(isWordsOfPage(item) && { outside: 0 }),
    };
  }

  /** The picture that words lie over, by what they follow; null where they do not. */
  private beneath(m: WorkModel, document: Document, stack: readonly Placed[], item: FramedItem): Beneath | null {
    let to = item.tie?.to;
    for (let i = 0; i < stack.length && to !== undefined; i++) {
      const at = stack.findIndex((p) => p.item.id === to);
      const placed = stack[at];
      if (!placed) return null;
      const found = placed.item;
      if (!isPictureItem(found)) {
        to = document.items[to]?.tie?.to;
        continue;
      }
      const picture = m.work.pictures.find((p) => itemIdOf(p) === found.id);
      if (!picture || !meets(placed.box, item.at.box)) return null;
      const { box, turn, flip } = placed;
      const frame = { ...frameOfItem(found, picture.n), box, turn, flip };
      const regions = this.images.seen()[keyOf(m.work, frame)]?.subject?.regions ?? [];
      const size = sizeOf(picture, frame);
      return { item: found, box, at, faces: regions.map((r) => regionOnPage(frame, r, size)) };
    }
    return null;
  }

  /** The rule by which words lie over a picture where that is calmest; null where there is no such place. */
  private async calmest(
    m: WorkModel,
    stack: readonly Placed[],
    words: { item: FramedItem; picture: Beneath; ink: string; least: number; behind: string },
  ): Promise<Tie | null> {
    const { item, picture, ink, least, behind } = words;
    const { box, faces } = picture;
    const k = CALM_PIXELS / Math.max(box.width, box.height);
    const painted = await this.painted(m, stack, { box, behind: null, blur: 0, pixels: CALM_PIXELS });
    if (!painted) return null;
    const letters = lettersIn(measure(), item);
    const { inset } = item.text!;
    const width = Math.min(box.width * 0.9, letters.width * SLACK + inset.left + inset.right);
    const { height } = item.at.box;
    const avoid = faces.map((f) => ({
      ...{ x: (f.x - box.x) * k, y: (f.y - box.y) * k },
      ...{ width: f.width * k, height: f.height * k },
    }));
    const wanted = { ink, least, behind, avoid };
    const place = calmestPlace(painted, { width: width * k, height: height * k }, wanted);
    if (!place) return null;
    const { to } = item.tie!;
    return {
      ...{ to, as: 'over', align: 'centre', share: width / box.width },
      along: Math.round(place.x / k + width / 2 - box.width / 2),
      gap: Math.round(place.y / k + height / 2 - box.height / 2),
    };
  }

  /** What lies beneath a box, as pixels. @param blur of them, in points @param pixels along its longer side */
  private async painted(
    m: WorkModel,
    stack: readonly Placed[],
    { box, behind, blur, pixels }: { box: Box; behind: string | null; blur: number; pixels: number },
  ): Promise<ImageData | null> {
    const k = pixels / Math.max(box.width, box.height);
    const canvas = new OffscreenCanvas(Math.max(1, Math.round(box.width * k)), Math.max(1, Math.round(box.height * k)));
    const context = canvas.getContext('2d', { willReadFrequently: true });
    if (!context) return null;
    if (behind !== null) {
      context.fillStyle = behind;
      context.fillRect(0, 0, canvas.width, canvas.height);
    }
    context.scale(k, k);
    context.translate(-box.x, -box.y);
    for (const placed of stack) await this.paint(context, m, placed, k);
    if (blur > 0) context.drawImage(blurred(context, blur * k), box.x, box.y, box.width, box.height);
    return context.getImageData(0, 0, canvas.width, canvas.height);
  }

  private async paint(
    context: OffscreenCanvasRenderingContext2D,
    m: WorkModel,
    placed: Placed,
    k: number,
  ): Promise<void> {
    const { item, box, turn, flip } = placed;
    if (item.kind !== 'framed') return;
    if (isPictureItem(item)) {
      const picture = m.work.pictures.find((p) => itemIdOf(p) === item.id);
      if (!picture) return;
      const frame = { ...frameOfItem(item, picture.n), box, turn, flip };
      const b = paintedBounds(frame);
      const [width, height] = [b.width, b.height].map((v) => Math.max(1, Math.round(v * k))) as [number, number];
      // Words are judged of each state by itself: what is asked for one takes no place of another's.
      const owner = {};
      const to = { width, height, margin: 0, whole: true };
      const piece = await this.painter.paintTry(owner, keyOf(m.work, frame), frame, to);
      if (!piece) return;
      const at = [box.x + b.x, box.y + b.y, b.width, b.height] as const;
      context.drawImage(piece.bitmap, piece.x, 0, piece.width, piece.height, ...at);
      piece.release();
      return;
    }
    if (item.fill?.kind !== 'paint' || item.fill.paint.kind !== 'solid') return;
    const frame = frameOfBlock(item, { box, turn, flip });
    const { colour, opacity } = item.fill.paint;
    const path = new Path2D(toSvgPath(framePath(frame)));
    const soft = isVeil(item.fill) ? blurred(context, item.fill.blur * k) : null;
    context.save();
    context.translate(box.x + box.width / 2, box.y + box.height / 2);
    context.rotate((turn / 180) * Math.PI);
    context.translate(-box.width / 2, -box.height / 2);
    if (soft) {
      context.save();
      context.clip(path, 'evenodd');
      context.resetTransform();
      context.drawImage(soft, 0, 0);
      context.restore();
    }
    context.globalAlpha = opacity;
    context.fillStyle = colour;
    context.fill(path, 'evenodd');
    context.restore();
  }
}

/** What was painted, blurred. @param sigma in pixels */
function blurred({ canvas }: OffscreenCanvasRenderingContext2D, sigma: number): OffscreenCanvas {
  const { width, height } = canvas;
  const out = new OffscreenCanvas(width, height);
  const context = out.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(canvas, 0, 0);
  const { data } = tonePixels(context.getImageData(0, 0, width, height), undefined, { x: sigma, y: sigma });
  context.putImageData(new ImageData(new Uint8ClampedArray(data), width, height), 0, 0);
  return out;
}

/** In a line of a text a box counts from its own corner. */
const boxOf = ({ item, box }: Placed): Box => {
  if (item.at.on !== 'line' && item.at.on !== 'element') return box;
  // On a web page a band goes from edge to edge.
  return item.at.on === 'element' && isBand(item)
    ? { ...box, x: box.x - FAR, width: box.width + 2 * FAR }
    : boxInText(item);
};
/** Beyond every window, in points. */
const FAR = 4000;

/** What of a text lies about a picture, as a page: there all counts from the same place. */
function besidePicture(document: Document, item: FramedItem): Page | undefined {
  const picture = besideInText(item);
  const story = document.stories.find((s) => s.items.includes(picture ?? ''));
  const isThere = (id: string): boolean => {
    const own = document.items[id];
    return id === picture || (!!own && isAdded(id) && besideInText(own) === picture);
  };
  return story && { ...PAGE, ground: papersOf(document)[0]?.ground ?? null, items: story.items.filter(isThere) };
}
const PAGE: Page = {
  ...{ id: 'text', size: { width: 1, height: 1 }, ground: null, layers: [], items: [] },
  margins: { top: 0, right: 0, bottom: 0, left: 0 },
};

/** Words that a web page has itself, on what is behind them there; where that is no one colour they are not judged. */
const alone = (item: FramedItem, ground: string | undefined): Page | undefined =>
  isWordsOfPage(item) && ground !== undefined ? { ...PAGE, items: [item.id] } : undefined;

/** Words in the colours that they come to on what is behind them. */
function asSeen(item: FramedItem, ground = '#ffffff'): FramedItem {
  const own = item.fill?.kind === 'paint' && item.fill.paint.kind === 'solid' ? item.fill.paint : null;
  const behind = own ? mixed(ground, own.colour, own.opacity) : ground;
  const flat = ({ paint }: Run): Run['paint'] =>
    paint.kind === 'solid' ? { ...paint, colour: mixed(behind, paint.colour, paint.opacity), opacity: 1 } : paint;
  return item.text ? { ...item, text: withRuns(item.text, (run) => ({ ...run, paint: flat(run) })) } : item;
}
type Run = NonNullable<FramedItem['text']>['paragraphs'][number]['runs'][number];

/** Pixels with a paint over them. */
function flat({ data, behind }: Ground, { colour, opacity }: { colour: string; opacity: number }): Ground {
  const over = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
  const out = new Uint8ClampedArray(data);
  for (let i = 0; i < out.length; i++) if (i % 4 < 3) out[i] = out[i]! * (1 - opacity) + over[i % 4]! * opacity;
  return { data: out, behind };
}

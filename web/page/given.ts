/** Pictures that the pages show themselves, so that what lies over them is seen. */
import type { Given, Spot } from './told';

/** What was given, by its name: an address for a web page, a painting for a text. */
const known = new Map<string, { url: string } | { painted: ImageBitmap }>();
/** What is shown on the pages as they are laid out now; a picture of a header is on each of them. */
let shown = new Map<number, HTMLElement[]>();

type Shown = HTMLImageElement | HTMLVideoElement;

/** The pages are laid out anew: none is shown yet. */
export const forgetShown = (): void => {
  shown = new Map();
};

/** Shows pictures in their boxes. @returns when those that are new can be seen */
export async function showGiven(given: readonly Given[]): Promise<void> {
  const coming: Promise<unknown>[] = [];
  for (const { n, key, data, painted, at } of given) {
    if (data) known.set(key, { url: URL.createObjectURL(data) });
    if (painted) known.set(key, { painted });
    const what = known.get(key);
    if (!what) continue;
    const boxes = [...document.querySelectorAll<HTMLElement>(`[data-picture="${n}"]`)];
    if ('painted' in what) {
      if (at) showPainted(n, boxes, what.painted, at);
      continue;
    }
    for (const box of boxes) {
      const image = (box.matches('img, video') ? box : box.querySelector('img, video')) as Shown | null;
      if (!image) continue;
      if (image instanceof HTMLVideoElement) {
        // Of a video its picture is seen.
        image.poster = what.url;
        box.dataset['seen'] = '';
        continue;
      }
      // What was seen before is there at once; what is new may take its time.
      image.decoding = data ? 'async' : 'sync';
      image.src = what.url;
      box.dataset['seen'] = '';
      if (data) coming.push(image.decode().catch(() => undefined));
    }
    shown.set(n, boxes);
  }
  await Promise.all(coming);
}

function showPainted(
  n: number,
  boxes: readonly HTMLElement[],
  painted: ImageBitmap,
  { x, y, width, height }: Spot,
): void {
  for (const old of shown.get(n) ?? []) old.remove();
  const canvases = boxes.map((box) => {
    const canvas = document.createElement('canvas');
    Object.assign(canvas, { width: painted.width, height: painted.height });
    canvas.getContext('2d')!.drawImage(painted, 0, 0);
    canvas.style.cssText = `position:absolute;visibility:visible;left:${x}px;top:${y}px;width:${width}px;height:${height}px;max-width:none`;
    box.append(canvas);
    return canvas;
  });
  shown.set(n, canvases);
}

/** Leaves pictures to the window round the pages, which paints them as they are being changed; all others are seen. */
export function leave(numbers: readonly number[]): void {
  for (const [n, elements] of shown)
    for (const e of elements) {
      const seen = e.matches('canvas') ? 'visible' : '';
      e.style.setProperty('visibility', numbers.includes(n) ? 'hidden' : seen, 'important');
    }
}

export const shownNumbers = (): number[] => [...shown.keys()];

/** Pictures that the page can show by itself and has not been given. */
export const lackingNumbers = (): number[] =>
  [...document.querySelectorAll<HTMLElement>('[data-picture][data-shown]:not([data-seen])')].map((e) =>
    Number(e.dataset['picture']),
  );

/**
 * The page of a document, laid out inside a frame that has no rights at all: no origin, no network, no storage. It gets
 * the document's bytes, lays it out, and tells where its pictures lie. Each picture is a clear stand-in as many pixels wide
 * as its number says, so that it can be told which is which.
 */
import { renderAsync } from 'docx-preview';
import type { PictureOnPage } from './told';

const host = document.getElementById('host')!;
const tell = (message: object): void => window.parent.postMessage({ page: true, ...message }, '*');

const absolute = (e: Element): { x: number; y: number; width: number; height: number } => {
  const b = e.getBoundingClientRect();
  return { x: b.left + window.scrollX, y: b.top + window.scrollY, width: b.width, height: b.height };
};

async function layOut(bytes: ArrayBuffer, id: number): Promise<void> {
  await renderAsync(bytes, host, undefined, {
    inWrapper: true,
    breakPages: true,
    ignoreLastRenderedPageBreak: false,
    useBase64URL: true,
    renderHeaders: true,
    renderFooters: true,
    renderFootnotes: true,
    experimental: true,
  });
  const images = [...host.querySelectorAll('img')];
  await Promise.all(images.map((i) => i.decode().catch(() => undefined)));
  const pictures: PictureOnPage[] = [];
  for (const image of images) {
    const box = absolute(image);
    const paragraph = image.closest('p');
    const p = paragraph ? absolute(paragraph) : box;
    pictures.push({ n: image.naturalWidth, ...box, inParagraph: { x: box.x - p.x, y: box.y - p.y } });
  }
  const pages = [...host.querySelectorAll('section')].map(absolute);
  tell({
    id,
    pictures,
    pages,
    width: document.documentElement.scrollWidth,
    height: document.documentElement.scrollHeight,
  });
}

let busy: Promise<void> = Promise.resolve();
window.addEventListener('message', ({ data, source }: MessageEvent<{ bytes: ArrayBuffer; id: number }>) => {
  if (source !== window.parent || !(data.bytes instanceof ArrayBuffer)) return;
  // One at a time: two layouts would be put into the same page.
  busy = busy.then(() =>
    layOut(data.bytes, data.id).catch((error: unknown) => tell({ id: data.id, failed: String(error) })),
  );
});
tell({ ready: true });

import {
  aimLying,
  besideInText,
  deriveView,
  frameOfItem,
  heightOfWords,
  isPictureItem,
  itemIdOf,
  lettersAt,
  rangeAt,
  rangesOf,
  type BoxInWindow,
  type FramedItem,
  type Item,
} from '@gable/core';
import type { WorkPicture } from '@gable/contract';
import { PX } from '../page/place';
import { sizeOf, type WorkModel } from '../work/work-model';
import { withRuns } from './items';

/** A work as a picture of a web page, and the words around it, are seen in a window: its box there, how it lies in that, and letters so small. */
export function inWindow(m: WorkModel, picture: WorkPicture, box: BoxInWindow): WorkModel {
  const id = itemIdOf(picture);
  const own = m.document.items[id];
  if (!own || !isPictureItem(own)) return m;
  const window = box.window / PX;
  const [width, height] = [box.width / PX, box.height / PX];
  const frame = frameOfItem(own, picture.n);
  const size = sizeOf(picture, frame);
  const { placement } = deriveView(frame.placement, frame.box, size);
  const lying = rangeAt(rangesOf(frame, size), box.window);
  const aim = placement.fit === 'cover' ? aimLying(lying, placement, { width, height }, size) : placement.aim;
  const { positions, ...fill } = own.fill;
  void positions;
  const seen: Item = {
    ...own,
    at: { ...own.at, box: { ...own.at.box, width, height } },
    fill: { ...fill, placement: { ...placement, aim } },
  };
  const items = Object.values(m.document.items).map((item): Item => {
    if (item.id === id) return seen;
    return item.kind === 'framed' && item.text && besideInText(item) === id ? smaller(item, window, width) : item;
  });
  return { ...m, preview: null, document: { ...m.document, items: Object.fromEntries(items.map((i) => [i.id, i])) } };
}

function smaller(item: FramedItem, window: number, width: number): FramedItem {
  const text = withRuns(item.text!, (run) => ({ ...run, size: lettersAt(run.size, window) }));
  const wide = (item.tie?.share ?? 1) * width;
  const box = { ...item.at.box, width: wide, height: heightOfWords(text, wide) };
  return { ...item, text, at: { ...item.at, box } as FramedItem['at'] };
}

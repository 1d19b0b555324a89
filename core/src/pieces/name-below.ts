import { clamp } from '../geometry/numeric';
import { LARGE } from './name-beside';
import { heightOfWords, inkOn, sizeFor, tieTo, tiedItem, wordsOf, type Piece } from './piece';

/** A name may be wider than its picture, by this share of it at most. */
const WIDER = 1.2;

export const nameBelow: Piece = {
  name: 'name-below',
  label: 'Name below',
  note: 'a caption in the middle',
  synonyms: ['caption', 'title below', 'label', 'legend', 'subtitle'],
  items(context) {
    const { drawn, page, flows, ground, colours, font, words } = context;
    const ink = inkOn(ground, colours);
    const text = wordsOf(font, [
      {
        text: words.name,
        size: Math.min(sizeFor(drawn.width, 0.1), flows ? LARGE : Infinity),
        weight: 700,
        ink,
        align: 'centre',
      },
    ]);
    // In a text it stays in its column.
    const column = page.size.width - page.margins.left - page.margins.right;
    const share = flows ? clamp(column / drawn.width, 1, WIDER) : WIDER;
    const height = heightOfWords(text, drawn.width * share);
    const gap = Math.max(3, Math.round(drawn.height * 0.03));
    const below = page.size.height - drawn.y - drawn.height;
    const item = tiedItem(context, {
      ...{ text, size: { width: drawn.width, height } },
      tie: tieTo(context, {
        as: 'beside',
        side: below >= height + gap ? 'bottom' : 'top',
        gap,
        share,
        align: 'centre',
      }),
    });
    return [{ item, layer: 'front' }];
  },
};

/**
 * Grounds of pages and the words on them by WCAG 2.2 SC 1.4.3; a piece as a document of its own, by hand; ties in texts, by hand.
 */
import {
  contrast,
  documentOfPictures,
  FULL_SEAT,
  groundColours,
  inking,
  applyAll,
  pieceDocument,
  resolveTies,
  unreadableOn,
  type Document,
  type FramedItem,
  type Tie,
} from '../src/index';

const solid = (colour: string): { kind: 'solid'; colour: string; opacity: number } => ({
  kind: 'solid',
  colour,
  opacity: 1,
});
const item = (id: string, more: Partial<FramedItem> = {}): FramedItem => ({
  ...{ kind: 'framed', id, at: { on: 'page', box: { x: 10, y: 10, width: 100, height: 40 } }, turn: 0, opacity: 1 },
  ...{
    flip: { horizontal: false, vertical: false },
    alt: '',
    shape: { name: 'rectangle', knobs: {} },
    seat: FULL_SEAT,
  },
  ...{ outline: null, shadow: null, fill: null, text: null },
  ...more,
});
const words = (colour: string, size = 12): FramedItem['text'] => ({
  ...{ anchor: 'top', inset: { top: 0, right: 0, bottom: 0, left: 0 } },
  paragraphs: [
    {
      align: 'start',
      runs: [
        { text: 'Words', font: 'Arial', size, weight: 400, italic: false, underline: false, paint: solid(colour) },
      ],
    },
  ],
});
const page = (...items: FramedItem[]): Document => ({
  ...documentOfPictures([], { sheets: [{ width: 400, height: 300, background: '#ffffff', items }] }),
});
const failing = (document: Document, ground?: string): string[] =>
  unreadableOn(document, document.pages[0]!, { ...(ground && { ground }) }).map((u) => u.item.id);

describe('words on a ground', () => {
  test('#767676 on white can be read at any size, a shade paler only where letters are large', () => {
    // 4.54 : 1 and 4.48 : 1 (WCAG 2.2 SC 1.4.3; 18 pt is large).
    expect(failing(page(item('a', { text: words('#767676') })))).toEqual([]);
    expect(failing(page(item('a', { text: words('#777777') })))).toEqual(['a']);
    expect(failing(page(item('a', { text: words('#777777', 18) })))).toEqual([]);
  });

  test('what they stand on counts: their own fill, a block that holds them, and not one beside them', () => {
    const paint = (colour: string): FramedItem['fill'] => ({ kind: 'paint', paint: solid(colour) });
    const text = words('#ffffff');
    const large = { on: 'page', box: { x: 0, y: 0, width: 200, height: 100 } } as const;
    const small = { on: 'page', box: { x: 0, y: 0, width: 50, height: 100 } } as const;
    expect(failing(page(item('a', { text })))).toEqual(['a']);
    expect(failing(page(item('a', { text, fill: paint('#22302f') })))).toEqual([]);
    expect(failing(page(item('b', { at: large, fill: paint('#22302f') }), item('a', { text })))).toEqual([]);
    expect(failing(page(item('b', { at: small, fill: paint('#22302f') }), item('a', { text })))).toEqual(['a']);
    // What lies over them is not beneath them.
    expect(failing(page(item('a', { text }), item('b', { at: large, fill: paint('#22302f') })))).toEqual(['a']);
  });

  test('of the grounds that are offered half are dark enough for white words, the others for black ones; inked, all can be read', () => {
    const colours = ['#b5482a', '#2f6b6b', '#d8b48a', '#22302f'];
    const all = groundColours(colours);
    const dark = all.filter((c) => contrast(c, '#ffffff') >= 7);
    const pale = all.filter((c) => contrast(c, '#000000') >= 7);
    expect(dark.length).toBeGreaterThanOrEqual(3);
    expect(pale.length).toBeGreaterThanOrEqual(3);
    expect(dark.length + pale.length).toBe(all.length);
    for (const ground of all) {
      const document = page(item('a', { text: words('#777777') }), item('b', { text: words('#b5482a') }));
      const found = unreadableOn(document, document.pages[0]!, { ground, colours });
      expect(failing(applyAll(document, inking(found)).document, ground)).toEqual([]);
    }
  });
});

describe('a piece by itself', () => {
  const picture = {
    n: 1,
    where: { part: 'a', place: 'slide', page: 1 },
    size: { width: 100, height: 100 },
    frame: {
      ...{ n: 1, box: { x: 100, y: 80, width: 60, height: 60 }, turn: 0, flow: 'floating' as const, alt: '' },
      ...{ flip: { horizontal: false, vertical: false }, shape: { name: 'circle', knobs: {} }, seat: FULL_SEAT },
      placement: { fit: 'cover' as const, offset: { x: 0, y: 0 }, zoom: 1, turn: 0, mirror: false },
      ...{ backing: null, outline: null, shadow: null },
    },
  };
  const file = documentOfPictures([picture as never], {
    sheets: [{ width: 400, height: 300, items: [{ picture: 1 }, item('other')] }],
  });
  const tied = (id: string, tie: Omit<Tie, 'to'>): FramedItem => item(id, { tie: { to: 'p1', ...tie } });
  const slot = (index: number): { in: { page: string }; index: number } => ({ in: { page: 'page1' }, index });

  test('is as large as all of it, in its order, and nothing else is in it', () => {
    const block = {
      ...tied('add-b', { as: 'behind', gap: 10 }),
      fill: { kind: 'paint' as const, paint: solid('#b5482a') },
    };
    const below = tied('add-w', { as: 'beside', side: 'bottom', gap: 4 });
    const { document } = applyAll(file, [
      { op: 'add', item: block, slot: slot(0) },
      { op: 'add', item: below, slot: slot(2) },
    ]);
    const piece = pieceDocument(resolveTies(document), 'p1')!;
    expect(piece.pages[0]!.items).toEqual(['add-b', 'p1', 'add-w']);
    // The block reaches 10 over the picture on every side; the words, 100 by 40, begin 4 below it.
    expect(piece.pages[0]!.size).toEqual({ width: 100, height: 10 + 60 + 4 + 40 });
    expect(piece.items['p1']!.at.box).toMatchObject({ x: 20, y: 10, width: 60, height: 60 });
    expect(piece.items['add-w']!.at.box).toMatchObject({ x: 0, y: 74 });
    expect(piece.pages[0]!.ground).toBeNull();
  });

  test('there is none where nothing stands round a picture', () => {
    expect(pieceDocument(file, 'p1')).toBeNull();
  });
});

describe('ties in a text', () => {
  const paper = { width: 600, height: 800, margins: { top: 50, right: 50, bottom: 50, left: 50 } };
  const picture = (at: FramedItem['at']): FramedItem => item('p1', { at });
  const text = (at: FramedItem['at'], tie: Omit<Tie, 'to'>, order: readonly string[]): FramedItem['at'] => {
    const tied = item('add-a', {
      ...{ tie: { to: 'p1', ...tie }, at: { on: 'anchor', box: { x: 0, y: 0, width: 30, height: 20 }, beside: 'p1' } },
    });
    const story = { id: 'story1', kind: 'body' as const, items: [...order], page: paper };
    const document = { ...documentOfPictures([]), stories: [story], items: { p1: picture(at), 'add-a': tied } };
    return resolveTies(document as Document).items['add-a']!.at as FramedItem['at'];
  };
  const none = { top: 0, right: 0, bottom: 0, left: 0 };
  const anchored = (
    from: { x: 'page' | 'column'; y: 'page' | 'paragraph' },
    wrap: 'none' | 'square',
  ): FramedItem['at'] => ({
    ...{ on: 'anchor', box: { x: 100, y: 60, width: 80, height: 80 } },
    anchor: { from, wrap, behind: false, distances: none },
  });

  test('beside a picture in a line it counts from its letter and its line, and keeps the text off', () => {
    const line: FramedItem['at'] = { on: 'line', box: { x: 7, y: 9, width: 80, height: 40 } };
    expect(text(line, { as: 'beside', side: 'bottom', gap: 4 }, ['p1', 'add-a'])).toMatchObject({
      box: { x: 25, y: 44 },
      anchor: { from: { x: 'character', y: 'line' }, wrap: 'top-bottom', behind: false },
    });
  });

  test('beside one that floats it counts from where that does, and the text goes round it as round that', () => {
    const at = anchored({ x: 'column', y: 'paragraph' }, 'square');
    expect(text(at, { as: 'beside', side: 'right', gap: 5 }, ['p1', 'add-a'])).toMatchObject({
      box: { x: 185, y: 90 },
      anchor: { from: { x: 'column', y: 'paragraph' }, wrap: 'square' },
    });
  });

  test('a band goes across the paper, behind the text; to its edge where that is known', () => {
    const band = { as: 'behind', side: 'top', gap: 10 } as const;
    expect(text(anchored({ x: 'column', y: 'paragraph' }, 'square'), band, ['add-a', 'p1'])).toMatchObject({
      box: { x: 0, y: 50, width: 600, height: 100 },
      anchor: { from: { x: 'page', y: 'paragraph' }, wrap: 'none', behind: true },
    });
    expect(text(anchored({ x: 'page', y: 'page' }, 'none'), band, ['add-a', 'p1'])).toMatchObject({
      box: { x: 0, y: 0, width: 600, height: 150 },
    });
  });
});

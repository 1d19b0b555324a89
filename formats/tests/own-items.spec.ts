/**
 * What Gable has put into a drawing is known again, as all that it is, as long as nobody changed it: by every piece, by boxes to a
 * hundredth of a point, byte for byte where nothing changed. Where the drawing was changed elsewhere, what is there counts. Colours
 * and places of words as `resvg` paints them.
 */
import {
  applyAll,
  documentOfPictures,
  equal,
  PIECES,
  resolveTies,
  type Paint,
  solidOutline,
  withLines,
  type Document,
  type FramedItem,
} from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import { readFileSync } from 'node:fs';
import { openFile, type Source } from '../src/index';
import { added, withPiece } from './support/pieces';

const bytes = new Uint8Array(readFileSync('demo/files/firing-day-board.svg'));
const solid = (colour: string): Paint => ({ kind: 'solid', colour, opacity: 1 });
const text = (file: Uint8Array): string => new TextDecoder().decode(file);
const drawing = (svg: string): Source => openFile(new TextEncoder().encode(svg));
const own = (file: Source): FramedItem[] => file.sheets[0]!.apart!.map((id) => file.document.items[id] as FramedItem);
const bare = ({ id, tie, ...item }: FramedItem): unknown => [void id, tie && { ...tie, to: '' }, item];
const moved = (document: Document, id: string, dx: number, dy: number): Document => {
  const { box } = document.items[id]!.at;
  const at = { on: 'page', box: { ...box, x: box.x + dx, y: box.y + dy } };
  return resolveTies(applyAll(document, [{ op: 'set', id, path: 'at', value: at }]).document);
};

describe.each(PIECES.map((p) => p.name))('%s', (name) => {
  const file = openFile(bytes);
  const next = withPiece(file, 2, name);
  const out = file.write(next);
  const again = openFile(out);

  test('is all that it was, and not a letter is written anew', () => {
    const order = next.pages[0]!.items;
    const was = added(next).toSorted((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
    expect(own(again)).toHaveLength(was.length);
    for (const [i, item] of own(again).entries()) expect(equal(bare(item), bare(was[i]!), 0.01)).toBe(true);
    expect(text(again.write(again.document))).toBe(text(out));
    // All else in the drawing is as it was.
    const others = ({ document, sheets: [sheet] }: Source): unknown[] =>
      Object.values(document.items)
        .filter((i) => !sheet!.apart!.includes(i.id))
        .map((i) => ({ ...i, id: '', ...(i.kind === 'group' && { children: i.children.length }) }));
    expect(others(again)).toEqual(others(openFile(bytes)));
  });

  test('goes along with its picture, and nothing else moves', () => {
    const there = openFile(again.write(moved(again.document, 'p2', 24, -18)));
    expect(own(there)).toHaveLength(own(again).length);
    for (const [i, item] of own(again).entries()) {
      const now = own(there)[i]!;
      expect(now.tie).toEqual(item.tie);
      if (item.tie?.as === 'behind' && item.tie.side !== undefined) continue;
      expect(now.at.box.x - item.at.box.x).toBeCloseTo(24, 2);
      expect(now.at.box.y - item.at.box.y).toBeCloseTo(-18, 2);
    }
    expect(there.pictures[0]!.frame).toEqual(again.pictures[0]!.frame);
  });
});

const named = (): { out: Uint8Array; again: Source; words: FramedItem } => {
  const file = openFile(bytes);
  const out = file.write(withPiece(file, 2, 'name-below'));
  const again = openFile(out);
  return { out, again, words: own(again)[0]! };
};
const group = /<g id="(gable-\d+)"[^>]*data-gable-tie[^>]*>/;

test('moved in another program it stands where it is there, and follows no more', () => {
  const { out, words } = named();
  const svg = text(out).replace(group, (tag) => tag.replace('transform="', 'transform="translate(40 0) '));
  const elsewhere = drawing(svg);
  const [there] = own(elsewhere);
  expect(there!.tie).toBeUndefined();
  expect(there!.text).toEqual(words.text);
  expect(there!.at.box.x - words.at.box.x).toBeGreaterThan(10);
  const after = openFile(elsewhere.write(moved(elsewhere.document, 'p2', 50, 0)));
  expect(own(after)[0]!.at.box).toEqual(there!.at.box);
});

test.each([
  ['its letters', (svg: string) => svg.replace('>Maren Holt<', '>Maren Hold<')],
  ['its size', (svg: string) => svg.replace(group, (tag) => tag.replace('transform="', 'transform="scale(1.2) '))],
  ['its opacity', (svg: string) => svg.replace(group, (tag) => tag.replace('<g ', '<g opacity="0.5" '))],
  ['what is known of it', (svg: string) => svg.replace(/"digest":"[^"]*"/, '"digest":"0"')],
])('changed elsewhere (%s) it is whatever the drawing says', (_, change) => {
  const { out } = named();
  const svg = change(text(out));
  expect(svg).not.toBe(text(out));
  const file = drawing(svg);
  expect(file.sheets[0]!.apart).toEqual([]);
  expect(file.sheets[0]!.items.length).toBeGreaterThan(openFile(bytes).sheets[0]!.items.length);
  expect(text(file.write(file.document))).toBe(svg);
});

test('its words are typed anew and coloured, and other programs see it; the rest of the drawing is as it was', () => {
  const { out, again, words } = named();
  const lines = withLines(words.text!, ['Tobias & Ines']);
  const red = {
    ...lines,
    paragraphs: lines.paragraphs.map((p) => ({ ...p, runs: p.runs.map((r) => ({ ...r, paint: solid('#c00000') })) })),
  };
  const block = { ...words, fill: { kind: 'paint', paint: solid('#00a000') }, outline: solidOutline(3, '#0000c0') };
  const set = (
    path: 'text' | 'fill' | 'outline',
    value: unknown,
  ): { op: 'set'; id: string; path: string; value: unknown } => ({
    ...{ op: 'set', id: words.id, path, value },
  });
  const { document } = applyAll(again.document, [
    set('text', red),
    set('fill', block.fill),
    set('outline', block.outline),
  ]);
  const now = again.write(document);
  const [tag] = group.exec(text(out))!;
  const without = (file: Uint8Array): string => {
    const svg = text(file);
    const start = svg.indexOf(tag);
    return svg.slice(0, start) + svg.slice(svg.indexOf('</g></g>', start));
  };
  expect(text(now)).toContain(tag);
  expect(without(now)).toBe(without(out));
  expect(text(now)).toContain('>Tobias &amp; Ines<');
  const [there] = own(openFile(now));
  expect([there!.text, there!.fill, there!.tie]).toEqual([red, block.fill, words.tie]);
  const { width, pixels } = new Resvg(text(now)).render();
  const { box } = words.at;
  const k = width / openFile(now).sheets[0]!.width;
  const at = (x: number, y: number): number[] => [
    ...pixels.subarray(
      4 * (Math.round(y * k) * width + Math.round(x * k)),
      4 * (Math.round(y * k) * width + Math.round(x * k)) + 3,
    ),
  ];
  expect(at(box.x + 3, box.y + 3)).toEqual([0, 160, 0]);
  expect(at(box.x, box.y + box.height / 2)).toEqual([0, 0, 192]);
});

test('deleted it is gone, with all that was told of it', () => {
  const { again, words } = named();
  const { document } = applyAll(again.document, [{ op: 'remove', id: words.id }]);
  const svg = text(again.write(document));
  expect(svg).not.toContain('Maren Holt');
  expect(svg).not.toContain('urn:gable:item');
});

describe('the colour behind a drawing', () => {
  const svg = (first: string): string =>
    `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="300" viewBox="0 0 800 600"><title>Board</title>${first}<circle r="9" cx="50" cy="50"/></svg>`;
  const colour = (file: Source, value: string): Uint8Array => {
    const [page] = file.document.pages;
    const ground = { kind: 'paint', paint: solid(value) };
    return file.write(
      applyAll(file.document, [{ op: 'page-set', id: page!.id, path: 'ground', value: ground }]).document,
    );
  };

  test.each([
    ['<rect width="800" height="600" fill="#123456"/>', 'fill="#ff8800"'],
    ['<rect x="-1" y="-1" width="802" height="602" style="stroke:none;fill:#123456"/>', 'fill:#ff8800'],
    ['<rect width="100%" height="100%" fill="#123456" style="stroke:none"/>', 'fill:#ff8800'],
  ])('is the rectangle that is there: %s', (rect, now) => {
    const file = drawing(svg(rect));
    expect(file.sheets[0]).toMatchObject({ background: '#123456', items: [{ id: 'drawing-2' }] });
    const out = text(colour(file, '#ff8800'));
    expect(out).toContain(now);
    expect(out.replace(/<rect[^>]*>/, rect)).toBe(svg(rect));
    const { pixels } = new Resvg(out).render();
    expect([...pixels.subarray(0, 3)]).toEqual([255, 136, 0]);
  });

  test.each([
    '<rect width="700" height="600" fill="#123456"/>',
    '<rect width="800" height="600" fill="#123456" opacity="0.5"/>',
    '<rect width="800" height="600" fill="#123456" stroke="#000"/>',
    '<rect width="800" height="600" fill="#123456" rx="9"/>',
    '',
  ])('is none where something else comes first: %s', (rect) => {
    const file = drawing(svg(rect));
    expect(file.sheets[0]).toMatchObject({ background: '#ffffff' });
    const out = text(colour(file, '#ff8800'));
    // One comes before all that is drawn; the title stays first.
    expect(out.replace(/<rect width="100%" height="100%" style="fill:#ff8800;stroke:none"\/>/, '')).toBe(svg(rect));
    const { pixels, width } = new Resvg(out).render();
    const corner = [...pixels.subarray(4 * (width - 1), 4 * (width - 1) + 3)];
    if (!/opacity|stroke/.test(rect)) expect(corner).toEqual([255, 136, 0]);
    expect(openFile(colour(file, '#ff8800')).sheets[0]!.background).toBe('#ff8800');
  });

  test('a gradient is refused', () => {
    const file = drawing(svg(''));
    const [page] = file.document.pages;
    const paint = {
      kind: 'linear',
      angle: 0,
      stops: [
        { at: 0, colour: '#000000', opacity: 1 },
        { at: 1, colour: '#ffffff', opacity: 1 },
      ],
    };
    const { document } = applyAll(file.document, [
      { op: 'page-set', id: page!.id, path: 'ground', value: { kind: 'paint', paint } },
    ]);
    expect(() => file.write(document)).toThrow(expect.objectContaining({ code: 'cannot-write' }));
  });
});

test('a drawing holds no page twice: its sheet and its document agree', () => {
  const { again } = named();
  expect(equal(documentOfPictures(again.pictures, again), again.document)).toBe(true);
});

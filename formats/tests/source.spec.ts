/**
 * Files as documents: pictures come, go and change by what the documents differ in. What comes of it is read by others:
 * `pptxtojson` and python-pptx's rules of ids by hand for slides, `mammoth` for texts, `@resvg/resvg-js` for drawings.
 */
import {
  apply,
  checkDocument,
  diff,
  equal,
  isPictureItem,
  itemsOf,
  slotOf,
  solidOutline,
  withShape,
  type Document,
  type Holder,
  type PictureItem,
  type ShapeChoice,
} from '@gable/core';
import { Resvg } from '@resvg/resvg-js';
import fc from 'fast-check';
import { unzipSync, zipSync } from 'fflate';
import mammoth from 'mammoth';
import { readFileSync } from 'node:fs';
import { parse } from 'pptxtojson';
import sharp from 'sharp';
import { openFile, withFrames, type ReplacementImage, type Source } from '../src/index';
import { shown } from './support/shown';

const files = {
  docx: readFileSync('demo/files/season-handbook.docx'),
  pptx: readFileSync('demo/files/open-day-talk.pptx'),
  svg: readFileSync('demo/files/firing-day-board.svg'),
  zip: readFileSync('demo/files/visit-us.zip'),
};
const WRITABLE = ['docx', 'pptx', 'svg'] as const;
type Kind = (typeof WRITABLE)[number];

let image: ReplacementImage;
beforeAll(async () => {
  const size = { width: 120, height: 80 };
  const bytes = await sharp({ create: { ...size, channels: 3, background: '#2b6a73' } })
    .png()
    .toBuffer();
  image = { bytes, type: 'png', size };
});

/** Ids of all pictures of a document. */
const idsOf = ({ items }: Document): string[] => Object.keys(items).filter((id) => isPictureItem(items[id]!));

const holderOf = (document: Document): Holder =>
  document.pages.length > 0 ? { page: document.pages[0]!.id } : { story: document.stories[0]!.id };

/** A new round picture, 60 points across. */
function newItem(document: Document, id: string, shape: ShapeChoice = { name: 'circle', knobs: {} }): PictureItem {
  const model = Object.values(document.items).find(isPictureItem)!;
  const on = document.pages.length > 0 ? 'page' : 'line';
  const box = on === 'page' ? { x: 40, y: 30, width: 60, height: 60 } : { x: 0, y: 0, width: 60, height: 60 };
  const placement = { fit: 'cover' as const, aim: { u: 0.5, v: 0.5 }, zoom: 1, turn: 0, mirror: false, distortion: 1 };
  return {
    ...model,
    id,
    at: on === 'page' ? { on, box } : { on, box, after: 2 },
    alt: 'A blue tile',
    turn: 0,
    flip: { horizontal: false, vertical: false },
    seat: { fit: 'fill', anchor: 'centre', repeat: false },
    outline: solidOutline(3, '#a94124'),
    shadow: null,
    shape,
    fill: {
      kind: 'picture',
      source: { from: 'kept', sha256: '0'.repeat(64), name: 'tile.png', type: 'png', size: image.size, orientation: 1 },
      placement,
      backing: null,
      keep: [],
    },
  };
}

/** With an item at a place of its first page or story. */
function added(document: Document, item: PictureItem, index: number): Document {
  const holder = holderOf(document);
  const put = (items: readonly string[]): string[] => [...items.slice(0, index), item.id, ...items.slice(index)];
  return {
    ...document,
    items: { ...document.items, [item.id]: item },
    pages: document.pages.map((p) => ('page' in holder && p.id === holder.page ? { ...p, items: put(p.items) } : p)),
    stories: document.stories.map((s) =>
      'story' in holder && s.id === holder.story ? { ...s, items: put(s.items) } : s,
    ),
  };
}
const without = (document: Document, id: string): Document => apply(document, { op: 'remove', id }).document;

/** Within what formats keep: EMU, sixty-thousandths of a degree, a hundred-thousandth of the picture. */
const sameShown = (a: Document, b: Document): boolean => equal(shown(a), shown(b), 2e-4);

test.each(Object.keys(files) as (keyof typeof files)[])(
  '%s: its document is whole, and written as it is, is itself',
  (kind) => {
    const source = openFile(files[kind]);
    checkDocument(source.document);
    expect(Object.values(source.document.items).filter(isPictureItem)).toHaveLength(
      openFile(files[kind]).pictures.length,
    );
    expect(source.write(source.document)).toBe(files[kind]);
    expect(diff(source.document, openFile(files[kind]).document)).toEqual([]);
  },
);

test.each(WRITABLE)('%s: a change of a frame writes the same bytes as saving that frame', (kind) => {
  const source = openFile(files[kind]);
  const file = openFile(files[kind]);
  const id = idsOf(source.document).find((i) => !file.pictures[Number(i.slice(1)) - 1]!.problem)!;
  const item = source.document.items[id] as PictureItem;
  const picture = file.pictures[Number(id.slice(1)) - 1]!;
  const frame = withShape(picture.frame, { name: 'hexagon', knobs: {} }, picture.size);
  const next = { ...item, shape: frame.shape, seat: frame.seat, at: { ...item.at, box: frame.box } };
  const fill = { ...item.fill, placement: frame.placement };
  const document = { ...source.document, items: { ...source.document.items, [id]: { ...next, fill } } } as Document;
  expect(Buffer.from(source.write(document)).equals(Buffer.from(source.write(withFrames(source, [frame]))))).toBe(true);
});

describe.each(WRITABLE)('%s: a picture comes', (kind) => {
  const insert = (index: number): { source: Source; next: Document; bytes: Uint8Array } => {
    const source = openFile(files[kind]);
    const next = added(source.document, newItem(source.document, 'new'), index);
    return { source, next, bytes: source.write(next, new Map([['new', image]])) };
  };

  test.each([0, 1])('to place %i, framed, with its very data', (index) => {
    const { next, bytes } = insert(kind === 'docx' ? 0 : index);
    const again = openFile(bytes);
    if (kind === 'docx') {
      // Where it stands among the pictures of a text, its paragraph says.
      const { pictures } = openFile(bytes);
      expect(pictures.filter((p) => p.frame.alt === 'A blue tile')).toHaveLength(1);
      expect(idsOf(again.document)).toHaveLength(idsOf(next).length);
    } else expect(sameShown(again.document, next)).toBe(true);
    const file = openFile(bytes);
    const mine = file.pictures.find((p) => p.frame.alt === 'A blue tile')!;
    expect(Buffer.from(file.pictureBytes(mine.n)).equals(Buffer.from(image.bytes))).toBe(true);
    expect(mine.frame.shape.name).toBe('circle');
    expect(mine.frame.outline).toMatchObject({ weight: 3, side: 'on' });
    expect([mine.frame.box.width, mine.frame.box.height]).toEqual([expect.closeTo(60, 3), expect.closeTo(60, 3)]);
  });

  test('no other picture is written anew', () => {
    const { bytes } = insert(0);
    const [was, is] = [openFile(files[kind]), openFile(bytes)];
    const others = is.pictures.filter((p) => p.frame.alt !== 'A blue tile');
    expect(others.map(({ frame: { n, ...f } }) => (void n, f))).toEqual(
      was.pictures.map(({ frame: { n, ...f } }) => (void n, f)),
    );
    if (kind === 'svg') {
      // The drawing is the old one with one stretch more.
      const [before, after] = [files.svg, bytes].map((b) => new TextDecoder().decode(b)) as [string, string];
      let head = 0;
      while (before[head] === after[head]) head++;
      const rest = before.length - head;
      expect(after.slice(after.length - rest)).toBe(before.slice(head));
    } else {
      const [before, after] = [unzipSync(files[kind]), unzipSync(bytes)];
      const touched = Object.keys(before).filter(
        (name) => !Buffer.from(before[name]!).equals(Buffer.from(after[name]!)),
      );
      const part =
        kind === 'docx'
          ? ['word/document.xml', 'word/_rels/document.xml.rels']
          : ['ppt/slides/slide1.xml', 'ppt/slides/_rels/slide1.xml.rels'];
      expect(touched.filter((name) => name !== '[Content_Types].xml').sort()).toEqual(part.sort());
      expect(Object.keys(after).filter((name) => !(name in before))).toHaveLength(1);
    }
  });

  test('without its data nothing is written', () => {
    const source = openFile(files[kind]);
    const next = added(source.document, newItem(source.document, 'new'), 0);
    expect(() => source.write(next)).toThrow('cannot be written');
  });
});

test('a reader of slides finds the new picture in its place; ids are unlike (ISO/IEC 29500-1 §20.1.2.2.8)', async () => {
  const source = openFile(files.pptx);
  const bytes = source.write(added(source.document, newItem(source.document, 'new'), 0), new Map([['new', image]]));
  const { slides } = await parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer);
  const [was] = (
    await parse(
      files.pptx.buffer.slice(files.pptx.byteOffset, files.pptx.byteOffset + files.pptx.length) as ArrayBuffer,
    )
  ).slides;
  const images = (slide: (typeof slides)[number]): { left: number; top: number; geom?: string }[] =>
    slide.elements.filter((e) => e.type === 'image') as never;
  expect(images(slides[0]!)).toHaveLength(images(was!).length + 1);
  const mine = images(slides[0]!).find((e) => Math.abs(e.left - 40) < 0.01 && Math.abs(e.top - 30) < 0.01);
  expect(mine?.geom).toBe('ellipse');
  const xml = new TextDecoder().decode(unzipSync(bytes)['ppt/slides/slide1.xml']);
  const ids = [...xml.matchAll(/<p:cNvPr[^>]*\bid="(\d+)"/g)].map(([, id]) => id);
  expect(new Set(ids).size).toBe(ids.length);
});

test('a reader of texts finds the new picture behind the second paragraph, and all words as they were', async () => {
  const source = openFile(files.docx);
  const bytes = source.write(added(source.document, newItem(source.document, 'new'), 0), new Map([['new', image]]));
  const html = async (b: Uint8Array): Promise<string> =>
    (
      await mammoth.convertToHtml(
        { buffer: Buffer.from(b) },
        { convertImage: mammoth.images.imgElement(async (i) => ({ src: i.contentType })) },
      )
    ).value;
  const [before, after] = [await html(files.docx), await html(bytes)];
  const tile = /<p><img alt="A blue tile" src="image\/png" ?\/><\/p>/;
  expect(after.replace(tile, '')).toBe(before);
  const blocks = after.slice(0, tile.exec(after)!.index).match(/<\/(p|h\d|table|ul|ol)>/g);
  expect(blocks?.length).toBeLessThanOrEqual(2);
});

test('a renderer of drawings shows the new picture, and nothing else anew', async () => {
  const source = openFile(files.svg);
  const item = { ...newItem(source.document, 'new', { name: 'rectangle', knobs: {} }), outline: null };
  const page = source.document.pages[0]!;
  const bytes = source.write(added(source.document, item, page.items.length), new Map([['new', image]]));
  const draw = async (b: Uint8Array): Promise<{ data: Buffer; width: number }> => {
    const png = new Resvg(Buffer.from(b), { fitTo: { mode: 'width', value: Math.round(page.size.width) } })
      .render()
      .asPng();
    const { data, info } = await sharp(png).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    return { data, width: info.width };
  };
  const [was, is] = [await draw(files.svg), await draw(bytes)];
  const at = (d: Buffer, x: number, y: number): number[] => [
    ...d.subarray((y * is.width + x) * 4, (y * is.width + x) * 4 + 3),
  ];
  expect(at(is.data, 70, 60)).toEqual([0x2b, 0x6a, 0x73]);
  let outside = 0;
  for (let i = 0; i < is.data.length; i += 4) {
    const [x, y] = [(i / 4) % is.width, Math.floor(i / 4 / is.width)];
    const inside = x >= 38 && x <= 102 && y >= 28 && y <= 92;
    if (!inside && Math.abs(is.data[i]! - was.data[i]!) > 2) outside++;
  }
  expect(outside).toBe(0);
});

describe.each(WRITABLE)('%s: a picture goes', (kind) => {
  const source = openFile(files[kind]);
  const ids = idsOf(source.document);

  test.each(ids)('%s', (id) => {
    const next = without(source.document, id);
    const bytes = source.write(next);
    expect(sameShown(openFile(bytes).document, next)).toBe(true);
  });

  test('all of them, and what is left is still read by others', async () => {
    const next = ids.reduce(without, source.document);
    const bytes = source.write(next);
    expect(openFile(bytes).pictures).toHaveLength(0);
    if (kind === 'docx') {
      const words = async (b: Uint8Array): Promise<string> =>
        (await mammoth.extractRawText({ buffer: Buffer.from(b) })).value;
      expect((await words(bytes)).replace(/\s+/g, ' ')).toBe((await words(files.docx)).replace(/\s+/g, ' '));
      // A paragraph without its picture has no empty run left behind (§17.3.2.25).
      expect(new TextDecoder().decode(unzipSync(bytes)['word/document.xml'])).not.toMatch(/<w:r>\s*<\/w:r>/);
    }
    if (kind === 'svg') expect(() => new Resvg(Buffer.from(bytes)).render()).not.toThrow();
  });
});

test('random changes of several kinds at once come back as they were asked for', () => {
  const shapes = ['circle', 'rounded', 'hexagon', 'star-5', 'heart', 'rectangle'] as const;
  const wish = fc.record({
    gone: fc.array(fc.nat(20), { maxLength: 3 }),
    come: fc.array(fc.nat(3), { maxLength: 3 }),
    shape: fc.constantFrom(...shapes),
    weight: fc.integer({ min: 1, max: 12 }),
    changed: fc.array(fc.nat(20), { maxLength: 4 }),
    kind: fc.constantFrom<Kind>(...WRITABLE),
  });
  const sources = { pptx: openFile(files.pptx), svg: openFile(files.svg), docx: openFile(files.docx) };
  fc.assert(
    fc.property(wish, ({ gone, come, shape, weight, changed, kind }) => {
      const source = sources[kind];
      const all = idsOf(source.document);
      let next = source.document;
      for (const i of new Set(gone)) if (all[i]) next = without(next, all[i]);
      for (const i of changed) {
        const item = next.items[all[i] ?? ''] as PictureItem | undefined;
        // Members of groups, and what stands in no page, keep their boxes.
        if (!item || !('page' in slotOf(next, item.id).in)) continue;
        const changes = { alt: `Changed ${i}`, outline: solidOutline(weight, '#22302f') };
        next = { ...next, items: { ...next.items, [item.id]: { ...item, ...changes } } };
      }
      const images = new Map<string, ReplacementImage>();
      // Where a new picture stands among those of a text, its paragraph says.
      for (const [k, at] of kind === 'docx' ? [] : come.entries()) {
        const count = itemsOf(next, holderOf(next)).length;
        next = added(next, newItem(next, `new${k}`, { name: shape, knobs: {} }), Math.min(at, count));
        images.set(`new${k}`, image);
      }
      checkDocument(next);
      expect(sameShown(openFile(source.write(next, images)).document, next)).toBe(true);
    }),
    { numRuns: 25 },
  );
});

describe('what cannot be', () => {
  const edited = (part: string, change: (xml: string) => string): Source => {
    const parts = unzipSync(files.pptx);
    parts[part] = new TextEncoder().encode(change(new TextDecoder().decode(parts[part])));
    return openFile(zipSync(parts));
  };

  test('a picture that an animation moves does not go, and says why', () => {
    const slide = Object.keys(unzipSync(files.pptx)).find(
      (name) =>
        /^ppt\/slides\/slide\d+\.xml$/.test(name) &&
        /<p:pic>/.test(new TextDecoder().decode(unzipSync(files.pptx)[name])),
    )!;
    const source = edited(slide, (xml) => {
      const id = /<p:pic>.*?<p:cNvPr[^>]*\bid="(\d+)"/s.exec(xml)![1]!;
      return xml.replace(
        '</p:sld>',
        `<p:timing><p:tnLst><p:par><p:cTn id="1"><p:childTnLst><p:set><p:cBhvr><p:cTn id="2"/><p:tgtEl><p:spTgt spid="${id}"/></p:tgtEl></p:cBhvr></p:set></p:childTnLst></p:cTn></p:par></p:tnLst></p:timing></p:sld>`,
      );
    });
    const id = openFile(source.write(source.document)).pictures.find((p) => p.where.part === slide)!.n;
    expect(() => source.write(without(source.document, `p${id}`))).toThrow('an animation moves it');
  });

  test('another order of pages, one without a place in its page', async () => {
    const slides = openFile(files.pptx);
    const pages = slides.document.pages.toReversed();
    expect(() => slides.write({ ...slides.document, pages })).toThrow(
      'A page that comes, goes or changes cannot be written',
    );
    const site = openFile(files.zip);
    const item = newItem(site.document, 'new');
    const next = added(site.document, { ...item, at: { on: 'page', box: item.at.box } }, 0);
    expect(() => site.write(next, new Map([['new', image]]))).toThrow('A picture without a place in it');
  });
});

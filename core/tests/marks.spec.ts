import {
  aimAt,
  deriveView,
  faceSubject,
  ontoBox,
  sameRegion,
  suggestedMarks,
  textBlocks,
  type Face,
  type Word,
} from '../src/index';
import { frameOf } from './frames';

const size = { width: 1000, height: 2000 };
const face = (u: number, v: number, width: number, height = width): Face => ({ u, v, width, height, score: 0.9 });

/** A line of words set with a height of letters and half of it between words; pixels. */
function line(text: string, x: number, y: number, height: number, score = 0.95): Word[] {
  let left = x;
  return text.split(' ').map((word) => {
    const width = word.length * height * 0.6;
    const box = { u: left / size.width, v: y / size.height, width: width / size.width, height: height / size.height };
    left += width + height / 2;
    return { ...box, text: word, score };
  });
}

describe('words in a picture', () => {
  test('a heading and two lines below it are two blocks, in the order of reading', () => {
    const words = [
      ...line('ten till four', 100, 560, 40),
      ...line('Open day', 100, 200, 160),
      ...line('Saturday 14 March', 100, 500, 40),
    ];
    const blocks = textBlocks(words, size);
    expect(blocks.map((b) => b.text)).toEqual(['Open day', 'Saturday 14 March ten till four']);
    const [heading] = blocks;
    expect(heading!.u).toBeCloseTo(0.1, 6);
    expect(heading!.height).toBeCloseTo(0.08, 6);
  });

  test('columns beside each other, and lines far apart, stay apart', () => {
    const words = [
      ...line('left side', 50, 400, 30),
      ...line('right side', 600, 400, 30),
      ...line('footer', 50, 900, 30),
    ];
    expect(
      textBlocks(words, size)
        .map((b) => b.text)
        .sort(),
    ).toEqual(['footer', 'left side', 'right side']);
  });

  test('a short line far below a wide one does not make a block of empty picture', () => {
    const words = [...line('a very long line of words indeed', 50, 400, 30), ...line('no', 50, 455, 30)];
    for (const { width, height } of textBlocks(words, size)) expect(width * height).toBeLessThan(0.02);
  });

  test('what is not sure, or no word, is left out: leaves and stones read as single letters', () => {
    expect(textBlocks([...line('maybe', 10, 10, 30, 0.5), ...line('i | —', 10, 80, 30)], size)).toEqual([]);
  });
});

describe('suggested marks', () => {
  const blocks = [{ u: 0.1, v: 0.1, width: 0.5, height: 0.1, text: 'Open day at the clayworks on Saturday' }];

  test('faces come first, then words; each has a name', () => {
    const marks = suggestedMarks({ faces: [face(0.6, 0.5, 0.2), face(0.2, 0.5, 0.25)], blocks });
    expect(marks.map((m) => m.name)).toEqual(['Face 1', 'Face 2', '“Open day at the clayworks on Sa…”']);
    expect(suggestedMarks({ faces: [face(0.2, 0.5, 0.25)], blocks: [] })[0]!.name).toBe('Face');
  });

  test('what is marked, or was refused, is not suggested again', () => {
    const taken = { u: 0.21, v: 0.5, width: 0.24, height: 0.24 };
    expect(suggestedMarks({ faces: [face(0.2, 0.5, 0.25)], blocks: [] }, [taken])).toEqual([]);
    expect(sameRegion(taken, { u: 0.6, v: 0.5, width: 0.2, height: 0.2 })).toBe(false);
  });

  test('a face that reaches beyond the picture is marked as far as it is there', () => {
    const [mark] = suggestedMarks({ faces: [face(-0.1, 0.2, 0.3)], blocks: [] });
    expect(mark).toMatchObject({ u: 0, width: expect.closeTo(0.2, 9) });
  });
});

describe('eyes on the upper third (common practice)', () => {
  const person = faceSubject([face(0.4, 0.4, 0.2, 0.1)])!;
  /** Where the eyes are in the box, as a share of its height. */
  const eyes = (frame: ReturnType<typeof frameOf>): number => {
    const placed = { ...frame.placement, aim: aimAt(person, frame, size) };
    const { matrix } = deriveView(placed, frame.box, size);
    return ontoBox(matrix, { u: 0.5, v: 0.4 + 0.1 * 0.45 }, size).y / frame.box.height;
  };

  test('in a box with room above the face', () => {
    expect(eyes(frameOf(100, 100))).toBeCloseTo(1 / 3, 6);
    expect(eyes(frameOf(100, 140))).toBeCloseTo(1 / 3, 6);
  });

  test('a face that fills the box is in its middle; so is one in a circle', () => {
    const close = frameOf(100, 100);
    expect(eyes({ ...close, placement: { ...close.placement, zoom: 4 } })).toBeGreaterThan(0.42);
    expect(eyes(frameOf(100, 100, { shape: { name: 'circle', knobs: {} } }))).toBeGreaterThan(0.42);
  });
});

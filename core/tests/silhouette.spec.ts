import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { area, bounds, flatten, framePath, GableError, type Path, type Pixels, type ShapeChoice } from '../src/index';
import { letterShape, readFont, silhouetteFromPixels, silhouetteFromSvg } from '../src/silhouette/index';
import { frameOf } from './frames';

const drawn = (choice: ShapeChoice, height: number): Path =>
  framePath(frameOf(height * choice.drawn!.ratio!, height, { shape: choice }));

describe('from an SVG drawing', () => {
  test('fills become one outline, holes stay, strokes and definitions do not count', () => {
    const { choice } =
      silhouetteFromSvg(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><style>.no{fill:none}</style>
      <defs><rect width="900" height="900"/></defs><g transform="translate(10 0)">
      <path fill-rule="evenodd" d="M0 0h80v40H0zM20 10h40v20H20z"/><rect class="no" width="500" height="3"/><circle cx="40" cy="40" r="10" style="fill: #f00"/></g></svg>`);
    expect(choice.drawn!.ratio).toBeCloseTo(80 / 50, 3);
    // Rectangle minus hole plus the lower half of the circle and the part of it over the hole (none).
    expect(area(drawn(choice, 50))).toBeCloseTo(3200 - 800 + (Math.PI * 100) / 2, -1);
  });
  test.each([
    ['nothing filled', '<svg><path fill="none" d="M0 0h9v9z"/></svg>', 'empty-silhouette'],
    ['no svg', '<html/>', 'bad-svg'],
    ['broken markup', '<svg><g>', 'bad-svg'],
    ['a broken path', '<svg><path d="M0 0 L"/></svg>', 'bad-path'],
    ['entities', '<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', 'bad-svg'],
    ['only a speck', '<svg><path d="M0 0h1v1H0zM900 900h1v1h-1z"/></svg>', 'empty-silhouette'],
  ])('%s is refused with the reason', (_name, text, code) => {
    expect(() => silhouetteFromSvg(text)).toThrow(GableError);
    try {
      silhouetteFromSvg(text);
    } catch (e) {
      expect((e as GableError).code).toBe(code);
    }
  });
});

/** A picture of coverage, four samples a side in each pixel. */
function picture(width: number, height: number, inside: (x: number, y: number) => boolean, alpha: boolean): Pixels {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let n = 0;
      for (let i = 0; i < 16; i++) if (inside(x + ((i % 4) + 0.5) / 4, y + (Math.floor(i / 4) + 0.5) / 4)) n++;
      const v = Math.round((n / 16) * 255);
      data.set(alpha ? [0, 0, 0, v] : [255 - v, 255 - v, 255 - v, 255], (y * width + x) * 4);
    }
  return { width, height, data };
}

describe('traced from a picture', () => {
  const ring = (x: number, y: number): boolean => {
    const r = Math.hypot(x - 60, y - 50);
    return r < 40 && r > 15;
  };
  test.each([
    ['alpha', true],
    ['darkness', false],
  ])('by its %s: within half a pixel of the true edge, the hole kept', (_name, alpha) => {
    const { choice, mask } = silhouetteFromPixels(picture(120, 100, ring, alpha));
    const path = drawn(choice, 80);
    const off = flatten(path, 0.02)
      .flat()
      .map((p) => {
        const r = Math.hypot(p.x - 40, p.y - 40);
        return Math.min(Math.abs(r - 40), Math.abs(r - 15));
      });
    expect(Math.max(...off)).toBeLessThan(0.5);
    expect(area(path) / (Math.PI * (1600 - 225))).toBeCloseTo(1, 2);
    expect(mask).toMatchObject({ width: 120, height: 100 });
    // Curves, not a step for every pixel.
    expect(path.length).toBeLessThan(60);
  });

  test('corners stay sharp', () => {
    const { choice } = silhouetteFromPixels(
      picture(60, 60, (x, y) => x > 10.3 && x < 50.3 && y > 10.3 && y < 50.3, true),
    );
    expect(area(drawn(choice, 40)) / 1600).toBeGreaterThan(0.992);
  });

  test('nothing, or dust, is refused', () => {
    expect(() => silhouetteFromPixels(picture(50, 50, () => false, true))).toThrow(/nothing in the picture/);
    expect(() => silhouetteFromPixels(picture(200, 200, (x, y) => x < 2 && y < 2, true))).toThrow(GableError);
  });
});

describe('letters', () => {
  const file = createRequire(__filename).resolve(
    '@fontsource/bricolage-grotesque/files/bricolage-grotesque-latin-800-normal.woff',
  );
  const font = readFont(readFileSync(file));
  test('a letter is the ink of its glyph, in its own ratio', () => {
    const choice = letterShape(font, 'A');
    const box = font.charToGlyph('A').getBoundingBox();
    expect(choice.drawn!.ratio).toBeCloseTo((box.x2 - box.x1) / (box.y2 - box.y1), 2);
    const b = bounds(drawn(choice, 100));
    expect([b.x, b.y, b.height]).toEqual([expect.closeTo(0, 2), expect.closeTo(0, 2), expect.closeTo(100, 2)]);
    // The counter of an A is a hole.
    expect(flatten(drawn(choice, 100)).length).toBe(2);
  });
  test('three at most, and only what the font has', () => {
    expect(letterShape(font, 'FC').drawn!.ratio).toBeGreaterThan(letterShape(font, 'F').drawn!.ratio!);
    expect(() => letterShape(font, 'ABCD')).toThrow(/one to three/);
    expect(() => letterShape(font, '漢')).toThrow(/has no/);
    expect(() => readFont(new Uint8Array(20))).toThrow(GableError);
  });
});

import { solidOutline, withShape } from '@gable/core';
import { openFile, withFrames } from '@gable/formats';
import type { Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Laid } from '../../web/page/told';
import { expect, test } from './steps';

/** The window that pages are read for (docs/fidelity.md). */
const WINDOW = { width: 1180, height: 800 };
const demo = path.resolve(__dirname, '../../demo/files/pictures/portrait-odd.jpg');

let picture = '';
test.beforeAll(async () => {
  const bytes = await sharp(readFileSync(demo)).resize(300, 200).png().toBuffer();
  picture = `data:image/png;base64,${bytes.toString('base64')}`;
});

/** What must stay: all of it. It is written, and not seen. */
const MARK = { u: 0, v: 0, width: 1, height: 1 };

const WORDS = 'The kiln is warm and the shelves are full. '.repeat(6);
const whole = (css: string, body: string): string =>
  `<!DOCTYPE html><html><head><style>body{margin:40px;font:16px/1.5 sans-serif;background:#fff}main{width:720px}${css}</style></head><body><main>${body}</main></body></html>`.replaceAll(
    'SRC',
    picture,
  );

interface Seen {
  image: { x: number; y: number; width: number; height: number };
  next: { x: number; y: number }[];
  pixels: Buffer;
}

/** The picture's own box, where what stands beside it lies, and what is seen. */
async function look(page: Page, markup: string): Promise<Seen> {
  await page.setContent(markup);
  await page.evaluate(() => Promise.all([...document.images].map((i) => i.decode())));
  const { image, next } = await page.evaluate(() => {
    const img = document.querySelector('img')!;
    const framed = document.querySelector('[data-gable]:not(style)');
    const s = getComputedStyle(img);
    const r = (framed ?? img).getBoundingClientRect();
    const of = (name: string): number => (framed ? 0 : parseFloat(s.getPropertyValue(name)));
    const [l, t] = [of('border-left-width') + of('padding-left'), of('border-top-width') + of('padding-top')];
    const [x, y] = [of('border-right-width') + of('padding-right'), of('border-bottom-width') + of('padding-bottom')];
    return {
      image: { x: r.x + l, y: r.y + t, width: r.width - l - x, height: r.height - t - y },
      next: [...document.querySelectorAll('.next, main')].map((e) => {
        const range = document.createRange();
        range.selectNodeContents(e);
        const b = [...range.getClientRects()].filter((c) => c.width > 0).pop() ?? e.getBoundingClientRect();
        return { x: b.x, y: b.y };
      }),
    };
  });
  const size = page.viewportSize()!;
  const shot = await page.screenshot({ clip: { x: 0, y: 0, ...size } });
  const pixels = await sharp(shot).removeAlpha().raw().toBuffer();
  return { image, next, pixels };
}

/** Mean difference of two pictures of the page per channel, and the share of channels that differ by more than 32 of 255. */
function differ(a: Buffer, b: Buffer): { mean: number; wrong: number } {
  let sum = 0;
  let wrong = 0;
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i]! - b[i]!);
    sum += d;
    if (d > 32) wrong++;
  }
  return { mean: sum / a.length, wrong: wrong / a.length };
}

const img = (style: string): [string, string] => [
  `.pot{${style}}`,
  `<p>${WORDS}</p><img class="pot" src="SRC" alt=""><p class="next">${WORDS}</p>`,
];

const CASES: Readonly<Record<string, [css: string, body: string]>> = {
  plain: img('width:200px'),
  'in a line': ['', `<p>One <img src="SRC" alt="" width="60"> two <span class="next">three</span></p>`],
  'float, with margins': img('float:right;margin:4px 0 12px 20px;width:12em'),
  'a block in the middle': img('display:block;margin:2rem auto;width:240px'),
  'as wide as its column': img('width:100%;height:160px;object-fit:cover'),
  'never wider than its column': img('max-width:100%;height:auto'),
  'half of its column': img('width:50%;height:auto'),
  'in a grid': [
    'main{display:grid;grid-template-columns:1fr 2fr;gap:16px}img{grid-column:2;justify-self:end;width:200px;align-self:center}',
    `<p>${WORDS}</p><img src="SRC" alt=""><p class="next">${WORDS}</p>`,
  ],
  'in a row': [
    'main{display:flex;gap:12px}img{order:2;width:180px;height:120px;flex:none}',
    `<img src="SRC" alt=""><p class="next">${WORDS}</p>`,
  ],
  'across a column of a grid': [
    'main{display:grid;grid-template-columns:1fr 1fr;gap:16px}img{width:100%}',
    `<p class="next">${WORDS}${WORDS}</p><img src="SRC" alt=""><p>${WORDS}</p>`,
  ],
  'all of a card': [
    '.card{width:300px;height:180px;overflow:hidden;border-radius:16px}.card img{width:100%;height:100%;object-fit:cover}',
    `<div class="card"><img src="SRC" alt=""></div><p class="next">${WORDS}</p>`,
  ],
  'a card of a ratio': [
    '*{box-sizing:border-box}.card{width:min(50%, 320px);aspect-ratio:4/3;padding:0}.card img{display:block;width:100%;height:100%;object-fit:cover}',
    `<div class="card"><img src="SRC" alt=""></div><p class="next">${WORDS}</p>`,
  ],
  'across its column, with a border counted in': [
    '*{box-sizing:border-box}article{max-width:420px;padding:0 20px}figure{margin:0 10px}img{width:100%;border:6px solid #776655}',
    `<article><figure><a href="#"><img src="SRC" alt=""></a><figcaption class="next">One</figcaption></figure></article>`,
  ],
  'cards in a grid': [
    '.cards{display:grid;grid-template-columns:repeat(auto-fit,minmax(180px,1fr));gap:20px}.card{padding:10px}.card img{width:100%;aspect-ratio:4/3;object-fit:cover;border-radius:30px 0;outline:3px solid teal}',
    `<div class="cards"><div class="card"><p>One</p></div><div class="card"><img src="SRC" alt=""><p class="next">Two</p></div><div class="card"><p>Three</p></div></div>`,
  ],
  'a share of an even row': [
    '.row{display:flex;gap:16px}.row>div{flex:1}.row img{width:100%;border:4px solid #a94124;border-radius:50%}',
    `<div class="row"><div><p>One</p></div><div><img src="SRC" alt=""><p class="next">Two</p></div></div>`,
  ],
  'placed over its column': [
    'main{position:relative;min-height:300px}img{position:absolute;right:20px;top:30px;width:150px}',
    `<img src="SRC" alt=""><p class="next">${WORDS}</p>`,
  ],
  'a border, counted in': img(
    'box-sizing:border-box;width:200px;height:160px;border:8px solid steelblue;object-fit:cover',
  ),
  'a border by parts': img(
    'width:200px;border:3px dashed;border-width:6px;border-style:solid;border-color:hsl(20 60% 40%)',
  ),
  'a border over a gap': img('width:200px;padding:6px;border:2px solid rgb(60 90 80 / 80%)'),
  'a mount': img('width:200px;padding:10px;background:#f4e2c8;box-shadow:0 4px 10px rgb(0 0 0 / .4)'),
  'an outline at a distance': img('width:200px;margin:20px;outline:3px solid oklch(55% .15 40);outline-offset:5px'),
  'rounded, in a border': img('width:200px;height:150px;border:6px solid #a94124;border-radius:30px'),
  'unlike corners': img('width:200px;height:150px;border-radius:60px 0 30px 0 / 40px 0 30px 0'),
  'a pill': img('width:240px;height:120px;object-fit:cover;border-radius:999px'),
  circle: img(
    'width:160px;aspect-ratio:1;object-fit:cover;border-radius:50%;border:4px solid #fff;box-shadow:0 0 0 1px #999',
  ),
  'clipped to a circle': img('width:200px;height:160px;clip-path:circle(40% at 45% 50%)'),
  'clipped to an ellipse': img('width:200px;height:160px;clip-path:ellipse(closest-side 30% at 60% 50%)'),
  'clipped by insets': img('width:200px;height:160px;clip-path:inset(10px 20% 5% 30px round 24px 0)'),
  'clipped to a polygon': img(
    'width:200px;height:160px;clip-path:polygon(50% 0, calc(100% - 10px) 50%, 50% 100%, 0 50%)',
  ),
  'clipped to a path': img('width:200px;height:160px;clip-path:path("M0 160 L100 0 L200 160 Z")'),
  'a shadow of its shape': img('width:200px;border-radius:40px;filter:drop-shadow(4px 6px 5px rgba(40, 20, 0, .6))'),
  'grey, with a shadow': img('width:200px;filter:grayscale(1) drop-shadow(4px 6px 5px #0008)'),
  turned: img('width:160px;margin:40px;transform:rotate(12deg)'),
  mirrored: img('width:160px;margin:40px;transform:scaleX(-1) rotate(8deg)'),
  'moved by its page': img('width:160px;transform:translate(30px, 10px) scale(.9)'),
  'an edge of its picture': img('width:120px;height:160px;object-fit:cover;object-position:right 10px bottom 0'),
  variables: [
    ':root{--line:4px;--edge:var(--line) solid var(--brand, black);--brand:teal}main{--brand:#b5482a}img{border:var(--edge);width:calc(var(--size, 10rem) + 2em);border-radius:calc(var(--line) * 4)}',
    `<img src="SRC" alt=""><p class="next">${WORDS}</p>`,
  ],
  'large letters': [
    'html{font-size:20px}main{font-size:1.5rem}img{width:6em;height:clamp(4rem, 20vw, 8rem);object-fit:cover}',
    `<img src="SRC" alt=""><p class="next">One</p>`,
  ],
  'the colour of its words': [
    'main{color:#2f6f73}img{width:150px;border:5px double}',
    `<img src="SRC" alt=""><p class="next">One</p>`,
  ],
};

for (const [name, [css, body]] of Object.entries(CASES))
  test(`a page as Chromium lays it out, and the same with its picture framed as it was: ${name}`, async ({
    browser,
  }) => {
    const page = await browser.newPage({ viewport: WINDOW });
    const markup = whole(css, body);
    const was = await look(page, markup);
    const file = openFile(new TextEncoder().encode(markup));
    const { frame } = file.pictures[0]!;
    if (!/rotate|scale/.test(css)) {
      expect.soft(Math.abs((frame.box.width * 4) / 3 - was.image.width), 'width').toBeLessThan(0.1);
      expect.soft(Math.abs((frame.box.height * 4) / 3 - was.image.height), 'height').toBeLessThan(0.1);
    }
    // A mark alone changes: everything seen is now the frame's to say.
    const saved = new TextDecoder().decode(file.write(withFrames(file, [{ ...frame, keep: [MARK] }])));
    expect(saved).toContain('data-gable');
    const is = await look(page, saved);
    const close = (a: number, b: number): void => expect(Math.abs(a - b), `${a} and ${b}`).toBeLessThan(0.6);
    for (const [i, { x, y }] of was.next.entries()) {
      close(is.next[i]!.x, x);
      close(is.next[i]!.y, y);
    }
    if (!/rotate|scale/.test(css))
      for (const k of ['x', 'y', 'width', 'height'] as const) close(is.image[k], was.image[k]);
    const { mean, wrong } = differ(was.pixels, is.pixels);
    // Most are 0; a double line is shared out otherwise, and blurs differ by a level or two.
    expect(mean).toBeLessThan(0.1);
    expect(wrong).toBeLessThan(0.0012);
    // Framed again, it stands where it stood.
    const again = openFile(new TextEncoder().encode(saved));
    const more = new TextDecoder().decode(
      again.write(withFrames(again, [{ ...again.pictures[0]!.frame, keep: [{ ...MARK, width: 0.5 }] }])),
    );
    expect(differ((await look(page, more)).pixels, is.pixels).mean).toBe(0);
    await page.close();
  });

/** Boxes that are as wide as what is in them, and heights of their own: at a wide window and at a telephone's. */
const FLUID: Readonly<Record<string, [css: string, body: string]>> = {
  'in a cell of a table': ['img{max-width:100%}', '<table><tr><td><img src="SRC" alt=""></td></tr></table>'],
  'in a table across its column': [
    'img{max-width:100%}table{width:100%}',
    `<table><tr><td><img src="SRC" alt=""></td><td class="next">${WORDS}</td></tr></table>`,
  ],
  'in a narrow cell': ['img{max-width:100%}td{width:200px}', '<table><tr><td><img src="SRC" alt=""></td></tr></table>'],
  'in a row of things as wide as they are': [
    'img{max-width:100%}div{display:flex;gap:8px}',
    `<div><span><img src="SRC" alt=""></span><p class="next">Words</p></div>`,
  ],
  'an item of a row itself': [
    'img{max-width:100%}div{display:flex}',
    `<div><img src="SRC" alt=""><p class="next">Words</p></div>`,
  ],
  'in a centred column': [
    'img{max-width:100%}div{display:flex;flex-direction:column;align-items:center}',
    `<div><img src="SRC" alt=""><p class="next">Words</p></div>`,
  ],
  'in a float': ['img{max-width:100%}div{float:left}', `<div><img src="SRC" alt=""></div><p class="next">${WORDS}</p>`],
  'in an inline block': ['img{max-width:100%}div{display:inline-block}', '<div><img src="SRC" alt=""></div>'],
  'in a box that fits its content': ['img{max-width:100%}div{width:fit-content}', '<div><img src="SRC" alt=""></div>'],
  'in a box that is placed': [
    'img{max-width:100%}div{position:absolute;left:20px}',
    '<div><img src="SRC" alt=""></div>',
  ],
  'a share of a float': ['img{width:100%}div{float:left}', '<div><img src="SRC" alt=""></div>'],
  'a share of a cell': ['img{width:100%}', '<table><tr><td><img src="SRC" alt=""></td></tr></table>'],
  'a hero of its own height': [
    'img{width:100%;height:480px;object-fit:cover}',
    '<img src="SRC" alt=""><p class="next">Words</p>',
  ],
  'a hero by the window': [
    'img{width:100%;height:60vh;object-fit:cover}',
    '<img src="SRC" alt=""><p class="next">Words</p>',
  ],
  'a hero from edge to edge': [
    'body{margin:0}main{width:auto}img{display:block;width:100%;height:320px;object-fit:cover;object-position:20% 70%}',
    '<img src="SRC" alt=""><p class="next">Words</p>',
  ],
  'cards of one height': [
    '.g{display:grid;grid-template-columns:repeat(3,1fr);gap:12px}img{width:100%;height:200px;object-fit:cover}',
    '<div class="g"><div><img src="SRC" alt=""></div><div><p class="next">Words</p></div></div>',
  ],
  'halves of a row': [
    '.r{display:flex}.r>*{flex:1}img{width:100%;height:180px;object-fit:cover}',
    '<div class="r"><div><img src="SRC" alt=""></div><div><p class="next">Words</p></div></div>',
  ],
  'an item with a length of its own': [
    'div{display:flex}img{flex:0 0 100px;height:80px;object-fit:cover}',
    '<div><img src="SRC" alt=""><p class="next">Words</p></div>',
  ],
  'aligned by an attribute': [
    '',
    `<p><img src="SRC" alt="" width="120" align="left" hspace="12" vspace="6">${WORDS}</p><p class="next">Words</p>`,
  ],
  'aligned to the right': [
    '',
    `<p><img src="SRC" alt="" width="120" align="right">${WORDS}</p><p class="next">Words</p>`,
  ],
  'in the middle of its line': [
    '',
    `<p>Words <img src="SRC" alt="" width="60" align="middle"> <span class="next">and words</span></p>`,
  ],
  'with a border of an attribute': [
    '',
    `<p><a href="#"><img src="SRC" alt="" width="120" border="3"></a><span class="next">words</span></p>`,
  ],
  'with words that hang on it': [
    'img + p{margin-left:60px}@media (min-width:600px){.a > img ~ em{letter-spacing:4px}}',
    `<div class="a"><img src="SRC" alt="" width="120"><p class="next">Words</p><em class="next">More</em></div>`,
  ],
  'of an unknown size, elsewhere': [
    '',
    '<p><img src="elsewhere.png" alt="" style="outline:0"><span class="next">words</span></p>',
  ],
};

for (const [name, [css, body]] of Object.entries(FLUID))
  test(`on a wide window and on a telephone, framed as it was: ${name}`, async ({ browser }) => {
    const markup = whole(`main{width:auto}${css}`, body);
    const file = openFile(new TextEncoder().encode(markup));
    const saved = new TextDecoder().decode(
      file.write(withFrames(file, [{ ...file.pictures[0]!.frame, keep: [MARK] }])),
    );
    expect(saved).toContain('data-gable');
    for (const width of [1180, 390]) {
      const page = await browser.newPage({ viewport: { width, height: 800 } });
      await page.route('**/elsewhere.png', (r) => r.fulfill({ body: Buffer.from(picture.split(',')[1]!, 'base64') }));
      await page.goto('data:text/html,');
      const show = async (text: string): Promise<Seen & { scrolls: boolean }> => {
        const seen = await look(page, text.replaceAll('"elsewhere.png"', '"http://127.0.0.1/elsewhere.png"'));
        const scrolls = await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);
        return { ...seen, scrolls };
      };
      const [was, is] = [await show(markup), await show(saved)];
      const at = `${name} at ${width}`;
      for (const k of ['x', 'y', 'width', 'height'] as const)
        expect
          .soft(Math.abs(is.image[k] - was.image[k]), `${at}, ${k}: ${is.image[k]} for ${was.image[k]}`)
          .toBeLessThan(1);
      for (const [i, { x, y }] of was.next.entries()) {
        expect.soft(Math.abs(is.next[i]!.x - x), `${at}, beside it ${is.next[i]!.x} for ${x}`).toBeLessThan(1);
        expect.soft(Math.abs(is.next[i]!.y - y), `${at}, below it ${is.next[i]!.y} for ${y}`).toBeLessThan(1);
      }
      expect.soft(is.scrolls, `${at}, scroll bar`).toBe(was.scrolls);
      expect.soft(differ(was.pixels, is.pixels).mean, at).toBeLessThan(0.25);
      await page.close();
    }
  });

/** A page in Gable's frame without rights, shown whole, with the data of its pictures. */
async function inFrame(page: Page, markup: string): Promise<Buffer> {
  const file = openFile(new TextEncoder().encode(markup));
  const data = file.pictures.map((p) => {
    try {
      return { n: p.n, base64: Buffer.from(file.pictureBytes(p.n)).toString('base64') };
    } catch {
      return null;
    }
  });
  await page.goto('/api/health');
  const lacking = await page.evaluate(
    async ({ html, given }) => {
      document.documentElement.style.overflow = 'hidden';
      document.body.style.margin = '0';
      const frame = document.createElement('iframe');
      frame.setAttribute('sandbox', 'allow-scripts');
      frame.style.cssText = 'display:block;width:1180px;height:800px;border:0;background:#fff';
      frame.src = '/page/index.html';
      document.body.replaceChildren(frame);
      return new Promise<readonly number[]>((resolve, reject) => {
        window.addEventListener('message', ({ data: told }: MessageEvent<Laid & { failed?: string; ready?: true }>) => {
          const bytes = new TextEncoder().encode(html).buffer;
          if (told.ready) return frame.contentWindow!.postMessage({ id: 1, bytes }, '*', [bytes]);
          if (told.failed) return reject(new Error(told.failed));
          frame.style.height = `${told.height}px`;
          const pictures = given.flatMap((g) => {
            if (!g || !told.lacking.includes(g.n)) return [];
            const own = Uint8Array.from(atob(g.base64), (c) => c.charCodeAt(0));
            return [{ n: g.n, key: String(g.n), data: new Blob([own]) }];
          });
          if (pictures.length > 0) frame.contentWindow!.postMessage({ id: 1, given: pictures }, '*');
          else setTimeout(() => resolve(told.lacking), 50);
        });
      });
    },
    { html: file.markup!(1)!, given: data },
  );
  expect(lacking).toEqual([]);
  const shot = await page.screenshot({ clip: { x: 0, y: 0, ...WINDOW } });
  return sharp(shot).removeAlpha().raw().toBuffer();
}

/** Pages of the open web's habits, in which something lies over a picture or hangs on the window. */
const OVER: Readonly<Record<string, [css: string, body: string]>> = {
  'a heading over a hero': [
    'main{width:auto}section{position:relative}img{display:block;width:100%;height:480px;object-fit:cover}h1{position:absolute;left:40px;bottom:30px;color:#fff;font-size:56px;margin:0}',
    `<section><img src="SRC" alt=""><h1>Open day</h1></section><p>${WORDS}</p>`,
  ],
  'as high as the window': [
    'body{margin:0}main{width:auto;min-height:100svh;display:grid;align-items:end}img{width:40vmin;height:calc(50vh - 20px);object-fit:cover}@media (max-height:900px){p{color:#a33}}',
    `<img src="SRC" alt=""><p>${WORDS}</p>`,
  ],
  'a veil over a card': [
    '.card{position:relative;width:300px}.card img{display:block;width:100%}.card::after{content:"";position:absolute;inset:40% 0 0;background:linear-gradient(transparent,#000c)}',
    '<div class="card"><img src="SRC" alt=""></div>',
  ],
};
for (const [name, [css, body]] of Object.entries({ ...CASES, ...FLUID, ...OVER })) {
  if (body.includes('elsewhere.png')) continue;
  test(`shown untouched, a page is what Chromium shows: ${name}`, async ({ browser }) => {
    const page = await browser.newPage({ viewport: WINDOW });
    const markup = whole(css, body);
    const was = (await look(page, markup)).pixels;
    expect(differ(was, await inFrame(page, markup)).mean).toBeLessThan(0.5);
    await page.close();
  });
}

test('a page written before browsers agreed is shown as they show such pages', async ({ browser }) => {
  const page = await browser.newPage({ viewport: WINDOW });
  // Without a doctype a table does not take on the size of the words round it (HTML §15.3.10), nor a line under a picture.
  const markup = whole('body{font-size:30px}', `<table><tr><td>Words<td><img src="SRC"></table>`).replace(
    '<!DOCTYPE html>',
    '',
  );
  const was = (await look(page, markup)).pixels;
  expect(differ(was, await inFrame(page, markup)).mean).toBeLessThan(0.5);
  await page.close();
});

test('an outline on the edge of a picture from edge to edge gives no scroll bar', async ({ browser }) => {
  const markup = whole('body{margin:0}main{width:auto}img{display:block;width:100%}', '<img src="SRC" alt="">');
  const file = openFile(new TextEncoder().encode(markup));
  const outline = { ...solidOutline(12, '#b5482a'), side: 'outside' as const };
  const saved = new TextDecoder().decode(file.write(withFrames(file, [{ ...file.pictures[0]!.frame, outline }])));
  const page = await browser.newPage({ viewport: WINDOW });
  await look(page, saved);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(WINDOW.width);
  await page.close();
});

const HEIGHTS: [css: string, height: (window: { width: number; height: number }) => number][] = [
  ['width:100%;height:480px;object-fit:cover', () => 480],
  ['width:100%;height:60vh;object-fit:cover', ({ height }) => 0.6 * height],
];
for (const [css, height] of HEIGHTS)
  test(`a height that was said stays said, whatever the shape: ${css}`, async ({ browser }) => {
    const file = openFile(new TextEncoder().encode(whole(`main{width:auto}img{${css}}`, '<img src="SRC" alt="">')));
    const { frame, size } = file.pictures[0]!;
    const near = { ...frame, placement: { ...frame.placement, zoom: 1.4 }, outline: solidOutline(6, '#b5482a') };
    const hearts = withShape(near, { name: 'heart', knobs: {} }, size);
    const round = withShape(near, { name: 'circle', knobs: {} }, size);
    for (const window of [WINDOW, { width: 390, height: 700 }]) {
      const page = await browser.newPage({ viewport: window });
      const boxOf = async (next: typeof frame): Promise<Seen['image']> =>
        (await look(page, new TextDecoder().decode(file.write(withFrames(file, [next]))))).image;
      const heart = await boxOf(hearts);
      expect(heart.height).toBeCloseTo(height(window), 0);
      expect(heart.width).toBeCloseTo(window.width - 80, 0);
      // A circle is one on a telephone, too.
      const circle = await boxOf(round);
      expect(circle.width).toBeCloseTo(circle.height, 0);
      expect(circle.width).toBeLessThanOrEqual(window.width - 80);
      await page.close();
    }
  });

import { strFromU8, strToU8, unzipSync } from 'fflate';
import { parse } from 'parse5';
import { deriveView, solidOutline, viewCrop, withShape, type Frame } from '@gable/core';
import { openFile, type FramedFile } from './support/frames';
import { png } from './support/build';
import { pack } from './support/deck';

const enc = (text: string): Uint8Array => new TextEncoder().encode(text);
const dec = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const data = async (): Promise<string> =>
  `data:image/png;base64,${Buffer.from(await png(300, 200)).toString('base64')}`;
const page = async (body: string, css = ''): Promise<FramedFile> =>
  openFile(
    enc(
      `<!DOCTYPE html>\r\n<html lang="en"><head><title>Visit</title><style>${css}</style></head>\r\n<body>${body.replaceAll('DATA', await data())}</body></html>\r\n`,
    ),
  );
const circled = (file: FramedFile, n = 1): Frame => {
  const p = file.pictures[n - 1]!;
  return { ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size), outline: solidOutline(6, '#ffffff') };
};
const crop = (file: FramedFile): ReturnType<typeof viewCrop> => {
  const p = file.pictures[0]!;
  return viewCrop(deriveView(p.frame.placement, p.frame.box, p.size));
};

describe('images of a page', () => {
  // CSS Images 3 §5.5: percentages are of the difference of box and picture. The picture is 300 × 200 px.
  test.each([
    ['width:150px', 112.5, 75, 0, 0],
    ['width:100px;height:100px', 75, 75, 0, 0],
    ['width:100px;height:100px;object-fit:cover', 75, 75, 1 / 6, 0],
    ['width:100px;height:100px;object-fit:cover;object-position:0 50%', 75, 75, 0, 0],
    ['width:100px;height:100px;object-fit:cover;object-position:right', 75, 75, 1 / 3, 0],
    ['width:100px;height:100px;object-fit:contain', 75, 75, 0, -0.25],
    ['width:90pt;aspect-ratio:1/1;object-fit:cover', 90, 90, 1 / 6, 0],
    ['max-width:50%', 225, 150, 0, 0],
  ])('style="%s"', async (style, width, height, left, top) => {
    const file = await page(`<p><img src="DATA" style="${style}" alt="A &amp; B"></p>`);
    const { frame } = file.pictures[0]!;
    expect(frame.box.width).toBeCloseTo(width, 6);
    expect(frame.box.height).toBeCloseTo(height, 6);
    expect(crop(file).left).toBeCloseTo(left, 6);
    expect(crop(file).top).toBeCloseTo(top, 6);
    expect(frame.alt).toBe('A & B');
  });

  // Filter Effects 1 §13.1: the functions, their sums and their usual amounts; CSS Color 4 §3.2 for opacity.
  const plain = { amount: 1, warmth: 0, tint: 0, only: null };
  const light = { brightness: 0, contrast: 0, bright: 0, dark: 0 };
  test.each<[string, Frame['tone'], boolean]>([
    ['filter:grayscale(1)', { colour: { ...plain, amount: 0 } }, true],
    ['filter:grayscale(40%)', { colour: { ...plain, amount: 0.6 } }, true],
    ['filter:grayscale()', { colour: { ...plain, amount: 0 } }, true],
    ['filter:brightness(1.2) contrast(80%)', { light: { ...light, brightness: 0.2, contrast: -0.2 } }, true],
    ['filter:saturate(2) blur(4px)', { colour: { ...plain, amount: 2 }, softness: { blur: 3 } }, true],
    ['filter:invert(1)', { given: { inverted: true } }, true],
    ['opacity:.5', { fading: { opacity: 0.5, multiply: false } }, true],
    ['opacity:50%;filter:opacity(.5)', { fading: { opacity: 0.25, multiply: false } }, true],
    ['filter:none', undefined, true],
    ['filter:sepia(1)', undefined, false],
    ['filter:contrast(.5) brightness(.5)', undefined, false],
    ['filter:url(#f)', undefined, false],
    // A shadow of the frame, not a tone.
    ['filter:drop-shadow(1px 2px 3px black)', undefined, true],
    ['filter:drop-shadow(1px 2px 3px black) sepia(1)', undefined, false],
  ])('colours: %s', async (style, tone, read) => {
    const file = await page(`<p><img src="DATA" style="${style}" alt=""></p>`);
    const { frame } = file.pictures[0]!;
    const near = (t: Frame['tone']): unknown =>
      JSON.parse(JSON.stringify(t ?? null), (_, v: unknown) => (typeof v === 'number' ? Number(v.toFixed(9)) : v));
    expect(near(frame.tone)).toEqual(near(tone));
    // What was read is the frame's to say from then on: with its tone taken off the page's own is held back.
    const next = circled(file);
    delete next.tone;
    const saved = dec(file.save([next]));
    expect(saved.includes('filter: none !important')).toBe(read && style.includes('filter'));
    expect(saved.includes('opacity: 1 !important')).toBe(read && style.includes('opacity:'));
  });

  // Selectors 4: what matches (§15, §6, §14.3), and what wins (§17); CSS Cascade 5 §6.4 for importance.
  test.each([
    ['figure img{width:40px}', 40],
    ['article > figure > img{width:40px}', 40],
    ['article > img{width:40px}', 300],
    ['h2 + figure img{width:40px}', 40],
    ['h2 ~ figure img{width:40px}', 40],
    ['img[alt="x"]{width:40px}', 40],
    ['figure img:first-child{width:40px}', 40],
    ['figure img:not(.small){width:40px}', 300],
    ['figure img:hover{width:40px}', 300],
    ['img::before{width:40px}', 300],
    // Media Queries 4 §2 and §3, in a window of 1180 × 800 px; CSS Conditional 3 §6; CSS Cascade 5 §6.4.3 for layers.
    ['@media (min-width: 600px){figure img{width:40px}}', 40],
    ['@media (max-width: 37.5em){figure img{width:40px}}', 300],
    ['@media screen and (min-width: 50em) and (orientation: landscape){figure img{width:40px}}', 40],
    ['@media print{figure img{width:40px}}', 300],
    ['@media print, (hover){figure img{width:40px}}', 40],
    ['@media not print{figure img{width:40px}}', 40],
    ['@media (400px <= width < 1180px){figure img{width:40px}}', 300],
    ['@media (width >= 1180px){figure img{width:40px}}', 40],
    ['@media (not (max-height: 700px)) and (color){figure img{width:40px}}', 40],
    ['@media (min-width: 9000px) or (prefers-color-scheme: light){figure img{width:40px}}', 40],
    ['@media (prefers-color-scheme: dark){figure img{width:40px}}', 300],
    ['@media (unheard-of: 3){figure img{width:40px}}', 300],
    ['@media (not (unheard-of: 3)){figure img{width:40px}}', 300],
    ['@supports (display: grid){@media (min-width: 1px){figure img{width:40px}}}', 40],
    ['@supports not (display: grid){figure img{width:40px}}', 300],
    ['@layer base{#f .small{width:90px}} img{width:40px}', 40],
    ['@container (min-width: 1px){figure img{width:40px}}', 300],
    ['img:unheard-of{width:40px}', 300],
    ['#f img{width:40px} .small{width:50px}', 40],
    ['figure img{width:40px} img{width:50px}', 40],
    ['img{width:40px !important} #f .small{width:50px}', 40],
    [':where(#f) img{width:40px} .small{width:50px}', 50],
  ])('%s', async (css, px) => {
    const body = '<article><h2>One</h2><figure id="f"><img class="small" src="DATA" alt="x"></figure></article>';
    const file = await page(body, css);
    expect(file.pictures[0]!.frame.box.width).toBeCloseTo(px * 0.75, 6);
  });

  // CSS Values 4 §5.1, §6.1 and §10 in a window of 1180 × 800 px; CSS Variables 1; CSS Sizing 3; CSS Box Sizing.
  test.each<[string, number]>([
    // Unbounded up to the window, but for the margins of body and figure (HTML §15.3.3, §15.3.9).
    ['img{width:calc(2em + 10%)}', 2 * 16 + 0.1 * (1180 - 2 * 8 - 2 * 40)],
    ['body{margin:0}figure{margin:0}img{width:100%}', 1180],
    ['figure{float:left}img{width:100%}', 720],
    ['img{width:clamp(50px, 50vw, 4rem)}', 64],
    ['img{width:min(90%, 100px)}', 100],
    ['html{font-size:62.5%}img{width:12rem}', 120],
    ['article{font-size:2em}figure{font-size:50%}img{width:10em}', 160],
    ['article{font:italic bold 20px/1.2 serif}img{width:2em}', 40],
    ['img{width:10vw}', 118],
    ['img{inline-size:44px}', 44],
    ['img{box-sizing:border-box;padding:5px;border:3px solid;width:80px}', 64],
    ['img{padding:5px;border:3px solid;width:80px}', 80],
    ['article{max-width:400px}img{width:50%}', 160],
    ['article{width:400px;padding:0 20px;box-sizing:border-box}figure{width:50%}img{width:100%}', 180],
    // A figure has margins of 40 px without being told (HTML §15.3.9); this one says its own.
    ['article{width:400px}img{width:100%}', 320],
    ['article{width:400px}figure{margin:0 10px}img{width:100%}', 380],
    ['article{display:flex;width:900px}img{width:100%}', 720],
    // Grids and rows (CSS Grid 1 §7.2, CSS Flexbox 1 §7.1): one figure, alone in its row.
    ['figure{margin:0}article{display:flex;width:900px}figure{flex:1}img{width:100%}', 900],
    [
      'figure{margin:0}article{display:grid;width:900px;gap:20px;grid-template-columns:repeat(3,1fr)}img{width:100%}',
      286.667,
    ],
    [
      'figure{margin:0}article{display:grid;width:900px;gap:20px;grid-template-columns:200px 1fr 3fr}img{width:100%}',
      200,
    ],
    [
      'figure{margin:0;grid-column:2 / -1}article{display:grid;width:900px;gap:20px;grid-template-columns:200px 1fr 3fr}img{width:100%}',
      680,
    ],
    [
      'figure{margin:0}article{display:grid;width:900px;gap:20px;grid-template-columns:repeat(auto-fill,minmax(200px,1fr))}img{width:100%}',
      210,
    ],
    [
      'figure{margin:0}article{display:grid;width:900px;gap:20px;grid-template-columns:repeat(auto-fit,minmax(200px,1fr))}img{width:100%}',
      900,
    ],
    ['figure{margin:0}article{display:grid;width:900px;grid-template-columns:max-content 1fr}img{width:100%}', 720],
    ['figure{height:50px}img{height:100%;width:auto}', 75],
    [':root{--w:40px}img{width:var(--w)}', 40],
    [':root{--w:40px}figure{--w:50px}img{width:var(--w)}', 50],
    ['img{width:var(--none, calc(20px * 2))}', 40],
    ['img{width:80px}figure img{width:var(--none)}', 300],
    [':root{--a:var(--b);--b:var(--a)}img{width:var(--a, 40px)}', 40],
    ['img{--W:40px;--w:50px;width:var(--W)}', 40],
    ['img{width:40px /* not 50px */}', 40],
    ['img{width:40px}img{width:initial}', 300],
  ])('lengths: %s', async (css, px) => {
    const file = await page('<article><figure><img src="DATA" alt="x"></figure></article>', css);
    expect(file.pictures[0]!.frame.box.width).toBeCloseTo(px * 0.75, 3);
  });

  test('variables that would grow without end are none', async () => {
    const grow = Array.from({ length: 40 }, (_, i) => `--v${i + 1}:var(--v${i}) var(--v${i}) var(--v${i})`).join(';');
    const file = await page('<img src="DATA" alt="">', `:root{--v0:1px;${grow}}img{width:var(--v40);height:30px}`);
    expect(file.pictures[0]!.frame.box).toMatchObject({ width: 33.75, height: 22.5 });
  });

  // Colours as CSS Color 4 §15 gives them: named (§6.1), hsl (§7), hwb (§8), oklch (§9), the element's own (§6.2).
  test.each<[string, string, number]>([
    ['2px solid steelblue', '#4682b4', 1],
    ['solid hsl(120 100% 25%) 2px', '#008000', 1],
    ['2px solid hsla(120deg, 100%, 50%, 50%)', '#00ff00', 0.5],
    ['2px solid hwb(194 0% 0%)', '#00c3ff', 1],
    ['2px solid oklch(51.975% 0.17686 142.495)', '#008000', 1],
    ['2px solid #f0a8', '#ff00aa', 8 / 15],
    ['2px solid rgb(50% 0% 100% / .25)', '#8000ff', 0.25],
    ['2px solid', '#112233', 1],
    ['2px solid currentColor', '#112233', 1],
  ])('border:%s', async (border, colour, opacity) => {
    const file = await page('<img src="DATA" alt="">', `body{color:#123}img{border:${border}}`);
    const outline = file.pictures[0]!.frame.outline!;
    expect(outline.weight).toBeCloseTo(1.5, 9);
    expect(outline.paint).toEqual({ kind: 'solid', colour, opacity: expect.closeTo(opacity, 3) as number });
  });

  test('one side alone is no outline; a later longhand overrides its part of a shorthand', async () => {
    expect((await page('<img src="DATA" style="border-bottom:2px solid red">')).pictures[0]!.frame.outline).toBeNull();
    const file = await page('<img src="DATA" style="border:2px solid red;border-width:4px;border-inline-color:red">');
    expect(file.pictures[0]!.frame.outline).toMatchObject({ weight: 3, paint: { colour: '#ff0000' } });
  });

  test('where the image stood, what stands there in its stead stands, again and again', async () => {
    const css =
      'figure > img{float:right;margin:8px 0 1em 12px;width:50%;max-width:400px;border:4px solid #fff;transform:translateY(4px)}';
    const file = await page('<figure><img src="DATA" alt="x"></figure>', css);
    const first = file.save([circled(file)]);
    const ruleOf = (bytes: Uint8Array): string => /\.gable-1 \{[^}]*\}/.exec(dec(bytes))![0];
    for (const line of [
      'float: right;',
      // 4 px of border are room for the outline: 8 + 4, 4, 16 + 4 and 12 + 4 px in points.
      'margin-top: 9pt;',
      'margin-right: 3pt;',
      'margin-bottom: 15pt;',
      'margin-left: 12pt;',
      '--moved: translateY(4px);',
      'transform: var(--moved);',
    ])
      expect(ruleOf(first)).toContain(line);
    const again = openFile(first);
    expect(ruleOf(again.save([{ ...again.pictures[0]!.frame, alt: 'y' }]))).toBe(ruleOf(first));
  });

  test('a style sheet for paper is not for the screen; the later of two wins', async () => {
    const sheets =
      '<style media="print">img{width:10px}</style><style>img{width:20px}</style><style media="screen and (min-width: 20em)">img{width:40px}</style>';
    const file = await page(`${sheets}<img src="DATA" alt="">`);
    expect(file.pictures[0]!.frame.box.width).toBeCloseTo(30, 6);
  });

  test('rules of the page by name, class and id; shape, border and shadow', async () => {
    const css =
      'img{width:80px;height:80px;border-radius:4px} .round{border-radius:50%;border:3px solid #fff} #a{box-shadow:2px 4px 8px rgba(0,0,0,.5)}';
    const file = await page('<p>One <img id="a" class="x round" src="DATA"></p><img src="DATA" width="40">', css);
    expect(file.pictures[0]!.frame).toMatchObject({
      box: { width: 60, height: 60 },
      shape: { name: 'circle' },
      outline: { weight: 2.25, side: 'outside', paint: { colour: '#ffffff' } },
      shadow: { kind: 'outer', dx: 1.5, dy: 3, blur: 6, opacity: 0.5 },
    });
    expect(file.pictures[1]!.frame).toMatchObject({
      shape: { name: 'rounded', knobs: { radius: 0.05 } },
      box: { width: 60 },
    });
    expect(file.pictures[0]!.where).toMatchObject({ place: 'page', page: 1, near: 'One' });
  });

  test('what goes round the image and one rule are the only changes', async () => {
    const body =
      '<h1>Find us</h1>\r\n<p>By the <a href="/m">mill<img src="DATA" width=150 alt=pot></a> pond&nbsp;☕</p><script>if (1 < 2) x()</script>';
    const file = await page(body);
    const before = dec(file.save([]));
    expect(dec(file.save(file.pictures.map((p) => p.frame)))).toBe(before);
    const after = dec(file.save([circled(file)]));
    const stripped = after
      .replace(/<style data-gable[\s\S]*?<\/style>/, '')
      .replace(/<span class="gable-1"[\s\S]*?(<img[^>]*>)[\s\S]*?<\/span>(?:<svg[\s\S]*?<\/svg>)?<\/span>/, '$1');
    expect(stripped).toBe(before);
    // Only phrasing content may stand in a paragraph and in a link (HTML §4.4.1, §4.5.1): the parser would move others out.
    const link = (function find(n: { nodeName: string; childNodes?: unknown[] }): boolean {
      return (n.childNodes ?? []).some((c) => {
        const e = c as { nodeName: string; childNodes?: unknown[] };
        return n.nodeName === 'a' ? e.nodeName === 'span' : find(e);
      });
    })(parse(after) as never);
    expect(link).toBe(true);
  });

  test('reopening gives the same frame; framing again replaces what was put there', async () => {
    const file = await page('<p><img src="DATA" width="150" alt="x"></p>');
    const want = circled(file);
    const once = file.save([want]);
    const again = openFile(once);
    expect(again.pictures[0]!.frame).toEqual(want);
    expect(again.save([want])).toEqual(once);
    const next = { ...want, shape: { name: 'hexagon', knobs: {} }, alt: 'A “pot”' };
    const twice = openFile(again.save([next]));
    expect(twice.pictures[0]!.frame).toEqual(next);
    expect(dec(twice.save([])).match(/class="gable-1"/g)).toHaveLength(1);
    expect(dec(twice.save([])).match(/<style data-gable/g)).toHaveLength(1);
    const changed = dec(once).replace('clip-path: ellipse(50% 50% at 50% 50%)', 'clip-path: none');
    expect(changed).not.toBe(dec(once));
    expect(openFile(enc(changed)).pictures[0]!.frame.shape.name).toBe('rectangle');
  });

  test('in a picture element all of it is wrapped; templates and noscript are left out', async () => {
    const file = await page(
      '<picture><source srcset="a.webp"><img src="DATA"></picture><template><img src="DATA"></template><noscript><img src="DATA"></noscript>',
    );
    expect(file.pictures).toHaveLength(1);
    const after = dec(file.save([circled(file)]));
    expect(after).toMatch(
      /<span class="gable-1"[^>]*>.*<span><picture><source srcset="a.webp"><img [^>]*><\/picture><\/span>/s,
    );
    expect(openFile(enc(after)).pictures[0]!.frame.shape.name).toBe('circle');
  });

  test('a page in an older encoding keeps every byte', async () => {
    const text = `<html><head></head><body><p>Caf\u00e9 <img src="${await data()}"></p></body></html>`;
    const bytes = Uint8Array.from(text, (c) => c.charCodeAt(0));
    const file = openFile(bytes);
    const saved = file.save([{ ...circled(file), alt: 'Töpfe' }]);
    expect(Buffer.from(saved).includes(Buffer.from([0x43, 0x61, 0x66, 0xe9]))).toBe(true);
    expect(Buffer.from(saved).toString('latin1')).toContain('T&#246;pfe');
  });

  test('scripts of a page stay text, and nothing that it links to is fetched', async () => {
    const file = await page(
      '<img src="https://example.org/a.png" onerror="alert(1)"><img src="b.png"><img src="javascript:alert(1)">',
    );
    expect(file.pictures.map((p) => p.problem?.code)).toEqual(['linked-picture', 'linked-picture', 'linked-picture']);
  });
});

describe('a zipped site', () => {
  const site = async (): Promise<Uint8Array> =>
    pack({
      'index.html':
        '<html><head><link rel="stylesheet" href="css/a.css"></head><body><img class="r" src="img/one.png"></body></html>',
      'more/two.html':
        '<html><head></head><body><p>Two</p><img src="../img/one.png" width="60"><img src="../../out.png"></body></html>',
      'css/a.css': '.r { width: 90px; height: 90px; border-radius: 50% }',
      'img/one.png': await png(300, 200),
      'script.js': 'alert(1)',
    });

  test('pages with the pictures and rules beside them; only changed pages are written', async () => {
    const bytes = await site();
    const file = openFile(bytes);
    expect([file.format, file.pages]).toEqual(['site', 2]);
    expect(file.pictures.map((p) => [p.where.part, p.frame.shape.name, p.problem?.code])).toEqual([
      ['index.html', 'circle', undefined],
      ['more/two.html', 'rectangle', undefined],
      ['more/two.html', 'rectangle', 'linked-picture'],
    ]);
    expect(file.save(file.pictures.map((p) => p.frame))).toEqual(bytes);
    const saved = file.save([circled(file, 2)]);
    for (const [name, part] of Object.entries(unzipSync(bytes)))
      if (name !== 'more/two.html') expect(unzipSync(saved)[name]).toEqual(part);
    expect(openFile(saved).pictures[1]!.frame.shape.name).toBe('circle');
  });

  test('another picture is a file beside its page', async () => {
    const file = openFile(await site());
    const bytes = await png(40, 40);
    const source = { sha256: 'a'.repeat(64), name: 'n', type: 'png', size: { width: 40, height: 40 }, orientation: 1 };
    const saved = file.save(
      [{ ...circled(file, 2), source }],
      new Map([[2, { bytes, type: 'png', size: source.size }]]),
    );
    expect(unzipSync(saved)['more/gable1.png']).toEqual(bytes);
    expect(strFromU8(unzipSync(saved)['more/two.html']!)).toContain('src="gable1.png"');
    expect(openFile(saved).pictures[1]!.media!.pixels).toEqual({ width: 40, height: 40 });
  });

  test('a zip of other things is no site', () => {
    expect(() => openFile(pack({ 'a.txt': strToU8('x') }))).toThrow(/not an office document/);
  });
});

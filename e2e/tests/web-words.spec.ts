/**
 * Words that a web page has itself: how they look is read as Chromium computes it (CSS Cascade 5, HTML §15.3), and what is made of
 * them here is what Chromium shows, with all else as it was.
 */
import { openFile } from '@gable/formats';
import { expect, handOver, laidOut, openOnBench, painted, saved, test, violations } from './steps';

const SHEETS: Readonly<Record<string, string>> = {
  plain: '',
  'with a font and a colour for all': 'body{font:italic 300 20px/1.6 "Fira Sans",serif;color:#2f4a4a;text-align:right}',
  'with variables and shares':
    ':root{--ink:rebeccapurple;--big:1.25}p,li{color:var(--ink);font-size:calc(var(--big)*1rem)}em{font-size:120%}',
  'with rules for links, tables and quotations':
    'a{color:inherit;text-decoration:none}blockquote{font-weight:bolder;text-align:center}td{font:700 .8em "Fira Mono",serif}h1 em{font-style:normal}',
  'with important rules and inner styles':
    'p{color:teal!important;font-weight:500}.x{all:initial;color:green}small{font-size:smaller;color:hsl(20 80% 30% / .6)}',
  'with letters by the window': 'html{font-size:clamp(16px,2vw,24px)}h1{font-size:2.5rem}h2,h3{font-weight:lighter}',
};
const BODY =
  '<h1>Open <em>day</em></h1><h2>At the kiln</h2><h3>Tea</h3><p>Come <b>in</b> <a href="x">by the yard</a>, <small>mind the cat</small>.</p>' +
  '<ul><li>One <u>two</u></li></ul><blockquote>Clay <cite>remembers</cite></blockquote><p class="x">Apart <strong>here</strong></p>' +
  '<table><tr><th>Day</th><td>Monday <i>late</i></td></tr></table><div style="font-family:Georgia">Last <code>words</code></div>';
const pageOf = (css: string): string =>
  `<!DOCTYPE html><html lang="en"><head><title>Visit</title><style>${css}</style></head><body>${BODY}</body></html>`;

for (const [name, css] of Object.entries(SHEETS))
  test(`look as Chromium computes it, on a page ${name}`, async ({ browser }) => {
    const { items } = openFile(new TextEncoder().encode(pageOf(css))).document;
    const read = Object.values(items).flatMap((item) =>
      item.kind === 'framed'
        ? (item.text?.paragraphs.flatMap((p) =>
            p.runs.map((r) => ({ ...r, text: r.text.trim(), align: p.align, size: Math.round(r.size * 1000) / 750 })),
          ) ?? [])
        : [],
    );
    const page = await browser.newPage({ viewport: { width: 1180, height: 800 } });
    await page.setContent(pageOf(css));
    const seen = await page.evaluate(() => {
      const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
      const all: {
        text: string;
        size: number;
        weight: string;
        style: string;
        colour: string;
        align: string;
        underlined: boolean;
      }[] = [];
      for (let n = walker.nextNode(); n; n = walker.nextNode()) {
        if (n.nodeValue!.trim() === '') continue;
        const e = n.parentElement!;
        const s = getComputedStyle(e);
        let underlined = false;
        for (let p: Element | null = e; p; p = p.parentElement)
          underlined ||= getComputedStyle(p).textDecorationLine.includes('underline');
        const block = e.closest('h1,h2,h3,p,li,blockquote,th,td,div')!;
        all.push({
          ...{ text: n.nodeValue!.trim(), size: parseFloat(s.fontSize), weight: s.fontWeight, style: s.fontStyle },
          ...{ colour: s.color, align: getComputedStyle(block).textAlign, underlined },
        });
      }
      return all;
    });
    await page.close();
    const ALIGN: Readonly<Record<string, string>> = {
      start: 'start',
      left: 'start',
      center: 'centre',
      right: 'end',
      '-webkit-center': 'centre',
    };
    expect(read.map((r) => r.text)).toEqual(seen.map((s) => s.text));
    for (const [i, s] of seen.entries()) {
      const r = read[i]!;
      // A monospace font by its kind alone is smaller in browsers, which no standard says.
      if (s.text !== 'words') expect([s.text, r.size]).toEqual([s.text, expect.closeTo(s.size, 0)]);
      expect([s.text, String(r.weight), r.italic, r.underline, r.align]).toEqual([
        s.text,
        s.weight,
        s.style === 'italic',
        s.underlined,
        ALIGN[s.align],
      ]);
      const [red, green, blue, opacity = 1] = s.colour.match(/[\d.]+/g)!.map(Number) as [
        number,
        number,
        number,
        number?,
      ];
      const hex = `#${[red, green, blue].map((v) => v.toString(16).padStart(2, '0')).join('')}`;
      expect([s.text, r.paint]).toEqual([s.text, { kind: 'solid', colour: hex, opacity: expect.closeTo(opacity, 2) }]);
    }
  });

const HTML = pageOf('body{margin:0 auto;max-width:40em;background:#f4f0e7}p{color:#555}').replace(
  '</h3>',
  '</h3><p><img alt="A square" width="90" height="90" src="data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="></p>',
);

test('words of a page are chosen, coloured and sized; the page that is handed over has that, and nothing else of it changed', async ({
  page,
}) => {
  await openOnBench(page, { name: 'visit.html', mimeType: 'text/html', buffer: Buffer.from(HTML) });
  await page.getByRole('radio', { name: 'Page' }).click();
  await laidOut(page);
  const words = page.locator('[data-own]');
  await expect(words).toHaveCount(10);
  // One stop on the way through the page.
  expect(await words.evaluateAll((all) => all.filter((e) => (e as HTMLElement).tabIndex === 0).length)).toBe(1);
  const band = page.getByRole('region', { name: 'Settings' });
  await words.nth(0).focus();
  await page.keyboard.press('ArrowDown');
  await expect(words.nth(1)).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  await expect(band.getByText('The text stays as it is in the file.')).toBeVisible();
  await words.nth(3).click();
  // #555 on #f4f0e7, by the formula of WCAG 2.2.
  await expect(band.locator('[data-contrast]')).toHaveText('Contrast 6.6 : 1');
  await expect(band.getByLabel('Outline')).toHaveCount(0);
  expect(await violations(page, ['wcag2a', 'wcag2aa', 'wcag22aa'])).toEqual([]);
  const colour = band.getByRole('textbox', { name: 'Colour' });
  await colour.fill('#b5482a');
  await colour.press('Enter');
  const size = band.getByRole('textbox', { name: 'Size' });
  await size.fill('24');
  await size.press('Enter');
  await painted(page);
  const frame = page.frameLocator('iframe').first();
  const shown = frame.locator('p', { hasText: 'Come in' });
  await expect(shown).toHaveCSS('color', 'rgb(181, 72, 42)');
  await expect(shown).toHaveCSS('font-size', '32px');
  await expect(frame.locator('small')).toHaveCSS('font-size', '26.67px');
  await expect(frame.locator('.x')).toHaveCSS('color', 'rgb(85, 85, 85)');
  await saved(page);
  const out = (await handOver(page)).toString();
  const expected = HTML.replace('<p>Come', '<p style="color:#b5482a;font-size:32px">Come')
    .replace('<a href="x">by', '<a style="color:#b5482a" href="x">by')
    .replace('<small>', '<small style="font-size:26.67px">');
  expect(out).toBe(expected);
});

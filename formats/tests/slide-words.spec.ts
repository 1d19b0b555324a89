/**
 * Words on slides: in decks that `pptxgenjs` writes, with its own inches and points; and what they take from the placeholders and
 * the master above them (ISO/IEC 29500-1 §19.3.1.52, §21.1.2.4.12), by hand.
 */
import type { FramedItem, Text } from '@gable/core';
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { openFile } from '../src/index';
import { buildDeck } from './support/deck';

type Item = FramedItem & { text: Text };
const wordsOf = (bytes: Uint8Array): Item[] =>
  Object.values(openFile(bytes).document.items).filter((i): i is Item => i.kind === 'framed' && i.text !== null);
const MM = 72 / 25.4;

test('a box stands within a millimetre of where it was put; bold is bold, and lists have their bullets', async () => {
  const script = path.join(__dirname, 'support/words-deck.mjs');
  const bytes = new Uint8Array(execFileSync(process.execPath, [script], { maxBuffer: 1e8 }));
  const [head, bullets, numbers] = wordsOf(bytes);
  const { box } = head!.at;
  for (const [is, inches] of [
    [box.x, 1.25],
    [box.y, 0.5],
    [box.width, 4],
    [box.height, 1.5],
  ] as const)
    expect(Math.abs(is - inches * 72)).toBeLessThan(MM);
  expect(head!.text.anchor).toBe('bottom');
  const [{ align, runs }] = head!.text.paragraphs as [Text['paragraphs'][number]];
  expect(align).toBe('centre');
  expect(runs).toMatchObject([
    { text: 'Open', weight: 700, size: 28, font: 'Georgia', paint: { colour: '#b5482a' } },
    { text: ' day', weight: 400, italic: true, underline: true },
  ]);
  // What `pptxgenjs` indents by where nothing is said: 27 points.
  expect(bullets!.text.paragraphs.slice(0, 2)).toMatchObject([
    { bullet: '•', indent: { left: 27, first: -27 } },
    { bullet: '•', indent: { left: 27, first: -27 } },
  ]);
  expect(numbers!.text.paragraphs.slice(0, 2).map((p) => p.bullet)).toEqual(['1.', '2.']);
});

const shape = (ph: string, body: string): string =>
  `<p:sp><p:nvSpPr><p:cNvPr id="9" name="t"/><p:cNvSpPr/><p:nvPr>${ph}</p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="1270000" cy="635000"/></a:xfrm></p:spPr><p:txBody>${body}</p:txBody></p:sp>`;

test('words take their look from the placeholder of the layout, level by level; what they say themselves comes first', async () => {
  const level = (n: number, size: number, more: string): string =>
    `<a:lvl${n}pPr marL="${n * 127000}" indent="-127000" algn="r">${more}<a:defRPr sz="${size}00" b="1"/></a:lvl${n}pPr>`;
  const above = shape(
    '<p:ph type="body" idx="3"/>',
    `<a:bodyPr lIns="254000" anchor="ctr"/><a:lstStyle>${level(1, 30, '<a:lnSpc><a:spcPct val="80000"/></a:lnSpc><a:spcBef><a:spcPts val="600"/></a:spcBef><a:buChar char="–"/>')}${level(2, 20, '<a:buAutoNum type="romanLcParenR"/>')}</a:lstStyle><a:p/>`,
  );
  const own = shape(
    '<p:ph type="body" idx="3"/>',
    '<a:bodyPr/><a:p><a:r><a:t>One</a:t></a:r></a:p><a:p><a:pPr lvl="1"/><a:r><a:rPr b="0"/><a:t>Two</a:t></a:r></a:p><a:p><a:pPr lvl="1" algn="l"/><a:r><a:t>Three</a:t></a:r></a:p><a:p><a:pPr><a:buNone/></a:pPr><a:r><a:t>Four</a:t></a:r></a:p>',
  );
  const [{ text }] = wordsOf(await buildDeck([own], above)) as [Item];
  expect([text.anchor, text.inset.left]).toEqual(['middle', 20]);
  expect(text.paragraphs.map((p) => [p.bullet, p.align, p.indent?.left, p.runs[0]!.size, p.runs[0]!.weight])).toEqual([
    ['–', 'end', 10, 30, 700],
    ['i)', 'end', 20, 20, 400],
    ['ii)', 'start', 20, 20, 700],
    [undefined, 'end', 10, 30, 700],
  ]);
  expect(text.paragraphs[0]!.spacing).toEqual({ before: 6, lines: 0.8 });
});

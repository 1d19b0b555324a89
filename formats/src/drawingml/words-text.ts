import { toEmu, type Text } from '@gable/core';
import { escapeText, escapeXml } from '../xml/splice';
import { paintFill, type Naming } from './look-text';

/** What words are set in. */
export type Setting = Pick<Naming, 'name' | 'fonts'>;

/** A font as it is named: by its role where the theme has it (§20.1.10.81, ST_TextTypeface). */
export const typefaceOf = ({ fonts }: Setting, font: string): string =>
  font === fonts?.minor ? '+mn-lt' : font === fonts?.major ? '+mj-lt' : font;

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];

export const ALIGN: Record<Paragraph['align'], string> = { start: 'l', centre: 'ctr', end: 'r', justify: 'just' };
const ANCHOR: Record<Text['anchor'], string> = { top: 't', middle: 'ctr', bottom: 'b' };

/** Properties of a run (§21.1.2.3.9, rPr), its size in hundredths of a point. @param local `rPr` or `endParaRPr` */
function runProperties(a: Setting, local: string, run: Run): string {
  const { size, weight, italic, underline, paint, font } = run;
  const said =
    ` sz="${Math.round(size * 100)}" b="${weight >= 600 ? 1 : 0}" i="${italic ? 1 : 0}"` +
    (underline ? ' u="sng"' : '');
  const face = font ? `<${a.name('latin')} typeface="${escapeXml(typefaceOf(a, font))}"/>` : '';
  return `<${a.name(local)}${said}>${paintFill(a, paint)}${face}</${a.name(local)}>`;
}

/** Words that show a cell: a field whose words the workbook reckons anew (§21.1.2.2.4, fld; its type is common practice). */
function cellText(a: Setting, run: Run, id: string): string {
  const words = `<${a.name('t')}>${escapeText(run.text)}</${a.name('t')}>`;
  return `<${a.name('fld')} id="${id}" type="TxLink">${runProperties(a, 'rPr', run)}${words}</${a.name('fld')}>`;
}

function runText(a: Setting, run: Run): string {
  const properties = runProperties(a, 'rPr', run);
  return run.text
    .split('\n')
    .map((words) =>
      words === ''
        ? ''
        : `<${a.name('r')}>${properties}<${a.name('t')}>${escapeText(words)}</${a.name('t')}></${a.name('r')}>`,
    )
    .join(`<${a.name('br')}>${properties}</${a.name('br')}>`);
}

/** Paragraphs (§21.1.2.2.6, p). What a list or a placeholder would say of them is said. @param field the id of a field that its first run is */
function paragraphText(a: Setting, { align, runs, bullet, indent, spacing }: Paragraph, field: string | null): string {
  const left = indent ? ` marL="${toEmu(indent.left)}" indent="${toEmu(indent.first)}"` : '';
  const lines = spacing
    ? `<${a.name('lnSpc')}><${a.name('spcPct')} val="${Math.round(spacing.lines * 100_000)}"/></${a.name('lnSpc')}>`
    : '';
  const before = spacing
    ? `<${a.name('spcBef')}><${a.name('spcPts')} val="${Math.round(spacing.before * 100)}"/></${a.name('spcBef')}>`
    : '';
  const mark = bullet ? `<${a.name('buChar')} char="${escapeXml(bullet)}"/>` : `<${a.name('buNone')}/>`;
  const properties = `<${a.name('pPr')}${left} algn="${ALIGN[align]}">${lines}${before}${mark}</${a.name('pPr')}>`;
  const end = runs[0] && runs.every((r) => r.text === '') ? runProperties(a, 'endParaRPr', runs[0]) : '';
  return `<${a.name('p')}>${properties}${end ? '' : runs.map((r, i) => (field !== null && i === 0 ? cellText(a, r, field) : runText(a, r))).join('')}${end}</${a.name('p')}>`;
}

/** How words stand in a shape (§21.1.2.1.1, bodyPr). Nothing grows or shrinks by itself. @param tag of the element */
export function bodyText(tag: string, a: Setting, { anchor, inset }: Text): string {
  const [l, t, r, b] = [inset.left, inset.top, inset.right, inset.bottom].map(toEmu);
  return `<${tag} wrap="square" lIns="${l}" tIns="${t}" rIns="${r}" bIns="${b}" anchor="${ANCHOR[anchor]}"><${a.name('noAutofit')}/></${tag}>`;
}

/** @param field the id of a field, where they show a cell */
export const paragraphsText = (a: Setting, { paragraphs, cell }: Text, field: string | null = null): string =>
  paragraphs.map((p, i) => paragraphText(a, p, cell !== undefined && i === 0 ? field : null)).join('');

/** The words of a shape (§21.1.2.1): how they stand in it, and its paragraphs. */
export const wordsText = (a: Setting, text: Text, field: string | null = null): string =>
  `${bodyText(a.name('bodyPr'), a, text)}<${a.name('lstStyle')}/>${paragraphsText(a, text, field)}`;

import {
  BESIDE_TEXT,
  GableError,
  toEmu,
  trimNumber,
  type Anchor,
  type Box,
  type FramedItem,
  type Text,
} from '@gable/core';
import { noPicture, type AroundPicture, type Veils } from '../codec/contract';
import type { Theme } from '../drawingml/colour';
import type { Naming } from '../drawingml/look-text';
import { itemIn, propertiesText } from '../drawingml/item-text';
import { WORD_SHAPE } from '../drawingml/read-picture';
import { shapeText } from '../drawingml/shape-text';
import { anchorStart, wrapElement } from '../drawingml/text-anchor';
import { bodyText } from '../drawingml/words-text';
import { Additions } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { frontHeight } from '../ooxml/ids';
import { isStrict, NS } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { encodeBeside, type BesideItem } from '../metadata/items';
import { ancestor, child, descend, type Element } from '../xml/located';
import { escapeText, escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';
import { freeDrawingId } from './plain-drawing';

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];

const COMPATIBILITY = 'http://schemas.openxmlformats.org/markup-compatibility/2006';

/**
 * Puts words and blocks beside the pictures of a text: drawings that are tied to the same place as their picture, in runs right before
 * and behind its own.
 * @throws GableError `cannot-write` for a picture in a group or in a box of words: there, nothing can be tied to a place
 */
export function putBeside(
  pack: Package,
  main: string,
  found: readonly Found[],
  { around, veils, fonts }: { around: readonly AroundPicture[]; veils: Veils; fonts: Theme['fonts'] },
): Uint8Array {
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  let id = freeDrawingId(pack, main);
  for (const { n, before, behind } of around) {
    const { site } = found[n - 1] ?? noPicture(n, found.length);
    const run = ancestor(site.pic, (e) => e.local === 'r' && NS.word.has(e.uri));
    if (!run || ancestor(site.pic, (e) => /^(wgp|txbxContent)$/.test(e.local)))
      throw new GableError(
        'cannot-write',
        `Nothing can stand around picture ${n}: it is in a group, or in a text box.`,
        'Undo what was added to it.',
        { n },
      );
    const { root } = pack.part(site.part);
    const w = root.name.slice(0, root.name.length - root.local.length);
    const context = { w, word: root.uri, strict: isStrict(root.uri) };
    const all = [...before, ...behind];
    const of = numberOf(site) ?? '';
    const runOf = (item: FramedItem, side: BesideItem['side'], height: number): string => {
      const veil = veils.get(item.id);
      const rid = veil && additions.relateTo({ part: site.part, strict: context.strict }, veil);
      // The picture that a veil comes to is made anew by whoever makes it.
      const told = all.some((i) => veils.has(i.id)) ? '' : encodeBeside(item, all, { of, side });
      return `<${w}r>${drawing(item, { id: id++, rid, height, told, fonts, ...context })}</${w}r>`;
    };
    const own = Number(site.holder?.attributes['relativeHeight']) || 0;
    const first = before.map((item, i) => runOf(item, 'before', Math.max(0, own - before.length + i))).join('');
    const last = behind.map((item, i) => runOf(item, 'behind', frontHeight(root, i + 1))).join('');
    // What counts from a letter of the text counts from the one that its picture is.
    const inLine = site.holder?.local === 'inline';
    const splice = splices.of(site.part);
    splice.before(run, inLine ? first + last : first);
    if (!inLine) splice.at(run.end, last);
  }
  return additions.write(splices.changed());
}

/** The number of a picture's drawing (§20.4.2.5, docPr). */
export const numberOf = ({ holder }: Found['site']): string | undefined => child(holder, 'docPr')?.attributes['id'];

/** What a run holds that was put beside a picture; null for any other run. */
export const itemOfRun = (e: Element): BesideItem | null =>
  e.local === 'r' && NS.word.has(e.uri)
    ? itemIn(descend(e, 'AlternateContent', 'Choice', 'drawing', 'anchor', 'docPr'))
    : null;

interface Context {
  id: number;
  /** What it is, beside what the text says of it; nothing where that is all. */
  told: string;
  /** Of the picture that a veil comes to. */
  rid: string | undefined;
  height: number;
  fonts: Theme['fonts'];
  /** The prefix of the text's own names, with its colon. */
  w: string;
  word: string;
  strict: boolean;
}

/**
 * A shape with its words beside a text (ISO/IEC 29500-1 §20.4.2.3, anchor; [MS-DOCX] wps:wsp), for readers that know it
 * (ISO/IEC 29500-3 §7.5, AlternateContent).
 */
function drawing(item: FramedItem, { id, rid, height, told, fonts, w, word, strict }: Context): string {
  const base = strict ? 'http://purl.oclc.org/ooxml/drawingml' : 'http://schemas.openxmlformats.org/drawingml/2006';
  const a: Naming = { name: (local) => `a:${local}`, declare: '', strict };
  const { text, at } = item;
  const anchor = (at.on === 'anchor' ? at.anchor : undefined) ?? BESIDE_TEXT;
  // It counts from its own corner.
  const inner = { ...item, at: { on: 'page' as const, box: { ...at.box, x: 0, y: 0 } } };
  const { box: local, named, isBox, look } = shapeText(inner, { id, a, rid });
  const box = { ...local, x: at.box.x + local.x, y: at.box.y + local.y };
  const content = text
    ? `<${w}txbxContent>${text.paragraphs.map((p) => paragraphText(w, p, fonts)).join('')}</${w}txbxContent>`
    : '';
  const words = text ? `<wps:txbx>${content}</wps:txbx>` : '';
  const shape =
    `<wps:wsp><wps:cNvSpPr${isBox}/><wps:spPr>${look}</wps:spPr>` +
    `${words}${text ? bodyText('wps:bodyPr', a, text) : '<wps:bodyPr/>'}</wps:wsp>`;
  const [cx, cy] = [toEmu(box.width), toEmu(box.height)];
  const properties = propertiesText('wp:docPr', named, told, a.name);
  const own = w === '' ? ` xmlns="${word}"` : ` xmlns:${w.slice(0, -1)}="${word}"`;
  return (
    `<mc:AlternateContent xmlns:mc="${COMPATIBILITY}" xmlns:wps="${WORD_SHAPE}"><mc:Choice Requires="wps">` +
    `<${w}drawing${own} xmlns:wp="${base}/wordprocessingDrawing" xmlns:a="${base}/main">` +
    `${anchorStart('wp:', '', { anchor, box, height })}<wp:extent cx="${cx}" cy="${cy}"/><wp:effectExtent l="0" t="0" r="0" b="0"/>` +
    `${wrapElement('wp:', anchor)}${properties}<wp:cNvGraphicFramePr/>` +
    `<a:graphic><a:graphicData uri="${WORD_SHAPE}">${shape}</a:graphicData></a:graphic></wp:anchor></${w}drawing></mc:Choice>` +
    `${text ? `<mc:Fallback>${olderBox(item, { anchor, box, id, height, w, own, content })}</mc:Fallback>` : ''}</mc:AlternateContent>`
  );
}

/** From where places count in the older markup (ISO/IEC 29500-4 §14.1.2.19, style; from memory). */
const FROM = {
  page: 'page',
  margin: 'margin',
  column: 'text',
  paragraph: 'text',
  character: 'char',
  line: 'line',
} as const;
const fromIn = (from: string): string => FROM[from as keyof typeof FROM] ?? 'margin';

interface Older extends Pick<Context, 'id' | 'height' | 'w'> {
  anchor: Anchor;
  box: Box;
  own: string;
  content: string;
}

/** A box of words for readers that know only the older markup, VML (ISO/IEC 29500-4 §14.1.2.14, rect). */
function olderBox({ fill }: FramedItem, { anchor, box, id, height, w, own, content }: Older): string {
  const n = (v: number): string => trimNumber(v, 2);
  const paint = fill?.kind === 'paint' && fill.paint.kind === 'solid' ? fill.paint : null;
  const style =
    `position:absolute;margin-left:${n(box.x)}pt;margin-top:${n(box.y)}pt;width:${n(box.width)}pt;height:${n(box.height)}pt;` +
    `z-index:${anchor.behind ? -1 : height};mso-position-horizontal-relative:${fromIn(anchor.from.x)};mso-position-vertical-relative:${fromIn(anchor.from.y)}`;
  const filled = paint ? ` fillcolor="${paint.colour}"><v:fill opacity="${n(paint.opacity)}"/>` : ' filled="f">';
  return (
    `<${w}pict${own} xmlns:v="urn:schemas-microsoft-com:vml"><v:rect id="Shape_${id}" style="${style}" stroked="f"${filled}` +
    `<v:textbox>${content}</v:textbox></v:rect></${w}pict>`
  );
}

const ALIGN: Record<Paragraph['align'], string> = { start: 'left', centre: 'center', end: 'right', justify: 'both' };
const twips = (points: number): number => Math.round(points * 20);

/** A paragraph (§17.3.1.22, p): what styles would say of its place and its lines is said. */
function paragraphText(w: string, { align, runs, bullet, indent, spacing }: Paragraph, fonts: Theme['fonts']): string {
  const lines = Math.round((spacing?.lines ?? 1) * 240);
  const first = indent?.first ?? 0;
  const begins = first < 0 ? `${w}hanging="${twips(-first)}"` : `${w}firstLine="${twips(first)}"`;
  const properties =
    `<${w}pPr><${w}spacing ${w}before="${twips(spacing?.before ?? 0)}" ${w}after="0" ${w}line="${lines}" ${w}lineRule="auto"/>` +
    `<${w}ind ${w}left="${twips(indent?.left ?? 0)}" ${w}right="0" ${begins}/><${w}jc ${w}val="${ALIGN[align]}"/></${w}pPr>`;
  const mark = bullet && runs[0] ? [{ ...runs[0], text: `${bullet} ` }] : [];
  return `<${w}p>${properties}${[...mark, ...runs].map((r) => runText(w, r, fonts)).join('')}</${w}p>`;
}

/** A font (§17.3.2.26, rFonts); one of the theme by its role (§17.18.96, ST_Theme), so that it goes with another theme. */
export function fontText(w: string, font: string, fonts: Theme['fonts']): string {
  if (font === '') return '';
  const role = font === fonts.minor ? 'minor' : font === fonts.major ? 'major' : null;
  if (role)
    return `<${w}rFonts ${w}asciiTheme="${role}HAnsi" ${w}hAnsiTheme="${role}HAnsi" ${w}cstheme="${role}Bidi"/>`;
  const face = escapeXml(font);
  return `<${w}rFonts ${w}ascii="${face}" ${w}hAnsi="${face}" ${w}cs="${face}"/>`;
}

/** A run (§17.3.2.25, r): its size in half points. */
function runText(
  w: string,
  { text, font, size, weight, italic, underline, paint }: Run,
  fonts: Theme['fonts'],
): string {
  const { colour } = paint.kind === 'solid' ? paint : paint.stops[0]!;
  const half = Math.round(size * 2);
  const isOn = (name: string, on: boolean): string => `<${w}${name}${on ? '' : ` ${w}val="0"`}/>`;
  const properties =
    `<${w}rPr>${fontText(w, font, fonts)}` +
    `${isOn('b', weight >= 600)}${isOn('i', italic)}<${w}color ${w}val="${colour.slice(1).toUpperCase()}"/>` +
    `<${w}sz ${w}val="${half}"/><${w}szCs ${w}val="${half}"/>${underline ? `<${w}u ${w}val="single"/>` : ''}</${w}rPr>`;
  const words = text
    .split('\n')
    .map((line) => (line === '' ? '' : `<${w}t xml:space="preserve">${escapeText(line)}</${w}t>`))
    .join(`<${w}br/>`);
  return `<${w}r>${properties}${words}</${w}r>`;
}

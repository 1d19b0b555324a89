import { placeholderOf } from './free-walk';
import { relationshipBase } from '../ooxml/additions';
import { namespaceOf } from '../ooxml/names';
import { child, descend, type Element } from '../xml/located';
import { applyEdits, bindingsOf, escapeXml, Splice } from '../xml/splice';

/** Placeholders that a picture may take (ISO/IEC 29500-1 §19.7.10, ST_PlaceholderType): for pictures, or for anything. */
const FOR_PICTURES = new Set(['pic', 'clipArt', 'obj']);

/** Is a shape an empty placeholder that takes a picture? One that says no type takes anything. */
export const awaitsPicture = (shape: Element): boolean => {
  const ph = placeholderOf(shape);
  return !!ph && FOR_PICTURES.has(ph.attributes['type'] ?? 'obj') && !descend(shape, 'txBody', 'p', 'r');
};

/** What stands behind the fill of a shape (§20.1.2.2.35, spPr). */
const BEHIND_FILL = ['ln', 'effectLst', 'effectDag', 'scene3d', 'sp3d', 'extLst'];

/** A picture that fills a shape: its description, and the relationship of its data. */
interface Filling {
  alt: string;
  rid: string;
}

/**
 * A shape as it is written, with a picture in it: an empty placeholder becomes a picture in the same placeholder (§19.3.1.37,
 * pic), any other shape gets the picture as its fill (§20.1.8.14, blipFill) and keeps its words and its look.
 */
export function filledShape(text: string, shape: Element, filling: Filling, strict: boolean): string {
  if (awaitsPicture(shape)) return pictureInPlaceholder(text, shape, filling, strict);
  const splice = new Splice(text);
  const named = descend(shape, 'nvSpPr', 'cNvPr');
  if (named && filling.alt) splice.attribute(named, 'descr', filling.alt);
  const spPr = child(shape, 'spPr')!;
  const fill = `<a:blipFill ${names(strict)} rotWithShape="1">${blip(filling)}</a:blipFill>`;
  const fills = ['noFill', 'solidFill', 'gradFill', 'blipFill', 'pattFill', 'grpFill'];
  splice.slot(spPr, fills, BEHIND_FILL, fill);
  return written(text, shape, splice);
}

const names = (strict: boolean): string =>
  `xmlns:a="${namespaceOf('drawing', strict)}" xmlns:r="${relationshipBase(strict)}"`;

const blip = ({ rid }: Filling): string => `<a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch>`;

/** An element as changes leave it. */
function written(text: string, { start, end }: Element, splice: Splice): string {
  const edits = splice.changes().map((e) => ({ ...e, start: e.start - start, end: e.end - start }));
  return applyEdits(text.slice(start, end), edits);
}

function pictureInPlaceholder(text: string, shape: Element, filling: Filling, strict: boolean): string {
  const p = shape.name.slice(0, shape.name.length - shape.local.length);
  const source = (e: Element | undefined): string => (e ? text.slice(e.start, e.end) : '');
  const named = descend(shape, 'nvSpPr', 'cNvPr')!;
  const splice = new Splice(text);
  splice.attribute(named, 'descr', filling.alt);
  const nvPr = source(descend(shape, 'nvSpPr', 'nvPr'));
  const locks = '<a:picLocks noGrp="1" noChangeAspect="1"/>';
  return (
    `<${p}pic${bindingsOf(shape)} ${without(names(strict), shape)}><${p}nvPicPr>${written(text, named, splice)}` +
    `<${p}cNvPicPr>${locks}</${p}cNvPicPr>${nvPr}</${p}nvPicPr><${p}blipFill>${blip(filling)}</${p}blipFill>` +
    `${source(child(shape, 'spPr'))}${source(child(shape, 'style'))}</${p}pic>`
  );
}

/** Bindings but for those that an element has itself. */
const without = (bindings: string, { attributes }: Element): string =>
  bindings
    .split(' ')
    .filter((b) => !(b.slice(0, b.indexOf('=')) in attributes))
    .join(' ');

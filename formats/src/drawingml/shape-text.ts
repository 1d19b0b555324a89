import { frameOfBlock, isVeil, type Box, type FramedItem } from '@gable/core';
import { toNative } from '../equivalents/offset-outline';

import { escapeXml } from '../xml/splice';
import { geometryText, lineText, paintFill, shadowText, transformText, type Naming } from './look-text';
import { veilFill } from './veil-text';
import { wordsText } from './words-text';

/** A name for a field as the standard has it (§22.9.2.4, ST_Guid), its own in its part. */
const fieldId = (id: number): string => `{5C2D7E90-41B8-4F3A-8D26-${id.toString(16).toUpperCase().padStart(12, '0')}}`;

/** The parts of a new shape as they are written. */
export interface ShapeText {
  /** Its box there: the room of its outline may be in it. */
  box: Box;
  /** Attributes of its name (ISO/IEC 29500-1 §20.1.2.2.8, cNvPr). */
  named: string;
  /** The attribute that makes it a text box (§20.1.2.2.9, cNvSpPr), where it is one. */
  isBox: string;
  /** Place, form, fill, line and effects, what is in `spPr` (§20.1.2.2.35). */
  look: string;
  /** What is in `txBody` (§20.1.2.2.40); empty where it has no words. */
  words: string;
}

/** What a shape is written with. */
interface Written {
  /** That no other drawing of the part has. */
  id: number;
  a: Naming;
  /** The relationship of the picture that a veil comes to. */
  rid: string | undefined;
}

/** The fill of a shape; a veil without its picture is its paint alone. */
export function fillText(a: Naming, { fill }: Pick<FramedItem, 'fill'>, rid: string | undefined): string {
  if (fill?.kind !== 'paint') return `<${a.name('noFill')}/>`;
  return isVeil(fill) && rid !== undefined ? veilFill(a, fill, rid) : paintFill(a, fill.paint);
}

/** A block or a box of words as a shape of slides and sheets. */
export function shapeText(item: FramedItem, { id, a, rid }: Written): ShapeText {
  const { fill, text, alt, shadow, turn, flip, at } = item;
  const { frame, paths } = toNative(frameOfBlock(item, { box: at.box, turn, flip }), at.box);
  const isBox = text !== null && fill === null && item.outline === null;
  const name = item.name ?? (isBox ? `Text ${id}` : `Shape ${id}`);
  const paint = fillText(a, item, rid);
  const line = frame.outline
    ? lineText(a, frame.outline, false)
    : `<${a.name('ln')}><${a.name('noFill')}/></${a.name('ln')}>`;
  const effects = shadow ? `<${a.name('effectLst')}>${shadowText(a, shadow, '')}</${a.name('effectLst')}>` : '';
  return {
    box: frame.box,
    named: `id="${id}" name="${escapeXml(name)}"${alt ? ` descr="${escapeXml(alt)}"` : ''}`,
    isBox: isBox ? ' txBox="1"' : '',
    look: `${transformText(a.name(''), frame)}${geometryText(a, frame, paths)}${paint}${line}${effects}`,
    words: text ? wordsText(a, text, fieldId(id)) : '',
  };
}

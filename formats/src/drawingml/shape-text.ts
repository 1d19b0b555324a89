import { frameOfBlock, type Box, type FramedItem } from '@gable/core';
import { toNative } from '../equivalents/offset-outline';
import { escapeXml } from '../xml/splice';
import { geometryText, lineText, paintFill, shadowText, transformText, type Naming } from './look-text';
import { wordsText } from './words-text';

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

/** A block or a box of words as a shape of slides and sheets. @param id that no other drawing of the part has */
export function shapeText(item: FramedItem, { id, a }: { id: number; a: Naming }): ShapeText {
  const { fill, text, alt, shadow, turn, flip, at } = item;
  const { frame, paths } = toNative(frameOfBlock(item, { box: at.box, turn, flip }), at.box);
  const isBox = text !== null && fill === null && item.outline === null;
  const name = item.name ?? (isBox ? `Text ${id}` : `Shape ${id}`);
  const paint = fill?.kind === 'paint' ? paintFill(a, fill.paint) : `<${a.name('noFill')}/>`;
  const line = frame.outline
    ? lineText(a, frame.outline, false)
    : `<${a.name('ln')}><${a.name('noFill')}/></${a.name('ln')}>`;
  const effects = shadow ? `<${a.name('effectLst')}>${shadowText(a, shadow, '')}</${a.name('effectLst')}>` : '';
  return {
    box: frame.box,
    named: `id="${id}" name="${escapeXml(name)}"${alt ? ` descr="${escapeXml(alt)}"` : ''}`,
    isBox: isBox ? ' txBox="1"' : '',
    look: `${transformText(a.name(''), frame)}${geometryText(a, frame, paths)}${paint}${line}${effects}`,
    words: text ? wordsText(a, text) : '',
  };
}

/** What the tests of text documents share. */
import { solidOutline, withShape, type Frame } from '@gable/core';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import type { Element, Source } from '../../src/index';
import { child } from '../../src/xml/located';
import {} from './build';

export const handbook = readFileSync('demo/files/season-handbook.docx');
export const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
export const part = (bytes: Uint8Array, name = 'word/document.xml'): string => strFromU8(unzipSync(bytes)[name]!);
export const circled = (file: Source, n = 1, outline = 6): Frame => {
  const p = file.pictures[n - 1]!;
  return {
    ...withShape(p.frame, { name: 'circle', knobs: {} }, p.size, { u: 0.6, v: 0.4 }),
    outline: solidOutline(outline, '#ffffff'),
  };
};
/** All parts but the named ones must be the same, in the same order. */
export function expectOthersUntouched(before: Uint8Array, after: Uint8Array, changed: string[]): void {
  const a = unzipSync(before);
  const b = unzipSync(after);
  expect(Object.keys(b)).toEqual(Object.keys(a));
  for (const name of Object.keys(a))
    if (!changed.includes(name)) expect(Buffer.from(b[name]!).equals(Buffer.from(a[name]!))).toBe(true);
}

/** The same package with another text document. */
export function rezip(bytes: Uint8Array, change: (xml: string) => string): Uint8Array {
  const name = 'word/document.xml';
  return zipSync({ ...unzipSync(bytes), [name]: strToU8(change(part(bytes, name))) });
}

export function* walk(e: Element): Generator<Element> {
  yield e;
  for (const c of e.children) yield* walk(c);
}

/** Content models of ISO/IEC 29500-1, transcribed from the clauses (from memory): children in order, and required attributes. */
const MODELS: Record<string, { order: string[]; required: string[]; attributes?: string[] }> = {
  // §20.4.2.8 CT_Inline
  inline: {
    order: ['extent', 'effectExtent', 'docPr', 'cNvGraphicFramePr', 'graphic'],
    required: ['extent', 'docPr', 'graphic'],
  },
  // §20.4.2.3 CT_Anchor
  anchor: {
    order: [
      'simplePos',
      'positionH',
      'positionV',
      'extent',
      'effectExtent',
      'wrapNone',
      'wrapSquare',
      'wrapTight',
      'wrapThrough',
      'wrapTopAndBottom',
      'docPr',
      'cNvGraphicFramePr',
      'graphic',
      'sizeRelH',
      'sizeRelV',
    ],
    required: ['simplePos', 'positionH', 'positionV', 'extent', 'docPr', 'graphic'],
    attributes: ['simplePos', 'relativeHeight', 'behindDoc', 'locked', 'layoutInCell', 'allowOverlap'],
  },
  // §20.4.2.7, §20.4.2.6
  extent: { order: [], required: [], attributes: ['cx', 'cy'] },
  effectExtent: { order: [], required: [], attributes: ['l', 't', 'r', 'b'] },
  // §20.2.2.5 CT_Picture, §20.1.8.14 CT_BlipFillProperties
  pic: { order: ['nvPicPr', 'blipFill', 'spPr'], required: ['nvPicPr', 'blipFill', 'spPr'] },
  blipFill: { order: ['blip', 'srcRect', 'tile', 'stretch'], required: [] },
  // §20.1.2.2.35 CT_ShapeProperties
  spPr: {
    order: [
      'xfrm',
      'custGeom',
      'prstGeom',
      'noFill',
      'solidFill',
      'gradFill',
      'blipFill',
      'pattFill',
      'grpFill',
      'ln',
      'effectLst',
      'effectDag',
      'scene3d',
      'sp3d',
      'extLst',
    ],
    required: [],
  },
  prstGeom: { order: ['avLst'], required: [], attributes: ['prst'] },
  // §20.1.2.2.24 CT_LineProperties
  ln: {
    order: [
      'noFill',
      'solidFill',
      'gradFill',
      'pattFill',
      'prstDash',
      'custDash',
      'round',
      'bevel',
      'miter',
      'headEnd',
      'tailEnd',
      'extLst',
    ],
    required: [],
  },
  // §20.4.2.16 CT_WrapPath
  wrapPolygon: { order: ['start', 'lineTo'], required: ['start', 'lineTo'] },
};

export function expectValid(root: Element): void {
  for (const e of walk(root)) {
    const model = MODELS[e.local];
    if (!model || e.uri.includes('wordprocessingGroup')) continue;
    const places = e.children.map((c) => model.order.indexOf(c.local));
    if (model.order.length > 0)
      expect({ in: e.local, places }).toEqual({ in: e.local, places: [...places].sort((a, b) => a - b) });
    expect(places).not.toContain(-1);
    for (const name of model.required) expect(child(e, name)).toBeDefined();
    for (const name of model.attributes ?? []) expect(e.attributes).toHaveProperty([name]);
  }
}

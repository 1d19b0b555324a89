import {
  drawGeometry,
  fromEmu,
  framePath,
  GableError,
  silhouetteOf,
  toEmu,
  transform,
  withoutArcs,
  type FillMode,
  type Frame,
  type Geometry,
  type Path,
  type GeometryPath,
  type Size,
  type Step,
} from '@gable/core';
import { shapeOfPath } from '../codec/named-shape';
import { child, type Element } from '../xml/located';
import type { OffsetOutline, TwoPaths } from '../equivalents/offset-outline';

/** Custom geometries: `a:custGeom`, ISO/IEC 29500-1 §20.1.9.8. */

const OPS: Record<string, Step['op']> = {
  moveTo: 'M',
  lnTo: 'L',
  cubicBezTo: 'C',
  quadBezTo: 'Q',
  arcTo: 'A',
  close: 'Z',
};

/** `a:path` (§20.1.9.15); coordinates are numbers or names of guides. */
function readPath(e: Element): GeometryPath {
  const size = (name: 'w' | 'h'): number | null => {
    const n = Number(e.attributes[name] ?? 0);
    return n > 0 ? n : null;
  };
  const steps = e.children.flatMap((step): Step[] => {
    const op = OPS[step.local];
    if (!op) return [];
    const a = step.attributes;
    if (op === 'A') return [{ op, args: [a['wR'] ?? '0', a['hR'] ?? '0', a['stAng'] ?? '0', a['swAng'] ?? '0'] }];
    const args = step.children
      .filter((p) => p.local === 'pt')
      .flatMap((p) => [p.attributes['x'] ?? '0', p.attributes['y'] ?? '0']);
    return [{ op, args }];
  });
  const stroke = e.attributes['stroke'] ?? '1';
  return {
    steps,
    width: size('w'),
    height: size('h'),
    fill: (e.attributes['fill'] ?? 'norm') as FillMode,
    stroke: stroke !== '0' && stroke !== 'false',
  };
}

const guides = (list: Element | undefined): [string, string][] =>
  (list?.children ?? []).map((gd) => [gd.attributes['name'] ?? '', gd.attributes['fmla'] ?? 'val 0']);

/** The geometry as data. */
export function readGeometry(custom: Element): Geometry {
  return {
    adjust: [],
    guides: [...guides(child(custom, 'avLst')), ...guides(child(custom, 'gdLst'))],
    paths: (child(custom, 'pathLst')?.children ?? []).filter((p) => p.local === 'path').map(readPath),
  };
}

/** The shape of a custom geometry, drawn in a box of 1 × 1. What the standard does not know is kept and drawn as its box. */
export function readCustomGeometry(custom: Element, size: Size): Frame['shape'] {
  const plain = { name: 'custom', knobs: {} };
  try {
    // Guides of a custom geometry count in EMU.
    const [width, height] = [toEmu(size.width), toEmu(size.height)];
    const path = silhouetteOf(drawGeometry(readGeometry(custom), width, height));
    return shapeOfPath(transform(path, [1 / width, 0, 0, 1 / height, 0, 0]), size, 'Shape of the file');
  } catch (error) {
    if (error instanceof GableError) return plain;
    throw error;
  }
}

/** A line with a way of its own, as we write it: see `offset-outline.ts`. Null for every other geometry. */
export function readOffsetOutline(custom: Element, size: Size): { ring: OffsetOutline; shape: Frame['shape'] } | null {
  const value = (name: string): number | null => {
    const gd = child(custom, 'gdLst')?.children.find((g) => g.attributes['name'] === name);
    const n = /^\s*val\s+(-?\d+)\s*$/.exec(gd?.attributes['fmla'] ?? '')?.[1];
    return n === undefined ? null : fromEmu(Number(n));
  };
  const [margin, reach] = [value('margin'), value('reach')];
  const geometry = readGeometry(custom);
  const [shape, line, ...more] = geometry.paths;
  if (margin === null || reach === null || reach === 0 || !shape || !line || more.length > 0) return null;
  if (shape.stroke || line.fill !== 'none') return null;
  const inner = { width: size.width - 2 * margin, height: size.height - 2 * margin };
  if (margin < 0 || inner.width <= 0 || inner.height <= 0) return null;
  try {
    const path = silhouetteOf(drawGeometry({ ...geometry, paths: [shape] }, toEmu(size.width), toEmu(size.height)));
    const at = toEmu(margin);
    const [w, h] = [toEmu(inner.width), toEmu(inner.height)];
    return {
      ring: { margin, reach },
      shape: shapeOfPath(transform(path, [1 / w, 0, 0, 1 / h, -at / w, -at / h]), inner, 'Shape of the file'),
    };
  } catch (error) {
    if (error instanceof GableError) return null;
    throw error;
  }
}

/** A frame's outline as `a:custGeom`: whole EMU, arcs as cubic curves, children in the order of the schema. */
export function customGeometry(
  frame: Frame,
  paths: TwoPaths | null,
  name: (local: string) => string,
  declare: string,
): string {
  const at = (x: number, y: number): string => `<${name('pt')} x="${toEmu(x)}" y="${toEmu(y)}"/>`;
  const steps = (path: Path): string =>
    withoutArcs(path)
      .map((s) => {
        switch (s.op) {
          case 'M':
            return `<${name('moveTo')}>${at(s.x, s.y)}</${name('moveTo')}>`;
          case 'C':
            return `<${name('cubicBezTo')}>${at(s.x1, s.y1)}${at(s.x2, s.y2)}${at(s.x, s.y)}</${name('cubicBezTo')}>`;
          case 'Z':
            return `<${name('close')}/>`;
          default:
            return `<${name('lnTo')}>${at(s.x, s.y)}</${name('lnTo')}>`;
        }
      })
      .join('');
  const size = `w="${toEmu(frame.box.width)}" h="${toEmu(frame.box.height)}"`;
  const ring = paths?.guides;
  const guide = (key: 'margin' | 'reach'): string =>
    ring ? `<${name('gd')} name="${key}" fmla="val ${toEmu(ring[key])}"/>` : '';
  const guideList = ring
    ? `<${name('gdLst')}>${guide('margin')}${guide('reach')}</${name('gdLst')}>`
    : `<${name('gdLst')}/>`;
  const empty = `<${name('avLst')}/>${guideList}<${name('ahLst')}/><${name('cxnLst')}/>`;
  const path = (of: Path, more: string): string => `<${name('path')} ${size}${more}>${steps(of)}</${name('path')}>`;
  return (
    `<${name('custGeom')}${declare}>${empty}<${name('rect')} l="0" t="0" r="r" b="b"/>` +
    `<${name('pathLst')}>${paths ? path(paths.shape, ' stroke="0"') + path(paths.line, ' fill="none"') : path(framePath(frame), '')}</${name('pathLst')}></${name('custGeom')}>`
  );
}

import { SaxesParser } from 'saxes';
import { GableError } from '../errors';
import { area, bounds } from '../geometry/measure';
import { pen } from '../geometry/pen';
import { flatten, type Path, type Point } from '../geometry/path';
import { fromPolygons, merged } from '../geometry/polygons';
import { parseSvgPath } from '../geometry/svg-path';
import { IDENTITY, multiply, rotation, soundMatrix, transform, type Matrix } from '../geometry/transform';
import { boundedLength } from '../model/bounds';
import { choiceOf, refuseSpecks, type Silhouette } from './silhouette';

interface Look {
  matrix: Matrix;
  fill: string;
  rule: 'nonzero' | 'evenodd';
  shown: boolean;
  /** Is it text, or in some? */
  isText: boolean;
}

const LENGTH_UNITS: Record<string, number> = { '': 1, px: 1, pt: 4 / 3, mm: 96 / 25.4, cm: 96 / 2.54, in: 96 };

/**
 * A length in user units; what cannot be read counts as nothing.
 * @param of what percentages are of (SVG 2 §8.9); nothing where they mean nothing
 */
export function svgLength(text: string | undefined, of = 0): number {
  const percent = /^\s*([+-]?[\d.]+)%\s*$/.exec(text ?? '');
  if (percent) return boundedLength((Number(percent[1]) / 100) * of);
  const m = /^\s*([+-]?[\d.]+(?:e[+-]?\d+)?)\s*([a-z]*)\s*$/i.exec(text ?? '');
  return m ? boundedLength(Number(m[1]) * (LENGTH_UNITS[m[2]!.toLowerCase()] ?? 0)) : 0;
}

const numbers = (text: string): number[] =>
  (text.match(/[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/gi) ?? []).map((n) => boundedLength(Number(n)));

/** `transform` attributes, SVG 2 §8.5 (CSS Transforms 1 §8). */
export function readTransform(text: string | undefined): Matrix {
  let m: Matrix = IDENTITY;
  for (const [, name, args] of (text ?? '').matchAll(/(\w+)\s*\(([^)]*)\)/g)) {
    const [a = 0, b, c, d, e, f] = numbers(args!);
    const tan = (degrees: number): number => Math.tan((degrees * Math.PI) / 180);
    if (name === 'matrix') m = multiply(m, [a, b ?? 0, c ?? 0, d ?? 1, e ?? 0, f ?? 0]);
    else if (name === 'translate') m = multiply(m, [1, 0, 0, 1, a, b ?? 0]);
    else if (name === 'scale') m = multiply(m, [a, 0, 0, b ?? a, 0, 0]);
    else if (name === 'rotate') m = multiply(m, rotation(a, { x: b ?? 0, y: c ?? 0 }));
    else if (name === 'skewX') m = multiply(m, [1, 0, tan(a), 1, 0, 0]);
    else if (name === 'skewY') m = multiply(m, [1, tan(a), 0, 1, 0, 0]);
  }
  return soundMatrix(m);
}

/** The outline of a basic shape, SVG 2 §10. */
export function outlineOf(name: string, a: Record<string, string>): Path | null {
  const at = (key: string): number => svgLength(a[key]);
  switch (name) {
    case 'path':
      return parseSvgPath(a['d'] ?? '');
    case 'rect': {
      const [x, y, w, h] = [at('x'), at('y'), at('width'), at('height')];
      if (w <= 0 || h <= 0) return null;
      const sharp = !svgLength(a['rx'] ?? a['ry']) || !svgLength(a['ry'] ?? a['rx']);
      if (sharp)
        return pen()
          .m(x, y)
          .l(x + w, y, x + w, y + h, x, y + h)
          .z().path;
      const rx = Math.min(w / 2, a['rx'] === undefined ? at('ry') : at('rx'));
      const ry = Math.min(h / 2, a['ry'] === undefined ? at('rx') : at('ry'));
      return pen()
        .m(x + rx, y)
        .l(x + w - rx, y)
        .a(rx, ry, x + w, y + ry)
        .l(x + w, y + h - ry)
        .a(rx, ry, x + w - rx, y + h)
        .l(x + rx, y + h)
        .a(rx, ry, x, y + h - ry)
        .l(x, y + ry)
        .a(rx, ry, x + rx, y)
        .z().path;
    }
    case 'circle':
    case 'ellipse': {
      const rx = name === 'circle' ? at('r') : at('rx');
      const ry = name === 'circle' ? at('r') : at('ry');
      if (rx <= 0 || ry <= 0) return null;
      const [x, y] = [at('cx'), at('cy')];
      return pen()
        .m(x - rx, y)
        .a(rx, ry, x + rx, y)
        .a(rx, ry, x - rx, y)
        .z().path;
    }
    case 'polygon':
    case 'polyline': {
      const p = numbers(a['points'] ?? '');
      return p.length >= 6
        ? pen()
            .m(p[0]!, p[1]!)
            .l(...p.slice(2))
            .z().path
        : null;
    }
    default:
      return null;
  }
}

/** Elements whose content is defined for use elsewhere, not drawn where it stands. */
export const NOT_DRAWN: ReadonlySet<string> = new Set([
  'defs',
  'clipPath',
  'mask',
  'symbol',
  'pattern',
  'marker',
  'linearGradient',
  'radialGradient',
  'filter',
  'metadata',
  'foreignObject',
]);

/**
 * The fills of an SVG drawing joined into one outline, holes kept. Shapes, groups, transforms and fills given as
 * attributes, in `style` or by plain class rules are understood; nothing is ever fetched or run.
 * @throws GableError `bad-svg`, `bad-path`, `empty-silhouette`
 */
export function silhouetteFromSvg(text: string, label = 'Silhouette'): Silhouette {
  const polygons: Point[][] = [];
  const stack: Look[] = [{ matrix: IDENTITY, fill: 'black', rule: 'nonzero', shown: true, isText: false }];
  const classes = new Map<string, string>();
  let inStyle = false;
  let textLeftOut = false;
  let seen = false;
  const parser = new SaxesParser({ xmlns: false });
  const fail = (why: string): never => {
    throw new GableError('bad-svg', `The drawing cannot be read: ${why}.`, 'Save it again as plain SVG.');
  };
  parser.on('error', (e) => fail(e.message.replace(/^\d+:\d+: /, '')));
  parser.on('doctype', (d) => {
    if (/<!ENTITY/i.test(d)) fail('it defines entities of its own');
  });
  parser.on('text', (t) => {
    const around = stack[stack.length - 1]!;
    if (around.isText && around.shown && t.trim() !== '') textLeftOut = true;
    if (!inStyle) return;
    for (const [, name, body] of t.matchAll(/\.([\w-]+)\s*\{([^}]*)\}/g))
      classes.set(name!, `${classes.get(name!) ?? ''};${body}`);
  });
  parser.on('opentag', (tag) => {
    const name = tag.name.replace(/^.*:/, '');
    if (name === 'svg') seen = true;
    if (name === 'style') inStyle = true;
    if (stack.length > 256) fail('it is nested too deeply');
    const a = tag.attributes as unknown as Record<string, string>;
    const parent = stack[stack.length - 1]!;
    const style = [...(a['class'] ?? '').split(/\s+/).map((c) => classes.get(c) ?? ''), a['style'] ?? ''].join(';');
    const property = (key: string): string | undefined =>
      [...style.matchAll(new RegExp(`(?:^|[;\\s])${key}\\s*:\\s*([^;]+)`, 'g'))].pop()?.[1]?.trim() ?? a[key];
    const look: Look = {
      matrix: multiply(parent.matrix, readTransform(a['transform'])),
      fill: property('fill') ?? parent.fill,
      rule: (property('fill-rule') ?? parent.rule) === 'evenodd' ? 'evenodd' : 'nonzero',
      isText: parent.isText || name === 'text',
      shown:
        parent.shown && !NOT_DRAWN.has(name) && property('display') !== 'none' && property('visibility') !== 'hidden',
    };
    stack.push(look);
    const solid =
      !/^(none|transparent)$/i.test(look.fill) && Number(property('fill-opacity') ?? property('opacity') ?? 1) > 0.05;
    if (!look.shown || !solid) return;
    const outline = outlineOf(name, a);
    if (!outline || outline.length === 0) return;
    const placed = transform(outline, look.matrix);
    const b = bounds(placed);
    polygons.push(...merged(flatten(placed, Math.max(b.width, b.height, 1e-6) / 4000), look.rule));
  });
  parser.on('closetag', (tag) => {
    if (tag.name.replace(/^.*:/, '') === 'style') inStyle = false;
    stack.pop();
  });
  parser.write(text).close();
  if (!seen) fail('it is no SVG');
  const path = fromPolygons(merged(polygons));
  const b = bounds(path);
  refuseSpecks(area(path), b.width * b.height, 'drawing');
  return { choice: choiceOf(path, 'silhouette', label), box: bounds(path), mask: null, textLeftOut };
}

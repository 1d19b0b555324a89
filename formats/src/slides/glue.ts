import { applyTo, frameMatrix, fromEmu, invert, toEmu, type Point } from '@gable/core';
import { integer, isOn } from '../drawingml/values';
import type { MovedFrame } from '../ooxml/pictures';
import { child, descend, type Element } from '../xml/located';
import type { Splices } from '../xml/splices';
import { transformText } from '../drawingml/look-text';

/**
 * Connectors that are glued to frames follow them (ISO/IEC 29500-1 §20.1.2.2.36, stCxn; §20.1.2.2.13, endCxn): an end stays at
 * the same place of its frame. Those in groups count otherwise, and stay.
 * @param root of a part
 */
export function followFrames(splices: Splices, root: (part: string) => Element, moved: readonly MovedFrame[]): void {
  for (const part of new Set(moved.map((m) => m.site.part))) {
    const byId = new Map(
      moved.flatMap((m): [string, MovedFrame][] => {
        const id = idOf(m.site.pic);
        return m.site.part === part && id !== undefined && isOnSlide(m.site.pic) ? [[id, m]] : [];
      }),
    );
    const tree = descend(root(part), 'cSld', 'spTree');
    for (const connector of tree?.children ?? []) {
      if (connector.local !== 'cxnSp') continue;
      const glue = child(child(connector, 'nvCxnSpPr'), 'cNvCxnSpPr');
      const [start, end] = ['stCxn', 'endCxn'].map((name) => byId.get(child(glue, name)?.attributes['id'] ?? ''));
      const xfrm = descend(connector, 'spPr', 'xfrm');
      if (!xfrm || (!start && !end)) continue;
      const ends = endsOf(xfrm);
      const to = { start: follow(ends.start, start), end: follow(ends.end, end) };
      splices.of(part).replace(xfrm, transformOf(xfrm, to));
    }
  }
}

const isOnSlide = (pic: Element): boolean => pic.parent?.local === 'spTree';

const idOf = (e: Element): string | undefined =>
  ['nvPicPr', 'nvSpPr'].map((nv) => descend(e, nv, 'cNvPr')).find((c) => c !== undefined)?.attributes['id'];

/** The same place of a frame, where that is now. */
function follow(at: Point, moved: MovedFrame | undefined): Point {
  if (!moved) return at;
  const { was, is } = moved;
  const within = applyTo(invert(frameMatrix(was)), at);
  return applyTo(frameMatrix(is), {
    x: (within.x / was.box.width) * is.box.width,
    y: (within.y / was.box.height) * is.box.height,
  });
}

interface Ends {
  start: Point;
  end: Point;
}

const turned = ({ x, y }: Point, degrees: number): Point => {
  const a = (degrees * Math.PI) / 180;
  return { x: x * Math.cos(a) - y * Math.sin(a), y: x * Math.sin(a) + y * Math.cos(a) };
};
const turnOf = (xfrm: Element): number => integer(xfrm.attributes['rot']) / 60_000;

/** A connector goes from one corner of its box to the other, mirrored and turned as that is. In points. */
function endsOf(xfrm: Element): Ends {
  const [off, ext] = [child(xfrm, 'off'), child(xfrm, 'ext')];
  const [x, y, width, height] = [
    ...['x', 'y'].map((k) => fromEmu(integer(off?.attributes[k]))),
    ...['cx', 'cy'].map((k) => fromEmu(integer(ext?.attributes[k]))),
  ] as [number, number, number, number];
  const middle = { x: x + width / 2, y: y + height / 2 };
  const half = turned(
    {
      x: (isOn(xfrm.attributes['flipH']) ? -width : width) / 2,
      y: (isOn(xfrm.attributes['flipV']) ? -height : height) / 2,
    },
    turnOf(xfrm),
  );
  return {
    start: { x: middle.x - half.x, y: middle.y - half.y },
    end: { x: middle.x + half.x, y: middle.y + half.y },
  };
}

function transformOf(xfrm: Element, { start, end }: Ends): string {
  const turn = turnOf(xfrm);
  const way = turned({ x: end.x - start.x, y: end.y - start.y }, -turn);
  const [width, height] = [Math.abs(way.x), Math.abs(way.y)];
  // What is less than the file's own step is no way back.
  const flip = { horizontal: toEmu(way.x) < 0, vertical: toEmu(way.y) < 0 };
  const box = { x: (start.x + end.x - width) / 2, y: (start.y + end.y - height) / 2, width, height };
  return transformText(xfrm.name.slice(0, -'xfrm'.length), { box, turn, flip });
}

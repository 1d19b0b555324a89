import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { deriveView, flatten, ontoBox, silhouettePath, type Frame, type Point, type Size } from '@gable/core';

/** The file without what only we know. */
export function stripped(bytes: Uint8Array): Uint8Array {
  const parts = unzipSync(bytes);
  for (const [name, data] of Object.entries(parts))
    if (name.endsWith('.xml')) parts[name] = strToU8(strFromU8(data).replaceAll('urn:gable:frame:1', 'urn:nobody'));
  return zipSync(parts);
}

function onPage({ box, turn, flip }: Frame, p: Point): Point {
  const angle = (turn * Math.PI) / 180;
  const x = (p.x - box.width / 2) * (flip.horizontal ? -1 : 1);
  const y = (p.y - box.height / 2) * (flip.vertical ? -1 : 1);
  return {
    x: box.x + box.width / 2 + x * Math.cos(angle) - y * Math.sin(angle),
    y: box.y + box.height / 2 + x * Math.sin(angle) + y * Math.cos(angle),
  };
}

/** The farthest that a point of the picture, or of the edge of what is shown, lies from where it should, in points. */
export function apart(a: Frame, b: Frame, size: Size): number {
  const picture = (f: Frame): Point[] =>
    [
      { u: 0.1, v: 0.2 },
      { u: 0.9, v: 0.3 },
      { u: 0.5, v: 0.8 },
    ].map((uv) => onPage(f, ontoBox(deriveView(f.placement, f.box, size).matrix, uv, size)));
  const edge = (f: Frame): Point[] =>
    flatten(silhouettePath(f), 0.005)
      .flat()
      .map((p) => onPage(f, p));
  const [p, q] = [picture(a), picture(b)];
  const off = p.map((at, i) => Math.hypot(at.x - q[i]!.x, at.y - q[i]!.y));
  const rim = edge(b);
  const near = edge(a).map((at) =>
    Math.min(
      ...rim.map((to, i) => {
        const next = rim[(i + 1) % rim.length]!;
        const [dx, dy] = [next.x - to.x, next.y - to.y];
        const t = Math.min(
          1,
          Math.max(0, ((at.x - to.x) * dx + (at.y - to.y) * dy) / Math.max(1e-12, dx * dx + dy * dy)),
        );
        return Math.hypot(at.x - to.x - t * dx, at.y - to.y - t * dy);
      }),
    ),
  );
  return Math.max(...off, ...near);
}

import type { Box } from '../model/frame';
import { centred, sum, type Room, type Spread } from './spread';

/**
 * Cuts a list into so many stretches, one behind the other, of which the largest sum is as small as it can be (the linear partition
 * problem; S. Skiena, The Algorithm Design Manual §10.7, from memory).
 * @returns how many are in each
 */
export function linearPartition(values: readonly number[], parts: number): number[] {
  const n = values.length;
  const k = Math.min(parts, n);
  const before = [0];
  for (const v of values) before.push(before.at(-1)! + v);
  // least[j][i]: of the first i values in j stretches, the largest sum; cut[j][i]: where the last stretch begins.
  const least: number[][] = [[], [...before]];
  const cut: number[][] = [[], before.map(() => 0)];
  for (let j = 2; j <= k; j++) {
    least[j] = before.map(() => Infinity);
    cut[j] = before.map(() => 0);
    for (let i = j; i <= n; i++)
      for (let at = j - 1; at < i; at++) {
        const cost = Math.max(least[j - 1]![at]!, before[i]! - before[at]!);
        if (cost < least[j]![i]!) [least[j]![i], cut[j]![i]] = [cost, at];
      }
  }
  const out: number[] = [];
  for (let j = k, i = n; j >= 1; j--) {
    const at = cut[j]![i]!;
    out.unshift(i - at);
    i = at;
  }
  return out;
}

/** Rows that all are as wide as the room, where that leaves them high enough. */
export function rowsOf(ratios: readonly number[], counts: readonly number[], room: Room): Box[] {
  const { gap } = room;
  let at = 0;
  const rows = counts.map((count) => ratios.slice(at, (at += count)));
  const wide = (width: number): number[] => rows.map((r) => (width - gap.x * (r.length - 1)) / sum(r));
  const tall = (width: number): number => sum(wide(width)) + gap.y * (rows.length - 1);
  // Heights go with the width in a straight line: as wide as makes them fit.
  const slope = sum(rows.map((r) => 1 / sum(r)));
  const width = Math.max(
    1,
    tall(room.width) <= room.height ? room.width : room.width - (tall(room.width) - room.height) / slope,
  );
  let y = 0;
  return wide(width).flatMap((h, i) => {
    const height = Math.max(1, h);
    let x = 0;
    const boxes = rows[i]!.map((ratio) => {
      const box = { x, y, width: height * ratio, height };
      x += box.width + gap.x;
      return box;
    });
    y += height + gap.y;
    return boxes;
  });
}

const areaOf = (boxes: readonly Box[]): number => sum(boxes.map((b) => b.width * b.height));

/** Rows of one width, in as many as show the pictures largest; each keeps its ratio. */
export const justified: Spread = {
  name: 'justified',
  label: 'Full rows',
  synonyms: ['justified', 'wall', 'gallery', 'masonry', 'mosaic'],
  boxes(ratios, room) {
    const ways = ratios.map((_, i) => rowsOf(ratios, linearPartition(ratios, i + 1), room));
    return centred(
      ways.reduce((best, way) => (areaOf(way) > areaOf(best) + 1e-6 ? way : best)),
      room,
    );
  },
};

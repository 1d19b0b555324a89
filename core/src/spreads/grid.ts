import type { Box } from '../model/frame';
import { centred, fitted, sum, type Room, type Spread } from './spread';

/** Cells that are alike, as many beside each other as makes the pictures largest; the last row stands in the middle. */
function cells(count: number, room: Room, ratio: number): Box[] {
  const { gap } = room;
  const widthIn = (columns: number): number => {
    const rows = Math.ceil(count / columns);
    const [w, h] = [(room.width - gap.x * (columns - 1)) / columns, (room.height - gap.y * (rows - 1)) / rows];
    return Math.max(1, Math.min(w, h * ratio));
  };
  const all = Array.from({ length: count }, (_, i) => i + 1);
  const columns = all.reduce((best, c) => (widthIn(c) > widthIn(best) + 1e-9 ? c : best));
  const width = widthIn(columns);
  const height = width / ratio;
  return all.map((n) => {
    const [at, line] = [(n - 1) % columns, Math.floor((n - 1) / columns)];
    const inLine = Math.min(columns, count - line * columns);
    const left = ((columns - inLine) * (width + gap.x)) / 2;
    return { x: left + at * (width + gap.x), y: line * (height + gap.y), width, height };
  });
}

/** Of several ratios the one in the middle by what they multiply (their geometric mean). */
const middle = (ratios: readonly number[]): number => Math.exp(sum(ratios.map(Math.log)) / ratios.length);

/** Rows and columns, each picture as it is in the middle of its cell. */
export const grid: Spread = {
  name: 'grid',
  label: 'Grid',
  synonyms: ['table', 'tiles', 'rows and columns', 'matrix'],
  boxes(ratios, room) {
    return centred(
      cells(ratios.length, room, middle(ratios)).map((cell, i) => fitted(cell, ratios[i]!)),
      room,
    );
  },
};

/** Rows and columns of boxes that are alike. */
export const evenGrid: Spread = {
  name: 'even-grid',
  label: 'Even grid',
  synonyms: ['same size', 'team', 'contact sheet', 'squares', 'alike'],
  even: true,
  boxes(ratios, room) {
    return centred(cells(ratios.length, room, middle(ratios)), room);
  },
};

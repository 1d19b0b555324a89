import type { KeyGroup, KeyRow } from '../ui/keys';

/** What keys do on the board. */
export interface BoardActions {
  move(event: KeyboardEvent): void;
  zoomBy(factor: number): void;
  zoomToCover(): void;
  leave(): void;
}

const move = (board: BoardActions, event: KeyboardEvent): void => board.move(event);

export const BOARD_KEYS: readonly KeyRow<BoardActions>[] = [
  {
    shown: '← → ↑ ↓',
    words: 'Move the picture by 1 mm; in Place, a free frame',
    acts: { arrowleft: move, arrowright: move, arrowup: move, arrowdown: move },
  },
  { shown: 'Shift + arrows', words: 'by 0.1 mm' },
  { shown: 'Alt + arrows, Alt + drag', words: 'Move the shape over the picture' },
  {
    shown: '+  −  0',
    words: 'Zoom in, out, just covering',
    acts: {
      '+': (board) => board.zoomBy(1.05),
      '=': (board) => board.zoomBy(1.05),
      '-': (board) => board.zoomBy(1 / 1.05),
      '0': (board) => board.zoomToCover(),
    },
  },
  { shown: 'Esc', words: 'Leave off marking', acts: { escape: (board) => board.leave() } },
  { shown: 'Ctrl while dragging', words: 'Nothing comes to rest by itself' },
  { shown: 'Shift while cropping', words: 'Hold the ratio, or let it go' },
];

/** What keys do anywhere on the bench. */
export interface BenchActions {
  goTo(step: number): void;
  focusTries(): void;
  focusBoard(): void;
  choose(by: number): void;
  sameAgain(): void;
  mark(): void;
  compare(event: KeyboardEvent): void;
  openWall(): void;
  toggleView(): void;
  survey(): void;
  replace(): void;
  getOutPicture(): void;
  copy(): void;
  undo(): void;
  redo(): void;
  showKeys(): void;
}

const go = (bench: BenchActions, event: KeyboardEvent): void => bench.goTo(Number(event.key) - 1);

/** @param steps labels of the steps, in their order */
export const benchKeys = (steps: readonly string[]): readonly KeyRow<BenchActions>[] => [
  {
    shown: `1 … ${steps.length}`,
    words: steps.join(', '),
    acts: Object.fromEntries(steps.map((_, i) => [String(i + 1), go])),
  },
  { shown: 'T', words: 'To the tries', acts: { t: (b) => b.focusTries() } },
  { shown: 'B', words: 'To the board', acts: { b: (b) => b.focusBoard() } },
  {
    shown: '[  ]',
    words: 'The picture before, the next one',
    acts: { '[': (b) => b.choose(-1), ']': (b) => b.choose(1) },
  },
  { shown: 'N', words: 'The next picture, framed like this one', acts: { n: (b) => b.sameAgain() } },
  { shown: 'K', words: 'Mark what must stay', acts: { k: (b) => b.mark() } },
  { shown: 'O, held', words: 'The picture as it came', acts: { o: (b, event) => b.compare(event) } },
  { shown: 'W', words: 'The wall of tries', acts: { w: (b) => b.openWall() } },
  { shown: 'P', words: 'Page and close-up', acts: { p: (b) => b.toggleView() } },
  { shown: 'V', words: 'All frames at once, and back', acts: { v: (b) => b.survey() } },
  { shown: 'R', words: 'Another picture in this frame', acts: { r: (b) => b.replace() } },
  { shown: 'G', words: 'Get this picture out', acts: { g: (b) => b.getOutPicture() } },
  { shown: 'Ctrl + C', words: 'Copy the framed picture', ctrl: true, acts: { c: (b) => b.copy() } },
  { shown: 'Ctrl + V', words: 'Paste a picture' },
  {
    shown: 'Ctrl + Z, Ctrl + Y',
    words: 'Undo, redo',
    ctrl: true,
    acts: { z: (b, event) => (event.shiftKey ? b.redo() : b.undo()), y: (b) => b.redo() },
  },
  { shown: '?', words: 'This sheet', acts: { '?': (b) => b.showKeys() } },
];

/** Rows of tries have keys of their own, as lists have them everywhere. */
const TRY_KEYS: KeyGroup['rows'] = [
  { shown: '← →', words: 'Look at one on the board' },
  { shown: 'Enter', words: 'Take it' },
  { shown: 'Esc', words: 'Leave things as they were' },
  { shown: 'H, on the wall', words: 'Hold it beside others' },
];

/** Every key, for the sheet. */
export const keyGroups = (rows: readonly KeyRow<BenchActions>[]): readonly KeyGroup[] => [
  { title: 'On the board', rows: BOARD_KEYS },
  { title: 'Among tries', rows: TRY_KEYS },
  { title: 'Anywhere on the bench', rows },
];

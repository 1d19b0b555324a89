import type { KeyGroup, KeyRow } from '../ui/keys';

/** What keys do on the board. */
export interface BoardActions {
  move(event: KeyboardEvent): void;
  zoomBy(factor: number): void;
  zoomToCover(): void;
  leave(): void;
  play(): void;
}

const move = (board: BoardActions, event: KeyboardEvent): void => board.move(event);

export const BOARD_KEYS: readonly KeyRow<BoardActions>[] = [
  {
    shown: '← → ↑ ↓',
    words: 'Move the picture by 1 mm; in Place, the frame',
    acts: { arrowleft: move, arrowright: move, arrowup: move, arrowdown: move },
  },
  { shown: 'Shift + arrows', words: 'Move by 0.1 mm' },
  { shown: 'Alt + arrows, Alt + drag', words: 'Move the shape over the picture' },
  {
    shown: '+  −  0',
    words: 'Zoom in, zoom out, just cover',
    acts: {
      '+': (board) => board.zoomBy(1.05),
      '=': (board) => board.zoomBy(1.05),
      '-': (board) => board.zoomBy(1 / 1.05),
      '0': (board) => board.zoomToCover(),
    },
  },
  { shown: 'Space', words: 'Play the video, or pause it', acts: { ' ': (board) => board.play() } },
  { shown: 'Esc', words: 'Stop marking', acts: { escape: (board) => board.leave() } },
  { shown: 'Ctrl while dragging', words: 'No snapping' },
  { shown: 'Shift while dragging a handle', words: 'Keep the ratio, or free it' },
  { shown: 'Alt while dragging a handle', words: 'Keep the middle in place' },
];

/** What keys do anywhere on the bench. */
export interface BenchActions {
  goTo(step: number): void;
  focusTries(): void;
  focusBoard(): void;
  choose(by: number): void;
  sameAgain(): void;
  mark(): void;
  leaveInPlace(): void;
  compare(event: KeyboardEvent): void;
  openWall(): void;
  toggleView(): void;
  backToPage(): void;
  survey(): void;
  replace(): void;
  getOutPicture(): void;
  addPicture(): void;
  takeOut(): void;
  duplicate(): void;
  chooseEverything(): void;
  group(): void;
  ungroup(): void;
  copy(): void;
  cut(): void;
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
  { shown: 'T', words: 'Go to the tries', acts: { t: (b) => b.focusTries() } },
  { shown: 'B', words: 'Go to the board', acts: { b: (b) => b.focusBoard() } },
  {
    shown: '[  ]',
    words: 'Previous picture, next picture',
    acts: { '[': (b) => b.choose(-1), ']': (b) => b.choose(1) },
  },
  { shown: 'N', words: 'Frame the next one like this', acts: { n: (b) => b.sameAgain() } },
  {
    shown: 'L',
    words: 'Leave the picture where it was, when a first shape moved it',
    acts: { l: (b) => b.leaveInPlace() },
  },
  { shown: 'K', words: 'Keep this visible: mark an area', acts: { k: (b) => b.mark() } },
  { shown: 'O, held', words: 'Show the original', acts: { o: (b, event) => b.compare(event) } },
  { shown: 'W', words: 'Open the wall of tries', acts: { w: (b) => b.openWall() } },
  { shown: 'Esc, on the board', words: 'Back to the page', acts: { escape: (b) => b.backToPage() } },
  { shown: 'P', words: 'Switch between page and close-up', acts: { p: (b) => b.toggleView() } },
  { shown: 'Ctrl + wheel', words: 'Zoom the page; also Ctrl + Alt + ↑ ↓' },
  { shown: 'V', words: 'Open the survey', acts: { v: (b) => b.survey() } },
  { shown: 'R', words: 'Replace picture', acts: { r: (b) => b.replace() } },
  { shown: 'A', words: 'Add a picture', acts: { a: (b) => b.addPicture() } },
  { shown: 'Ctrl + D', words: 'Duplicate picture on its page', ctrl: true, acts: { d: (b) => b.duplicate() } },
  { shown: 'Shift + click, Shift + Enter', words: 'On a slide or drawing: choose one more, or let it go' },
  {
    shown: 'Ctrl + A',
    words: 'On a slide or drawing: choose everything',
    ctrl: true,
    acts: { a: (b) => b.chooseEverything() },
  },
  {
    shown: 'Ctrl + G, Ctrl + Shift + G',
    words: 'On a slide or drawing: group what is chosen, ungroup',
    ctrl: true,
    acts: { g: (b, event) => (event.shiftKey ? b.ungroup() : b.group()) },
  },
  { shown: 'Alt + drag', words: 'Move one of a group alone' },
  { shown: 'Del', words: 'Delete picture, or all that is chosen', acts: { delete: (b) => b.takeOut() } },
  { shown: 'G', words: 'Export picture', acts: { g: (b) => b.getOutPicture() } },
  { shown: 'Ctrl + C', words: 'Copy the framed picture', ctrl: true, acts: { c: (b) => b.copy() } },
  { shown: 'Ctrl + X', words: 'Copy it, and take it out', ctrl: true, acts: { x: (b) => b.cut() } },
  { shown: 'Ctrl + V', words: 'Paste a picture' },
  {
    shown: 'Ctrl + Z, Ctrl + Y',
    words: 'Undo, redo',
    ctrl: true,
    acts: { z: (b, event) => (event.shiftKey ? b.redo() : b.undo()), y: (b) => b.redo() },
  },
  { shown: '?', words: 'Show these keys', acts: { '?': (b) => b.showKeys() } },
];

/** Rows of tries have keys of their own, as lists have them everywhere. */
const TRY_KEYS: KeyGroup['rows'] = [
  { shown: '← →', words: 'Look at a try on the board' },
  { shown: 'Enter', words: 'Use it' },
  { shown: 'Esc', words: 'Keep things as they were' },
  { shown: 'H, on the wall', words: 'Compare it with others' },
];

/** Every key, for the sheet. */
export const keyGroups = (rows: readonly KeyRow<BenchActions>[]): readonly KeyGroup[] => [
  { title: 'On the board', rows: BOARD_KEYS },
  { title: 'Among tries', rows: TRY_KEYS },
  { title: 'Anywhere on the bench', rows },
];

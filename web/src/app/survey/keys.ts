import type { KeyGroup, KeyRow } from '../ui/keys';

/** What keys do among the frames. */
export interface SheetActions {
  move(event: KeyboardEvent): void;
  toggle(): void;
  open(): void;
  choose(which: 'all' | 'none'): void;
}

const move = (sheet: SheetActions, event: KeyboardEvent): void => sheet.move(event);

export const SHEET_KEYS: readonly KeyRow<SheetActions>[] = [
  {
    shown: '← → ↑ ↓',
    words: 'To another frame',
    acts: { arrowleft: move, arrowright: move, arrowup: move, arrowdown: move },
  },
  { shown: 'Home, End', words: 'The first, the last', acts: { home: move, end: move } },
  { shown: 'Shift + arrows, Shift + click', words: 'Select all from here to there' },
  { shown: 'Space, Ctrl + click', words: 'Choose one more', acts: { ' ': (s) => s.toggle() } },
  { shown: 'Ctrl + A', words: 'Select all', ctrl: true, acts: { a: (s) => s.choose('all') } },
  { shown: 'Esc', words: 'Select none', acts: { escape: (s) => s.choose('none') } },
  { shown: 'Enter', words: 'Open it on the bench', acts: { enter: (s) => s.open() } },
];

/** What keys do anywhere on the survey. */
export interface SurveyActions {
  openBench(): void;
  undo(): void;
  redo(): void;
  showKeys(): void;
}

export const SURVEY_KEYS: readonly KeyRow<SurveyActions>[] = [
  { shown: 'V', words: 'One picture large', acts: { v: (s) => s.openBench() } },
  {
    shown: 'Ctrl + Z, Ctrl + Y',
    words: 'Undo, redo',
    ctrl: true,
    acts: { z: (s, event) => (event.shiftKey ? s.redo() : s.undo()), y: (s) => s.redo() },
  },
  { shown: '?', words: 'This sheet', acts: { '?': (s) => s.showKeys() } },
];

/** Every key, for the sheet. */
export const SURVEY_KEY_GROUPS: readonly KeyGroup[] = [
  { title: 'Among the frames', rows: SHEET_KEYS },
  { title: 'Anywhere on the survey', rows: SURVEY_KEYS },
];

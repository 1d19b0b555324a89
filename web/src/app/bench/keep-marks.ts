import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  untracked,
} from '@angular/core';
import {
  clamp,
  cutMarks,
  deriveView,
  keepInView,
  keepMarks,
  markName,
  MOST_MARKS,
  ontoBox,
  ontoPicture,
  withKeepMarks,
  type Frame,
  type KeepMark,
  type Point,
  type Region,
  type Size,
} from '@gable/core';
import { Icon } from '../ui/icon';
import { shownNumber } from '../ui/numbers';
import { arrowOf } from '../ui/roving';
import { Suggestions } from '../work/suggestions';
import { WorkStore } from '../work/work-store';
import { intoBox, ontoBoard, type BoardLayout } from './board-layout';
import { Edit } from './edit';

/** Corners of a mark, clockwise from its top left; shares of it. */
const CORNERS: readonly Point[] = [
  { x: 0, y: 0 },
  { x: 1, y: 0 },
  { x: 1, y: 1 },
  { x: 0, y: 1 },
];
/** The least that a mark can be, in shares of the picture. */
const LEAST = 0.01;
/** By the keyboard marks move and grow by this share of the picture. */
const KEY_STEP = 0.01;
/** What the pointer may move while it only chooses, in CSS pixels. */
const STILL = 3;

/** What a hand has taken hold of: a mark to be moved, or one of its corners. */
interface Hold {
  pointer: number;
  index: number;
  corner: Point | null;
  start: Frame;
  from: Point;
  moved: boolean;
  gesture: string;
}

/** A region on the board, in CSS pixels. */
interface Drawn {
  path: string;
  corners: readonly Point[];
  /** Where its label is. */
  x: number;
  y: number;
}

/** A new mark on a frame: its picture is moved as little as it must so that the mark is in view. */
export function withNewMark(frame: Frame, mark: KeepMark, size: Size): Frame {
  const marks = [...keepMarks(frame), mark].slice(0, MOST_MARKS);
  const fit = keepInView(frame, marks, size);
  const placement = fit && fit.lost.length < marks.length ? fit.placement : frame.placement;
  return withKeepMarks({ ...frame, placement }, marks);
}

/** The keep marks of the frame on the board, to be moved, resized, named and removed; and those that are suggested. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-keep-marks',
  imports: [Icon],
  templateUrl: './keep-marks.html',
  host: {
    class: 'contents',
    '(pointermove)': 'moved($event)',
    '(pointerup)': 'up($event)',
    '(pointercancel)': 'up($event)',
  },
})
export class KeepMarks {
  private readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
  protected readonly suggestions = inject(Suggestions);
  readonly layout = input.required<BoardLayout>();
  /** Of the board, in CSS pixels. */
  readonly room = input.required<Size>();
  /** Is something being moved? Then what only explains waits. */
  readonly moving = input(false);
  /** Are marks suggested? */
  readonly suggest = input(false);

  private hold: Hold | null = null;
  private gestures = 0;

  /** The mark that shows its handles. */
  protected readonly selected = linkedSignal<string, number | null>({
    source: () => this.edit.key(),
    computation: () => null,
  });

  protected readonly marks = computed(() => {
    const f = this.edit.shown();
    if (!f) return [];
    const marks = keepMarks(f);
    const cut = this.moving() ? [] : cutMarks(f, this.edit.size(), marks);
    return marks.map((mark, index) => {
      const lost = cut.find((c) => c.index === index);
      const name = markName(marks, index);
      return { ...this.drawn(f, mark), index, name, cut: lost ? `cut ${shownNumber(lost.cut * 100, 0)} %` : '' };
    });
  });

  protected readonly suggested = computed(() => {
    const f = this.edit.taken();
    // Marks would cover the subject where it reaches over the edge.
    if (!f || f.overstep || !this.suggest() || this.moving() || this.state.model()?.preview) return [];
    return this.suggestions.of(f).map((mark) => ({ ...this.drawn(f, mark), mark, name: mark.name ?? '' }));
  });
  protected readonly refused = computed(() => {
    const f = this.edit.taken();
    return f && this.suggest() && !this.moving() ? this.suggestions.refused(f) : 0;
  });

  constructor() {
    // Words are read where marks are made, and after all that the picture itself waits for.
    effect(() => {
      const f = this.edit.taken();
      if (f && this.suggest() && this.edit.seen()?.known && !this.edit.problem())
        untracked(() => this.suggestions.ask(f));
    });
  }

  private drawn(frame: Frame, { u, v, width, height }: Region): Drawn {
    const { matrix } = deriveView(frame.placement, frame.box, this.edit.size());
    const corners = CORNERS.map((c) =>
      ontoBoard(frame, this.layout(), ontoBox(matrix, { u: u + c.x * width, v: v + c.y * height }, this.edit.size())),
    );
    const room = this.room();
    return {
      corners,
      path: `M${corners.map((p) => `${p.x} ${p.y}`).join('L')}Z`,
      x: clamp(Math.min(...corners.map((p) => p.x)), 8, room.width - 120),
      y: clamp(Math.min(...corners.map((p) => p.y)), 30, room.height - 40),
    };
  }

  protected take(mark: KeepMark): void {
    this.edit.set('keep mark', (f) => withNewMark(f, mark, this.edit.size()));
  }

  protected refuse(mark: KeepMark): void {
    const f = this.edit.taken();
    if (f) this.suggestions.refuse(f, mark);
  }

  protected restore(): void {
    const f = this.edit.taken();
    if (f) this.suggestions.restore(f);
  }

  protected remove(index: number): void {
    this.selected.set(null);
    this.edit.set('no keep mark', (f) => withKeepMarks(f, keepMarks(f).toSpliced(index, 1)));
  }

  protected rename(index: number, typed: string): void {
    this.selected.set(null);
    const name = typed.trim().slice(0, 80);
    const f = this.edit.taken();
    const mark = f && keepMarks(f)[index];
    if (!mark || name === markName(keepMarks(f), index)) return;
    const { name: before, ...region } = mark;
    void before;
    this.change('keep mark renamed', f, index, name === '' ? region : { ...region, name });
  }

  private change(entry: string, frame: Frame, index: number, mark: KeepMark, gesture?: string): void {
    this.state.take(entry, withKeepMarks(frame, keepMarks(frame).with(index, mark)), gesture ?? null);
  }

  protected grab(event: PointerEvent, index: number, corner: Point | null): void {
    const start = this.edit.taken();
    if (event.button !== 0 || !start || this.hold) return;
    event.stopPropagation();
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    const from = { x: event.clientX, y: event.clientY };
    const gesture = `mark-${++this.gestures}`;
    this.hold = { pointer: event.pointerId, index, corner, start, from, moved: false, gesture };
  }

  protected grabCorner(event: PointerEvent, index: number, corner: number): void {
    this.grab(event, index, CORNERS[corner]!);
  }

  protected moved(event: PointerEvent): void {
    const h = this.hold;
    if (!h || h.pointer !== event.pointerId) return;
    const by = { x: event.clientX - h.from.x, y: event.clientY - h.from.y };
    if (!h.moved && Math.hypot(by.x, by.y) < STILL) return;
    h.moved = true;
    const { start } = h;
    const { matrix } = deriveView(start.placement, start.box, this.edit.size());
    const share = (x: number, y: number): { u: number; v: number } =>
      ontoPicture(matrix, intoBox(start, this.layout(), x, y), this.edit.size());
    const [a, b] = [share(0, 0), share(by.x, by.y)];
    const mark = keepMarks(start)[h.index];
    if (mark) this.change('keep mark', start, h.index, pulled(mark, h.corner, b.u - a.u, b.v - a.v), h.gesture);
  }

  protected up(event: PointerEvent): void {
    const h = this.hold;
    if (h?.pointer !== event.pointerId) return;
    this.hold = null;
    if (!h.moved && !h.corner) this.selected.set(this.selected() === h.index ? null : h.index);
  }

  /** Arrow keys move a mark, with Shift its lower right corner; Enter shows its handles, Delete removes it. */
  protected key(event: KeyboardEvent, index: number): void {
    const f = this.edit.taken();
    const mark = f && keepMarks(f)[index];
    const arrow = arrowOf(event);
    if (!mark || event.ctrlKey || event.metaKey || event.altKey) return;
    if (arrow) {
      const corner = event.shiftKey ? { x: 1, y: 1 } : null;
      this.change(
        'keep mark',
        f,
        index,
        pulled(mark, corner, arrow[0] * KEY_STEP, arrow[1] * KEY_STEP),
        `mark-keys-${index}`,
      );
    } else if (event.key === 'Delete' || event.key === 'Backspace') this.remove(index);
    else if (event.key === 'Enter' || event.key === ' ') this.selected.set(index);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

/** A mark that was moved, or pulled by a corner; it stays on the picture. */
function pulled(mark: KeepMark, corner: Point | null, du: number, dv: number): KeepMark {
  if (!corner)
    return {
      ...mark,
      u: clamp(mark.u + du, 0, 1 - mark.width),
      v: clamp(mark.v + dv, 0, 1 - mark.height),
    };
  const [u, width] = side(mark.u, mark.width, corner.x, du);
  const [v, height] = side(mark.v, mark.height, corner.y, dv);
  return { ...mark, u, v, width, height };
}

/** One side of a mark along an axis: its start and its length. @param end 0 where the start is pulled, 1 where the end is */
function side(start: number, length: number, end: number, by: number): [number, number] {
  if (end === 1) return [start, clamp(length + by, Math.min(LEAST, 1 - start), 1 - start)];
  const to = clamp(start + by, 0, start + length - Math.min(LEAST, length));
  return [to, start + length - to];
}

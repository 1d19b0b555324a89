import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { subjectAlone, subjectOf, type BrushStroke, type Frame, type Point } from '@gable/core';
import type { CutOut as Found } from '@gable/contract';
import { catchError, concat, EMPTY, of, Subject, switchMap, tap, timer } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import { Choice } from '../ui/choice';
import { Notice } from '../ui/notice';
import { SliderField } from '../ui/slider-field';
import { addressOf, LARGE } from '../work/images';
import { WorkStore } from '../work/work-store';
import { Edit } from './edit';

/** The picture is shown at most so large, in CSS pixels. */
const STAGE = { width: 720, height: 430 };
/** Milliseconds without a stroke before the edge is made finer. */
const REST = 900;
/** A point of a stroke is kept this far from the one before it, in shares of the picture. */
const STEP = 0.004;

/** Cuts the subject out of its picture, mended by two brushes; then it reaches over the edge of its shape, or stands alone. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-cut-out',
  imports: [Choice, Notice, SliderField],
  templateUrl: './cut-out.html',
})
export class CutOut {
  private readonly api = inject(Api);
  private readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');

  private readonly frame = signal<Frame | null>(null);
  protected readonly strokes = signal<readonly BrushStroke[]>([]);
  protected readonly found = signal<Found | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly doing = signal<'looking' | 'refining' | null>(null);
  protected readonly brush = signal<BrushStroke['brush']>('subject');
  /** Diameter of the brush, in shares of the longer side. */
  protected readonly size = signal(0.04);
  /** The stroke under the hand, and where the brush is. */
  protected readonly stroke = signal<BrushStroke | null>(null);
  protected readonly pointer = signal<Point | null>(null);
  protected readonly brushes = [
    { value: 'subject', label: 'Subject' },
    { value: 'background', label: 'Background' },
  ] as const;

  protected readonly stage = computed(() => {
    const { width, height } = this.edit.size();
    const room = Math.max(160, Math.min(STAGE.height, window.innerHeight - 300));
    const k = Math.min(STAGE.width / width, room / height);
    return { width: Math.round(width * k), height: Math.round(height * k) };
  });
  protected readonly picture = computed(() => {
    const m = this.state.model();
    const f = this.frame();
    if (!m || !f) return null;
    const at = addressOf(m, f);
    return f.source ? this.api.keptUrl(f.source.sha256, LARGE) : this.api.proxyUrl(at.id, at.frame.n, LARGE);
  });
  protected readonly mask = computed(() => {
    const found = this.found();
    return found ? `url(data:image/png;base64,${found.mask})` : null;
  });
  /** The stroke under the hand as a line on the stage. */
  protected readonly line = computed(() => {
    const s = this.stroke();
    const { width, height } = this.stage();
    return s?.points.map((p) => `${p.u * width},${p.v * height}`).join(' ') ?? '';
  });
  protected readonly across = computed(() => this.size() * Math.max(this.stage().width, this.stage().height));
  protected readonly status = computed(() => {
    if (this.problem()) return '';
    if (this.doing() === 'looking') return 'Looking for the subject …';
    if (this.doing() === 'refining') return 'Refining the edge …';
    return this.found()?.outline ? 'Paint over what is missing or too much.' : 'Nothing stands out. Paint the subject.';
  });

  protected readonly ready = computed(() => !!this.found()?.outline && this.doing() !== 'looking');
  private readonly wishes = new Subject<readonly BrushStroke[] | null>();

  constructor() {
    this.wishes
      .pipe(
        switchMap((strokes) => (strokes ? this.lookTwice(strokes) : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  open(): void {
    this.frame.set(this.edit.taken());
    this.problem.set(null);
    this.found.set(null);
    this.dialog().nativeElement.showModal();
    this.paint([]);
  }

  /** A first look, and a finer one when no stroke follows. */
  private lookTwice(strokes: readonly BrushStroke[]) {
    const m = this.state.model();
    const f = this.frame();
    if (!m || !f) return EMPTY;
    const at = addressOf(m, f);
    const look = (fine: boolean) => {
      this.doing.set(fine ? 'refining' : 'looking');
      return this.api.cutOut(at.id, at.frame, { strokes: [...strokes], fine }).pipe(
        tap((found) => {
          this.found.set(found);
          this.doing.set(null);
        }),
      );
    };
    this.problem.set(null);
    return concat(look(false), timer(REST).pipe(switchMap(() => look(true)))).pipe(
      catchError((error: unknown) => {
        this.problem.set(toProblem(error));
        this.doing.set(null);
        return of(null);
      }),
    );
  }

  private paint(strokes: readonly BrushStroke[]): void {
    this.strokes.set(strokes);
    this.wishes.next(strokes);
  }

  protected again(): void {
    this.paint(this.strokes());
  }

  protected undo(): void {
    if (this.strokes().length > 0) this.paint(this.strokes().slice(0, -1));
  }

  protected startAgain(): void {
    this.paint([]);
  }

  private at(event: PointerEvent): { u: number; v: number } {
    const box = (event.currentTarget as Element).getBoundingClientRect();
    return { u: (event.clientX - box.left) / box.width, v: (event.clientY - box.top) / box.height };
  }

  protected down(event: PointerEvent): void {
    if (event.button !== 0) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    this.stroke.set({ brush: this.brush(), size: this.size(), points: [this.at(event)] });
  }

  protected moved(event: PointerEvent): void {
    const at = this.at(event);
    this.pointer.set({ x: at.u * this.stage().width, y: at.v * this.stage().height });
    const stroke = this.stroke();
    const last = stroke?.points.at(-1);
    if (!stroke || !last || Math.hypot(at.u - last.u, at.v - last.v) < STEP) return;
    this.stroke.set({ ...stroke, points: [...stroke.points, at].slice(0, 2000) });
  }

  protected up(): void {
    const stroke = this.stroke();
    this.stroke.set(null);
    if (stroke) this.paint([...this.strokes(), stroke]);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    event.stopPropagation();
    this.undo();
  }

  protected closed(): void {
    // What is still being looked for is of no use.
    this.wishes.next(null);
    this.doing.set(null);
    this.frame.set(null);
  }

  /** Lets it reach over the edge of the shape. */
  protected over(): void {
    const outline = this.found()?.outline;
    const n = this.frame()?.n;
    this.dialog().nativeElement.close();
    if (outline && n === this.edit.taken()?.n) this.edit.overstep(subjectOf(outline.shape, outline.region));
  }

  /** Leaves it alone, its outline as the shape. */
  protected alone(): void {
    const outline = this.found()?.outline;
    const n = this.frame()?.n;
    this.dialog().nativeElement.close();
    if (outline && n === this.edit.taken()?.n)
      this.edit.set('subject alone', (f) => subjectAlone(f, outline.shape, outline.region, this.edit.size()));
  }
}

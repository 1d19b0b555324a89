import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  afterRenderEffect,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { POINTS } from '@gable/core';
import { placeWords } from '../work/wording';
import { TryCanvas } from '../paint/try-canvas';
import { actOf } from '../ui/keys';
import { SHEET_KEYS, type SheetActions } from './keys';
import { KINDS, linesOf, shapeWords, type Row } from './survey-model';
import { SurveyState } from './survey-state';
import { shownBytes, shownLength, shownNumber } from '../ui/numbers';

/** A line's height and a cell's width, pixels. */
const LINE = 204;
const CELL = 177;
const PICTURE = { width: 152, height: 116 };

/** All frames, as on a contact sheet; only those in sight are on the page. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-contact-sheet',
  imports: [ScrollingModule, TryCanvas],
  template: `<cdk-virtual-scroll-viewport
    #port
    [itemSize]="line"
    [minBufferPx]="400"
    [maxBufferPx]="900"
    class="h-full"
    role="listbox"
    aria-multiselectable="true"
    aria-label="Frames of the work"
    (keydown)="key($event)"
  >
    <div
      *cdkVirtualFor="let l of lines(); trackBy: trackLine"
      class="flex"
      role="presentation"
      [style.height.px]="line"
    >
      <!-- A line that scrolls out of sight is used again for the one that comes in. -->
      @for (c of l.cells; track $index) {
        @let r = c.row;
        <div
          role="option"
          [id]="'frame-' + r.n"
          [attr.aria-selected]="state.chosen().has(r.n)"
          [tabindex]="r.n === state.focused() ? 0 : -1"
          [title]="spoken(r)"
          class="relative my-0.5 flex shrink-0 cursor-pointer flex-col rounded-lg px-3 pt-[26px] hover:bg-sheet focus-visible:bg-sheet aria-selected:bg-raised aria-selected:shadow-[inset_0_0_0_2px_var(--mark)]"
          [style.width.px]="cell"
          (pointerdown)="pressed = r"
          (click)="click(pressed ?? r, $event)"
          (dblclick)="opened.emit(r.n)"
        >
          <span class="sr-only">{{ spoken(r) }}</span>
          @if (c.mark) {
            <p
              aria-hidden="true"
              class="figure absolute left-3 right-2 top-1 truncate border-l border-line pl-1.5 text-[11.5px]"
            >
              {{ c.mark }}<span class="ml-2 text-soft">{{ c.count > 1 ? c.count : '' }}</span>
            </p>
          }
          @if (r.problem) {
            <p
              class="flex items-center justify-center rounded-md border border-dashed border-line px-2 text-center text-[12px] leading-tight text-soft"
              [style.height.px]="picture.height"
            >
              {{ r.problem.message }}
            </p>
          } @else {
            <gable-try-canvas
              class="mx-auto"
              [style.width.px]="picture.width"
              [style.height.px]="picture.height"
              [key]="r.key"
              [frame]="state.face(r)"
              [width]="picture.width"
              [height]="picture.height"
            />
          }
          <p aria-hidden="true" class="figure mt-1.5 flex items-baseline gap-2 text-[12px] leading-tight">
            <span class="font-semibold">{{ r.n }}</span>
            <span class="truncate text-soft">{{ figures(r) }}</span>
          </p>
          <p
            aria-hidden="true"
            class="mt-1 truncate text-[12px] leading-tight"
            [class]="bad(r) ? 'text-warn-text' : 'text-soft'"
          >
            {{ words(r) }}
          </p>
        </div>
      }
    </div>
    @if (lines().length === 0) {
      <p class="mt-16 text-center text-soft">
        {{
          state.rows().length === 0
            ? 'There are no pictures yet. Put one in on the bench.'
            : 'No frame answers to that. Clear the words, or show all findings.'
        }}
      </p>
    }
  </cdk-virtual-scroll-viewport>`,
  host: { class: 'block min-h-0 select-none', '(document:pointerup)': 'released()' },
})
export class ContactSheet implements SheetActions {
  protected readonly state = inject(SurveyState);
  readonly opened = output<number>();
  protected readonly line = LINE;
  protected readonly cell = CELL;
  protected readonly picture = PICTURE;
  private readonly port = viewChild.required(CdkVirtualScrollViewport);
  private readonly columns = signal(6);
  protected readonly lines = computed(() => linesOf(this.state.groups(), this.columns()));
  /** Where a range begins. */
  private anchor = 0;

  constructor() {
    const element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const watch = new ResizeObserver(([entry]) => {
      const room = (entry?.contentRect.width ?? 0) - 12;
      this.columns.set(Math.max(1, Math.floor(room / CELL)));
      this.port().checkViewportSize();
    });
    watch.observe(element);
    inject(DestroyRef).onDestroy(() => watch.disconnect());
    // What is in sight is fetched first.
    effect((cleanUp) => {
      const port = this.port();
      const lines = this.lines();
      const told = port.renderedRangeStream.subscribe(({ start, end }) =>
        this.state.sooner(lines.slice(start, end).flatMap((l) => l.cells.map((c) => c.row.n))),
      );
      cleanUp(() => told.unsubscribe());
    });
    // The one way in by keyboard is a frame that is in sight of the arrangement.
    afterRenderEffect(() => {
      const shown = this.state.shown();
      if (shown.length > 0 && !shown.some((r) => r.n === this.state.focused())) this.state.focused.set(shown[0]!.n);
    });
  }

  protected readonly trackLine = (_: number, l: { id: string }): string => l.id;

  /** The size, and the figure they are sorted by; their sharpness otherwise. */
  protected figures({ frame, ppi, kept, picture }: Row): string {
    const { width, height } = frame.box;
    const mm = (v: number): string => shownNumber(v / POINTS.mm, v < 100 * POINTS.mm ? 1 : 0);
    const size = Math.abs(width - height) < 0.02 ? `${mm(width)} mm` : `${mm(width)} × ${mm(height)}`;
    const { order } = this.state.arrangement();
    if (order === 'kept') return kept === null ? size : `${size} · keeps ${Math.round(kept * 100)} %`;
    const bytes = picture.media?.bytes;
    if (order === 'bytes') return bytes ? `${size} · ${shownBytes(bytes)}` : size;
    return ppi === null ? size : `${size} · ${Math.round(ppi)} ppi`;
  }

  protected bad(r: Row): boolean {
    return r.codes.some((c) => c !== 'no-alt-text');
  }

  protected words(r: Row): string {
    return r.codes.map((c) => KINDS[c].one).join(', ');
  }

  /** All figures, for those who hear them, and on hovering. */
  protected spoken(r: Row): string {
    const { box, outline, alt } = r.frame;
    const ratio = box.width / box.height;
    return [
      `Picture ${r.n}, ${placeWords(r.picture.where)}`,
      `${shapeWords(r.frame)}, ${shownLength(box.width)} by ${shownLength(box.height)}, ratio ${shownNumber(ratio, 3)}`,
      r.ppi === null ? '' : `${Math.round(r.ppi)} ppi`,
      r.kept === null ? '' : `keeps ${Math.round(r.kept * 100)} % of what matters`,
      Math.abs(r.distortion - 1) < 0.005 ? '' : `distorted to ${Math.round(r.distortion * 100)} %`,
      outline ? `outline ${shownNumber(outline.weight, 2)} pt` : '',
      r.picture.media?.bytes ? shownBytes(r.picture.media.bytes) : '',
      alt ? `“${alt}”` : 'no alternative text',
      ...r.codes.filter((c) => c !== 'no-alt-text').map((c) => KINDS[c].one),
    ]
      .filter(Boolean)
      .join('; ');
  }

  /** What stood under the pointer as it went down: lines that settle meanwhile may show another frame there. */
  protected pressed: Row | null = null;

  /** The click that a press ends in comes right after this, or not at all. */
  protected released(): void {
    setTimeout(() => (this.pressed = null));
  }

  protected click(r: Row, event: MouseEvent): void {
    this.state.focused.set(r.n);
    if (event.shiftKey && this.anchor > 0) {
      this.state.chooseUpTo(this.anchor, r.n);
      return;
    }
    this.anchor = r.n;
    if (event.ctrlKey || event.metaKey) this.state.toggle(r.n);
    else this.state.choose(this.state.chosen().size === 1 && this.state.chosen().has(r.n) ? [] : [r.n]);
  }

  protected key(event: KeyboardEvent): void {
    if (event.altKey) return;
    const act = actOf(SHEET_KEYS, event);
    if (!act) return;
    act(this, event);
    event.preventDefault();
  }

  toggle(): void {
    this.anchor = this.state.focused();
    this.state.toggle(this.anchor);
  }

  open(): void {
    this.opened.emit(this.state.focused());
  }

  choose(which: 'all' | 'none'): void {
    this.state.choose(which === 'all' ? this.state.shown().map((r) => r.n) : []);
  }

  move(event: KeyboardEvent): void {
    const n = this.state.focused();
    const to = this.next(
      event.key,
      this.state.shown().map((r) => r.n),
      n,
    );
    if (to === null) return;
    if (event.shiftKey) {
      if (this.anchor === 0) this.anchor = n;
      this.state.chooseUpTo(this.anchor, to);
    }
    this.go(to);
  }

  /** Up and down go to the frame above or below, into other groups too. */
  private next(key: string, order: readonly number[], n: number): number | null {
    const at = order.indexOf(n);
    if (at < 0) return order[0] ?? null;
    const flat = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: order.length - 1 }[key];
    if (flat !== undefined) return order[Math.min(order.length - 1, Math.max(0, flat))]!;
    if (key !== 'ArrowDown' && key !== 'ArrowUp') return null;
    const lines = this.lines();
    const row = lines.findIndex((l) => l.cells.some((c) => c.row.n === n));
    const column = lines[row]!.cells.findIndex((c) => c.row.n === n);
    const target = lines[row + (key === 'ArrowDown' ? 1 : -1)]?.cells;
    return target ? target[Math.min(column, target.length - 1)]!.row.n : n;
  }

  private go(n: number): void {
    this.state.focused.set(n);
    const row = this.lines().findIndex((l) => l.cells.some((c) => c.row.n === n));
    const port = this.port();
    const top = port.measureScrollOffset();
    const [from, to] = [row * LINE, (row + 1) * LINE];
    if (from < top) port.scrollToOffset(from);
    else if (to > top + port.getViewportSize()) port.scrollToOffset(to - port.getViewportSize());
    // A line that was out of sight is on the page a moment later.
    const reach = (tries: number): void => {
      const cell = document.getElementById(`frame-${n}`);
      if (cell) cell.focus({ preventScroll: true });
      else if (tries > 0) requestAnimationFrame(() => reach(tries - 1));
    };
    reach(10);
  }
}

import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { finishOf, layFinish, readFinish, shapeOf, writeFinish, type Finish, type Frame, type Size } from '@gable/core';
import { toProblem } from '../api/problem';
import type { KeptFinish } from '@gable/contract';
import { WorkStore } from '../work/work-store';
import { TryCanvas } from '../paint/try-canvas';
import { Choice } from '../ui/choice';
import { download } from '../ui/download';
import { FigureField } from '../ui/figure-field';
import { walk } from '../ui/roving';
import { scrollSideways } from '../ui/scroll-sideways';
import { Tick } from '../ui/tick';
import type { Row } from './survey-model';
import { SurveyState } from './survey-state';

/** Finishes, each with a picture of the author's own; hovering shows one on all chosen frames, a click lays it on. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-finish-panel',
  imports: [Choice, FigureField, Tick, TryCanvas],
  template: `<div class="flex min-h-0 w-full min-w-0 gap-4">
    <div
      #list
      role="listbox"
      aria-orientation="horizontal"
      aria-label="Finishes"
      class="runs-on flex min-w-0 grow gap-2 py-1 pl-0.5"
      (keydown)="key($event)"
      (wheel)="scrollSideways($event)"
      (mouseleave)="state.tried.set(null)"
      (focusout)="state.tried.set(null)"
    >
      @for (f of finishes(); track f.id; let i = $index) {
        <div
          role="option"
          [attr.aria-selected]="f.id === at()?.id"
          [tabindex]="i === active() ? 0 : -1"
          class="flex w-[112px] shrink-0 cursor-pointer flex-col rounded-lg border border-transparent px-2 pb-1.5 pt-2 hover:bg-sheet focus-visible:bg-sheet aria-selected:border-mark aria-selected:bg-sheet"
          (mouseenter)="state.tried.set(f)"
          (click)="pick(f, i)"
          (dblclick)="lay()"
        >
          @if (model(); as row) {
            <gable-try-canvas
              class="mx-auto mb-1.5"
              [style.width.px]="92"
              [style.height.px]="88"
              [key]="row.key"
              [frame]="faceOf(row, f)"
              [width]="92"
              [height]="88"
            />
          }
          <span class="truncate text-[13px] font-semibold leading-tight" [title]="f.finish.name">{{
            f.finish.name
          }}</span>
          <span class="truncate text-[12px] leading-tight text-soft">{{ note(f) }}</span>
        </div>
      }
    </div>
    <div class="flex w-[330px] shrink-0 flex-col gap-0.5 text-[13px]">
      @if (at(); as f) {
        <div class="flex items-center gap-3">
          <input
            class="entry !w-full !text-left font-text font-semibold"
            aria-label="Name of the finish"
            [value]="f.finish.name"
            (change)="rename(f, $event)"
          />
          <button
            type="button"
            class="act act-main h-8 shrink-0"
            [disabled]="state.chosenRows().length === 0"
            (click)="lay()"
          >
            {{ layWords() }}
          </button>
        </div>
        <gable-tick label="Centre each subject" [on]="state.centred()" (changed)="state.centred.set($event)" />
        <div class="flex items-center justify-between gap-2">
          <gable-choice
            label="Sizes"
            [quiet]="true"
            [options]="sizes"
            [value]="f.finish.size ? 'one' : 'own'"
            (changed)="setSize(f, $event === 'one' ? firstSize() : null)"
          />
          @if (f.finish.size; as size) {
            <gable-figure-field
              label="Width"
              [quiet]="true"
              kind="length"
              [value]="size.width"
              [min]="3"
              [max]="1440"
              (changed)="setSize(f, { width: $event, height: locked(f) ? $event / locked(f)! : size.height })"
            />
            @if (!locked(f)) {
              <gable-figure-field
                label="Height"
                [quiet]="true"
                kind="length"
                [value]="size.height"
                [min]="3"
                [max]="1440"
                (changed)="setSize(f, { width: size.width, height: $event })"
              />
            }
          }
        </div>
        <div class="-mx-2 flex flex-wrap">
          <button type="button" class="quiet" (click)="first(f)">
            {{ state.marks().finish === f.id ? 'Default here' : 'Use by default' }}
          </button>
          @if (model(); as row) {
            <button type="button" class="quiet" (click)="become(f, row)">Update from picture {{ row.n }} has</button>
          }
          <button type="button" class="quiet" (click)="copy(f)">Duplicate</button>
          <button type="button" class="quiet" (click)="save(f)">Save to a file</button>
          <button type="button" class="quiet" (click)="remove(f)">Remove</button>
        </div>
      }
      <div class="-mx-2 flex flex-wrap">
        @if (model(); as row) {
          <button type="button" class="quiet" (click)="keep(row)">Save picture {{ row.n }}’s look as a finish</button>
        }
        <button type="button" class="quiet" (click)="file.click()">Open a finish file</button>
        <input
          #file
          type="file"
          class="hidden"
          tabindex="-1"
          aria-label="File of a finish"
          accept=".json,application/json"
          (change)="read(file)"
        />
      </div>
    </div>
  </div>`,
  host: { class: 'flex min-h-0 min-w-0 grow' },
})
export class FinishPanel {
  protected readonly state = inject(SurveyState);
  private readonly bench = inject(WorkStore);
  readonly wished = output<KeptFinish>();
  protected readonly scrollSideways = scrollSideways;
  protected readonly sizes = [
    { value: 'own', label: 'Keep sizes' },
    { value: 'one', label: 'One size' },
  ] as const;
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');
  private readonly picked = signal<string | null>(null);

  /** The one that comes first in this work, then the rest in their order. */
  protected readonly finishes = computed(() => {
    const first = this.state.marks().finish;
    const all = this.state.finishes();
    return first ? [...all.filter((f) => f.id === first), ...all.filter((f) => f.id !== first)] : all;
  });
  protected readonly at = computed(
    () => this.finishes().find((f) => f.id === this.picked()) ?? this.finishes()[0] ?? null,
  );
  protected readonly active = computed(() =>
    Math.max(
      0,
      this.finishes().findIndex((f) => f.id === this.at()?.id),
    ),
  );
  /** The picture that finishes are shown on. */
  protected readonly model = computed(
    (): Row | null =>
      this.state.chosenRows().find((r) => !r.problem) ??
      this.state.rows().find((r) => r.n === this.state.focused() && !r.problem) ??
      this.state.rows().find((r) => !r.problem) ??
      null,
  );
  protected readonly layWords = computed(() => {
    const n = this.state.chosenRows().length;
    return n === 0 ? 'Select frames first' : n === 1 ? 'Apply to this frame' : `Apply to ${n} frames`;
  });

  protected faceOf(row: Row, { finish }: KeptFinish): Frame {
    return layFinish(row.frame, finish, {
      picture: row.size,
      subject: row.facts.subject,
      centred: this.state.centred(),
    });
  }

  /** What of a frame it is about. */
  protected note({ finish: f }: KeptFinish): string {
    const about = [
      f.shape ? 'shape' : '',
      f.size ? 'size' : f.ratio ? 'ratio' : '',
      f.outline !== undefined ? (f.outline ? 'outline' : 'no outline') : '',
      f.shadow !== undefined ? (f.shadow ? 'shadow' : 'no shadow') : '',
      f.tone !== undefined ? (f.tone ? 'tone' : 'no tone') : '',
    ].filter(Boolean);
    return about.join(', ');
  }

  protected pick(f: KeptFinish, i: number): void {
    this.picked.set(f.id);
    this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]')[i]?.focus();
  }

  protected lay(): void {
    const finish = this.at();
    if (finish && this.state.chosenRows().length > 0) this.wished.emit(finish);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      event.preventDefault();
      this.lay();
      return;
    }
    if (event.key === 'Escape') {
      this.state.tried.set(null);
      return;
    }
    const to = walk(event, this.active(), this.finishes().length);
    if (to === null) return;
    const f = this.finishes()[to]!;
    this.picked.set(f.id);
    const option = this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]')[to];
    option?.focus();
    option?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    this.state.tried.set(f);
  }

  protected first(f: KeptFinish): void {
    const { finish, ...rest } = this.state.marks();
    this.state.say(finish === f.id ? rest : { ...rest, finish: f.id });
  }

  /** The ratio that a finish's shape insists on. */
  protected locked({ finish }: KeptFinish): number | null {
    return finish.shape ? (shapeOf(finish.shape)?.locked ?? null) : null;
  }

  /** What all frames would be: at first as large as the picture that finishes are shown on. */
  protected firstSize(): Size {
    const row = this.model();
    const at = this.at();
    if (!row || !at) return { width: 90, height: 90 };
    const { width, height } = this.faceOf(row, at).box;
    return { width, height };
  }

  protected setSize(f: KeptFinish, size: Size | null): void {
    const { size: old, ratio, ...rest } = f.finish;
    void old;
    if (size) void this.state.changeFinish(f, { ...rest, size });
    else void this.state.changeFinish(f, { ...rest, ...(ratio ? { ratio } : {}) });
  }

  protected rename(f: KeptFinish, event: Event): void {
    const name = (event.target as HTMLInputElement).value.trim();
    if (name && name !== f.finish.name) void this.state.changeFinish(f, { ...f.finish, name });
  }

  protected become(f: KeptFinish, row: Row): void {
    void this.state.changeFinish(f, finishOf(row.frame, f.finish.name));
  }

  protected async keep(row: Row): Promise<void> {
    this.pickKept(await this.state.keepFinish(finishOf(row.frame, `As picture ${row.n}`)));
  }

  protected async copy(f: KeptFinish): Promise<void> {
    this.pickKept(await this.state.keepFinish({ ...f.finish, name: `${f.finish.name}, copy`.slice(0, 80) }));
  }

  private pickKept(kept: KeptFinish | null): void {
    if (kept) this.picked.set(kept.id);
  }

  protected remove(f: KeptFinish): void {
    void this.state.removeFinish(f);
  }

  protected save({ id, finish }: KeptFinish): void {
    download(new Blob([writeFinish(finish)], { type: 'application/json' }), `${id}.finish.json`);
  }

  protected async read(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    let finish: Finish;
    try {
      finish = readFinish(await file.text());
    } catch (e) {
      this.bench.problem$.next(toProblem(e));
      return;
    }
    this.pickKept(await this.state.keepFinish(finish));
  }
}

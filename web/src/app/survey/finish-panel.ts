import { CdkMenuTrigger } from '@angular/cdk/menu';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  Injector,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  finishOf,
  isDecoration,
  layFinish,
  readFinish,
  shapeOf,
  writeFinish,
  type Finish,
  type Frame,
  type Size,
} from '@gable/core';
import { toProblem } from '../api/problem';
import type { KeptFinish } from '@gable/contract';
import { AroundFace } from '../around/around-face';
import { WorkStore } from '../work/work-store';
import { TryCanvas } from '../paint/try-canvas';
import { Choice } from '../ui/choice';
import { DeedMenu, type MenuDeed } from '../ui/deed-menu';
import { download } from '../ui/download';
import { FigureField } from '../ui/figure-field';
import { Icon } from '../ui/icon';
import { walk } from '../ui/roving';
import { scrollSideways } from '../ui/scroll-sideways';
import { Tick } from '../ui/tick';
import type { Row } from './survey-model';
import { SurveyState } from './survey-state';

/** Finishes, each with a picture of the author's own; hovering shows one on all chosen frames, a click lays it on. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-finish-panel',
  imports: [AroundFace, CdkMenuTrigger, Choice, DeedMenu, FigureField, Icon, Tick, TryCanvas],
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
            @let face = faces().get(f.id)!;
            @if (face.round; as round) {
              <gable-around-face
                class="mx-auto mb-1.5 h-[88px] w-[92px]"
                [of]="round"
                [key]="row.key"
                [width]="92"
                [height]="88"
              />
            } @else {
              <gable-try-canvas
                class="mx-auto mb-1.5 h-[88px] w-[92px]"
                [key]="row.key"
                [frame]="face.frame"
                [width]="92"
                [height]="88"
              />
            }
          }
          <span class="truncate text-[13px] font-semibold leading-tight" [title]="f.finish.name">{{
            f.finish.name
          }}</span>
          <span class="line-clamp-2 text-[12px] leading-tight text-soft">{{ note(f) }}</span>
        </div>
      }
    </div>
    <div class="flex w-[330px] shrink-0 flex-col gap-2 border-l border-line pl-4">
      @if (at(); as f) {
        <div class="flex items-center gap-2">
          <input
            class="entry !w-full !text-left font-text font-semibold"
            aria-label="Name of the finish"
            [value]="f.finish.name"
            (change)="rename(f, $event)"
          />
          @if (state.marks().finish === f.id) {
            <span class="shrink-0 text-[12.5px] text-soft">default</span>
          }
          <button type="button" class="act act-line h-8 shrink-0 px-2.5" [cdkMenuTriggerFor]="menu">
            Manage<gable-icon name="down" [size]="13" />
          </button>
        </div>
        <gable-tick label="Centre each subject" [on]="state.centred()" (changed)="state.centred.set($event)" />
        <div class="flex h-8 items-center justify-between gap-2">
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
        <button
          type="button"
          class="act act-strong w-full justify-center"
          [disabled]="state.chosenRows().length === 0"
          (click)="lay()"
        >
          {{ layWords() }}
        </button>
      } @else {
        <button type="button" class="act act-line self-start" [cdkMenuTriggerFor]="menu">
          Manage<gable-icon name="down" [size]="13" />
        </button>
      }
      <ng-template #menu><gable-deed-menu label="Finishes" [deeds]="deeds()" /></ng-template>
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
  </div>`,
  host: { class: 'flex min-h-0 min-w-0 grow' },
})
export class FinishPanel {
  protected readonly state = inject(SurveyState);
  private readonly bench = inject(WorkStore);
  private readonly injector = inject(Injector);
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
  /** That picture with each of them. */
  protected readonly faces = computed(() => {
    const row = this.model();
    return new Map(
      (row ? this.finishes() : []).map((f) => {
        const frame = this.faceOf(row!, f);
        return [f.id, { frame, round: this.state.roundFace(frame, f) }] as const;
      }),
    );
  });
  private readonly file = viewChild.required<ElementRef<HTMLInputElement>>('file');
  /** What can be done with finishes, but for laying one on. */
  protected readonly deeds = computed((): readonly MenuDeed[] => {
    const f = this.at();
    const row = this.model();
    const one: MenuDeed[] = f
      ? [
          {
            label: this.state.marks().finish === f.id ? 'Do not use by default' : 'Use by default',
            act: () => this.first(f),
          },
          ...(row ? [{ label: `Update from picture ${row.n}`, act: () => this.become(f, row) }] : []),
          { label: 'Duplicate', act: () => void this.copy(f) },
          { label: 'Save to a file', act: () => this.save(f) },
          { label: 'Remove', act: () => this.remove(f) },
        ]
      : [];
    return [
      ...one,
      ...(row
        ? [{ label: `Save picture ${row.n}’s look as a finish`, apart: one.length > 0, act: () => void this.keep(row) }]
        : []),
      { label: 'Open a finish file …', act: () => this.file().nativeElement.click() },
    ];
  });
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
      f.around !== undefined ? aroundWords(f.around) : '',
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
    void this.state.changeFinish(f, finishOf(row.frame, f.finish.name, this.state.around(row.n)));
  }

  protected async keep(row: Row): Promise<void> {
    this.pickKept(await this.state.keepFinish(finishOf(row.frame, `As picture ${row.n}`, this.state.around(row.n))));
  }

  protected async copy(f: KeptFinish): Promise<void> {
    this.pickKept(await this.state.keepFinish({ ...f.finish, name: `${f.finish.name}, copy`.slice(0, 80) }));
  }

  private pickKept(kept: KeptFinish | null): void {
    if (!kept) return;
    this.picked.set(kept.id);
    const chosen = (): Element | null => this.list().nativeElement.querySelector('[aria-selected=true]');
    afterNextRender(() => chosen()?.scrollIntoView({ block: 'nearest', inline: 'nearest' }), {
      injector: this.injector,
    });
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

/** What a finish puts around its picture, in a few words. */
function aroundWords(around: Finish['around']): string {
  if (!around) return 'nothing around';
  const words = around.filter((p) => p.item.text && !isDecoration(p.item)).length;
  const shapes = around.length - words;
  return [words > 0 ? (words > 1 ? 'words' : 'name') : '', shapes > 0 ? (shapes > 1 ? 'shapes' : 'shape') : '']
    .filter(Boolean)
    .join(' and ')
    .concat(' around');
}

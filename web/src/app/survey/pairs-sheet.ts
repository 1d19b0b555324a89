import { ChangeDetectionStrategy, Component, computed, type ElementRef, signal, viewChild } from '@angular/core';
import type { Frame } from '@gable/core';
import { TryCanvas } from '../paint/try-canvas';
import { Choice } from '../ui/choice';
import { Icon } from '../ui/icon';
import type { Pair } from './survey-state';

type Way = 'as-asked' | 'nearest' | 'not';
const WAYS = {
  plain: [
    { value: 'as-asked', label: 'Apply' },
    { value: 'not', label: 'Skip' },
  ],
  nearest: [
    { value: 'nearest', label: 'Closest that suits' },
    { value: 'as-asked', label: 'Apply anyway' },
    { value: 'not', label: 'Skip' },
  ],
} as const;

/** A change of many frames, before and after side by side, before it is made; each can be left out. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-pairs-sheet',
  imports: [Choice, Icon, TryCanvas],
  template: `<dialog #dialog class="sheet w-[860px] max-w-[94vw]" aria-labelledby="pairs-title" (close)="pairs.set([])">
    <div class="mb-1 flex items-center">
      <h2 id="pairs-title" class="grow text-[21px]">{{ title() }}</h2>
      <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="close()">
        <gable-icon name="close" />
      </button>
    </div>
    <p class="mb-3 text-soft">{{ lead() }}</p>
    <ul class="-mx-2 grid max-h-[52vh] grid-cols-2 gap-x-6 gap-y-1 overflow-y-auto px-2" aria-label="Before and after">
      @for (p of pairs(); track p.row.n) {
        <li class="flex flex-col gap-1 border-b border-line py-2" [class.opacity-55]="way(p) === 'not'">
          <div class="flex items-center gap-2">
            <span class="figure w-8 shrink-0 text-[13px] font-semibold">{{ p.row.n }}</span>
            <gable-try-canvas
              class="h-[92px] w-[132px]"
              [key]="p.row.key"
              [frame]="p.row.frame"
              [width]="132"
              [height]="92"
            />
            <span class="text-soft" aria-hidden="true">→</span>
            <gable-try-canvas
              class="h-[92px] w-[132px]"
              [key]="p.row.key"
              [frame]="afterOf(p)"
              [width]="132"
              [height]="92"
            />
          </div>
          @if (p.concern) {
            <p class="text-[12.5px] leading-tight text-warn-text">{{ p.concern.words }}</p>
          }
          <gable-choice
            [label]="'Picture ' + p.row.n"
            [quiet]="true"
            [options]="p.concern?.nearest ? ways.nearest : ways.plain"
            [value]="way(p)"
            (changed)="setWay(p, $event)"
          />
        </li>
      }
    </ul>
    <div class="mt-4 flex items-center justify-end gap-2">
      <span class="grow text-[13px] text-soft">One undo takes all of it back.</span>
      <button type="button" class="act" (click)="close()">Cancel</button>
      <button type="button" class="act act-main" [disabled]="count() === 0" (click)="take()">
        {{ entry() }}
      </button>
    </div>
  </dialog>`,
})
export class PairsSheet {
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  protected readonly ways = WAYS;
  protected readonly pairs = signal<readonly Pair[]>([]);
  protected readonly title = signal('');
  private readonly verb = signal('');
  private readonly chosen = signal<ReadonlyMap<number, Way>>(new Map());
  protected readonly count = computed(() => this.pairs().filter((p) => this.way(p) !== 'not').length);
  protected readonly entry = computed(() => {
    const n = this.count();
    return `${this.verb()} ${n === 1 ? 'one frame' : `${n} frames`}`;
  });
  protected readonly lead = computed(() => {
    const unsuited = this.pairs().filter((p) => p.concern).length;
    if (unsuited === 0) return 'Before on the left, after on the right.';
    return unsuited === 1
      ? 'It does not suit one of them. The closest that does is selected.'
      : `It does not suit ${unsuited} of them. The closest that does is selected.`;
  });
  private done: (frames: Frame[]) => void = () => undefined;

  /** @param verb for the button, as in “Mend 3 frames” */
  open(title: string, verb: string, pairs: readonly Pair[], done: (frames: Frame[]) => void): void {
    this.title.set(title);
    this.verb.set(verb);
    this.chosen.set(new Map());
    // Those that want a look come first.
    this.pairs.set([...pairs].sort((a, b) => Number(!!b.concern) - Number(!!a.concern)));
    this.done = done;
    this.dialog().nativeElement.showModal();
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  protected way(p: Pair): Way {
    return this.chosen().get(p.row.n) ?? (p.concern?.nearest ? 'nearest' : 'as-asked');
  }

  protected setWay(p: Pair, way: Way): void {
    this.chosen.update((now) => new Map(now).set(p.row.n, way));
  }

  protected afterOf(p: Pair): Frame {
    return this.way(p) === 'nearest' && p.concern?.nearest ? p.concern.nearest : p.after;
  }

  protected take(): void {
    const frames = this.pairs()
      .filter((p) => this.way(p) !== 'not')
      .map((p) => this.afterOf(p));
    this.close();
    this.done(frames);
  }
}

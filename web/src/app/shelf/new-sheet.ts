import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { GableError, parsePage, POINTS } from '@gable/core';
import type { NewWork } from '@gable/contract';
import { Router } from '@angular/router';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import { Choice } from '../ui/choice';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';

type Kind = NewWork['kind'];

const KINDS = [
  { value: 'paper', label: 'Paper' },
  { value: 'slides', label: 'Slides' },
  { value: 'graphic', label: 'Graphic' },
  { value: 'web', label: 'Web page' },
] as const;

/** Sizes by kind: what `parsePage` reads, and what it is called. */
const SIZES: Record<Kind, readonly { value: string; label: string }[]> = {
  paper: [
    { value: 'A4', label: 'A4' },
    { value: 'A4 landscape', label: 'A4 landscape' },
    { value: 'A5', label: 'A5' },
    { value: 'A3', label: 'A3' },
    { value: 'letter', label: 'Letter' },
  ],
  slides: [
    { value: '16:9', label: '16 : 9' },
    { value: '4:3', label: '4 : 3' },
  ],
  graphic: [
    { value: '1080x1080px', label: 'Square' },
    { value: '1080x1350px', label: 'Portrait' },
    { value: '1920x1080px', label: 'Landscape' },
    { value: '1600x400px', label: 'Banner' },
    { value: 'own', label: 'Own size' },
  ],
  web: [{ value: 'A4', label: 'As wide as its window' }],
};
/** Longest side of the small page that is drawn, in CSS pixels. */
const SIDE = 92;

/** A work of one page of a size: empty, or with the pictures of a work that has no page. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-new-sheet',
  imports: [Choice, Icon, Notice],
  template: `<dialog #dialog class="sheet w-[560px]" aria-labelledby="new-title">
    <div class="mb-4 flex items-center">
      <h2 id="new-title" class="grow text-[21px]">{{ of() ? 'Make a page' : 'New' }}</h2>
      <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="close()">
        <gable-icon name="close" />
      </button>
    </div>
    @if (problem(); as p) {
      <gable-notice class="mb-3 block" [problem]="p" (closed)="problem.set(null)" />
    }
    <gable-choice label="Kind" [options]="kinds()" [value]="kind()" (changed)="choose($event)" />
    <div class="relative my-4 flex h-[124px] items-center justify-center rounded-lg bg-paper">
      <span class="figure absolute bottom-1.5 right-3 text-[12px] text-soft">{{ words() }}</span>
      @if (page(); as p) {
        <span
          class="bg-white shadow-[0_1px_6px_rgb(34_48_47/24%)]"
          [style.width.px]="p.width"
          [style.height.px]="p.height"
        ></span>
      }
    </div>
    <gable-choice label="Size" [options]="sizes()" [value]="size()" (changed)="size.set($event)" />
    @if (size() === 'own') {
      <label class="mt-2 flex items-center justify-between gap-3">
        <span class="text-soft">Width × height</span>
        <input
          #own
          type="text"
          class="entry w-[180px]"
          aria-describedby="own-why"
          [attr.aria-invalid]="why() !== null"
          [value]="typed()"
          (input)="typed.set(own.value)"
          (keydown.enter)="begin()"
        />
      </label>
      <p id="own-why" class="mt-1 text-right text-[13px]" [class.text-warn]="why() !== null" [class.text-soft]="!why()">
        {{ why() ?? 'For example 1200x630px or 90mmx55mm' }}
      </p>
    }
    <p class="mt-3 text-[13px] text-soft">
      @if (of()) {
        All pictures are laid out on the page as you framed them. This row of pictures stays on the shelf.
      } @else {
        {{ kind() === 'web' ? 'You get an HTML file.' : 'Choose the kind of file when you hand it over.' }}
      }
    </p>
    <div class="mt-4 flex justify-end gap-2">
      <button type="button" class="act" (click)="close()">Cancel</button>
      <button type="button" class="act act-main" [disabled]="busy() || !page()" (click)="begin()">Create</button>
    </div>
  </dialog>`,
})
export class NewSheet {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  /** The work whose pictures come onto the page. */
  readonly of = input<string>();
  /** Right before the page is made: has all been saved that it is made of? */
  readonly ready = input<() => Promise<boolean>>(() => Promise.resolve(true));
  protected readonly kinds = computed(() => (this.of() === undefined ? KINDS : KINDS.slice(0, -1)));
  protected readonly kind = signal<Kind>('paper');
  protected readonly sizes = computed(() => SIZES[this.kind()]);
  protected readonly size = signal('A4');
  protected readonly typed = signal('1200x630px');
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  private readonly wished = computed(() => (this.size() === 'own' ? this.typed() : this.size()));
  private readonly read = computed(() => {
    try {
      return { size: parsePage(this.wished()), why: null };
    } catch (e) {
      if (!(e instanceof GableError)) throw e;
      return { size: null, why: e.remedy };
    }
  });
  /** Why the size that was typed is none. */
  protected readonly why = computed(() => this.read().why);
  /** The size in the unit of its kind. */
  protected readonly words = computed(() => {
    const { size } = this.read();
    const unit = ({ paper: 'mm', slides: 'in', graphic: 'px', web: null } as const)[this.kind()];
    const number = new Intl.NumberFormat(undefined, { maximumFractionDigits: 1 });
    const of = (points: number): string => number.format(points / POINTS[unit!]);
    return size && unit ? `${of(size.width)} × ${of(size.height)} ${unit}` : '';
  });
  /** The page as it is drawn, small. */
  protected readonly page = computed(() => {
    const { size } = this.read();
    const k = size && SIDE / Math.max(size.width, size.height);
    return size && k && { width: size.width * k, height: size.height * k };
  });

  open(): void {
    this.problem.set(null);
    this.dialog().nativeElement.showModal();
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  protected choose(kind: Kind): void {
    this.kind.set(kind);
    this.size.set(SIZES[kind][0]!.value);
  }

  protected async begin(): Promise<void> {
    if (this.busy() || !this.page()) return;
    this.busy.set(true);
    try {
      if (!(await this.ready()())) return;
      const of = this.of();
      const wish = { kind: this.kind(), page: this.wished(), ...(of !== undefined && { of }) };
      const { id } = await firstValueFrom(this.api.newWork(wish));
      this.close();
      await this.router.navigate(['/work', id]);
    } catch (e) {
      this.problem.set(toProblem(e));
    } finally {
      this.busy.set(false);
    }
  }
}

import {
  ChangeDetectionStrategy,
  afterNextRender,
  Component,
  computed,
  type ElementRef,
  inject,
  Injector,
  signal,
  viewChild,
} from '@angular/core';
import { TryCanvas } from '../paint/try-canvas';
import { TrySheet } from '../paint/try-sheet';
import { Icon } from '../ui/icon';
import { gradually } from '../ui/gradually';
import { columnsOf, walk } from '../ui/roving';
import { PICTURES } from '../intake/files';
import { Images } from '../work/images';
import { WorkStore } from '../work/work-store';
import { Edit } from './edit';
import { Families } from './families';
import type { Try } from './tries';
import { TryFace } from './try-face';
import { TrySource } from './try-source';

/** Side by side there is room for this many. */
const MAX_HELD = 4;
const FIRST = 24;
const MORE = 16;

/** The whole screen of tries for one picture; two to four of them held side by side on the page's own ground. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-wall',
  imports: [Families, Icon, TryCanvas, TryFace, TrySheet],
  template: `<dialog
    #dialog
    class="m-0 h-dvh max-h-none w-screen max-w-none flex-col bg-paper px-6 pb-4 pt-3 text-ink open:flex"
    aria-labelledby="wall-title"
    (close)="shut()"
    (keydown)="outer($event)"
  >
    @if (up()) {
      <div class="flex items-center gap-5 pb-2">
        <h2 id="wall-title" class="shrink-0 text-[22px]">{{ title() }}</h2>
        @if (edit.step().name === 'shape') {
          <gable-families
            class="grow"
            [family]="source.filter().family"
            [recent]="source.filter().recent.length > 0"
            (chosen)="source.narrow({ family: $event })"
          />
          <label class="flex shrink-0 items-center gap-2"
            ><span class="sr-only">Ratio of the shape</span>
            <select class="picker" (change)="source.narrow({ ratio: $any($event.target).value })">
              @for (r of ratios; track r.value) {
                <option [value]="r.value" [selected]="r.value === source.filter().ratio">{{ r.label }}</option>
              }
            </select></label
          >
          <label class="flex items-center gap-1.5 border-b border-ink/40 pb-0.5">
            <gable-icon name="search" [size]="15" class="text-soft" />
            <span class="sr-only">Shapes whose name holds</span>
            <input
              #search
              type="search"
              class="w-28 bg-transparent outline-none"
              placeholder="by name"
              autocomplete="off"
              [value]="source.filter().words"
              (input)="source.narrow({ words: search.value })"
              (keydown.escape)="close()"
            />
          </label>
          <button type="button" class="act act-line h-8 shrink-0 whitespace-nowrap" (click)="file.click()">
            <gable-icon name="add" [size]="15" />Your own shape
          </button>
          <input
            #file
            type="file"
            class="hidden"
            tabindex="-1"
            aria-label="Drawing or picture to make a shape of"
            [accept]="accept"
            (change)="add(file)"
          />
        } @else {
          <span class="grow"></span>
        }
        <button
          type="button"
          class="act px-2"
          aria-label="Back to the board"
          title="Back to the board"
          (click)="close()"
        >
          <gable-icon name="close" />
        </button>
      </div>
      <div class="flex min-h-0 grow gap-5">
        <div
          #list
          [gableTrySheet]="names()"
          role="listbox"
          aria-label="Tries"
          class="-ml-1 grid min-h-0 min-w-0 grow auto-rows-min grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-2 overflow-y-auto pb-4 pl-1 pr-1 pt-1"
          (keydown)="key($event)"
        >
          @for (t of present(); track t.id; let i = $index) {
            <div
              role="option"
              [id]="'wall-' + t.id"
              [attr.aria-selected]="t.current"
              [tabindex]="i === active() ? 0 : -1"
              class="group relative flex cursor-pointer flex-col rounded-lg border border-transparent px-2 pb-2 pt-2.5 hover:bg-sheet focus-visible:bg-sheet aria-selected:border-mark aria-selected:bg-sheet"
              (click)="take(t)"
              (focus)="active.set(i)"
            >
              <gable-try-face [of]="t" [key]="edit.key()" [width]="132" [height]="112" />
              <span
                class="absolute right-1.5 top-1.5 z-10 rounded-md bg-raised px-1.5 py-0.5 text-[12px] opacity-0 shadow-sm group-hover:opacity-100 group-focus-visible:opacity-100"
                [class.opacity-100]="isHeld(t)"
                [class.text-mark]="isHeld(t)"
                [attr.data-hold]="t.id"
                (click)="hold(t); $event.stopPropagation()"
                >{{ isHeld(t) ? 'Comparing' : 'Compare' }}</span
              >
            </div>
          } @empty {
            <p class="col-span-full py-10 text-center text-soft">Nothing goes by that name here.</p>
          }
        </div>
        @if (held().length > 0) {
          <section
            class="flex w-[44%] shrink-0 flex-col rounded-xl border border-line bg-white p-4"
            aria-label="Side by side"
          >
            <div
              class="grid min-h-0 grow gap-3"
              [class.grid-cols-2]="held().length > 1"
              [class.grid-rows-2]="held().length > 2"
            >
              @for (t of held(); track t.id) {
                <div class="flex min-h-0 min-w-0 flex-col items-center justify-center">
                  <gable-try-canvas
                    [style.width.px]="side()"
                    [style.height.px]="side()"
                    [key]="edit.key()"
                    [frame]="t.frame"
                    [width]="side()"
                    [height]="side()"
                    [margin]="6"
                  />
                  <p class="mt-2 flex items-center gap-3 text-[13px] text-[#22302f]">
                    <strong class="font-semibold">{{ t.label }}</strong>
                    <button
                      type="button"
                      class="font-semibold text-[#a94124] underline underline-offset-2"
                      [attr.aria-label]="'Use ' + t.label"
                      (click)="take(t)"
                    >
                      Use it
                    </button>
                    <button
                      type="button"
                      class="text-[#4a5550] underline underline-offset-2"
                      [attr.aria-label]="'Remove ' + t.label"
                      (click)="hold(t)"
                    >
                      Remove
                    </button>
                  </p>
                </div>
              }
            </div>
            @if (held().length === 1) {
              <p class="mt-2 text-center text-[13px] text-[#4a5550]">Compare another to see both at the same size.</p>
            }
          </section>
        }
      </div>
      <p class="pt-1 text-[12.5px] text-soft">
        Click or Enter takes one · H holds it beside others, up to four · Esc goes back
      </p>
    }
  </dialog>`,
})
export class Wall {
  protected readonly state = inject(WorkStore);
  private readonly images = inject(Images);
  protected readonly edit = inject(Edit);
  protected readonly source = inject(TrySource);
  private readonly injector = inject(Injector);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  private readonly list = viewChild<ElementRef<HTMLElement>>('list');
  protected readonly accept = PICTURES;
  protected readonly ratios = [
    { value: 'any', label: 'Any ratio' },
    { value: 'locked', label: 'Ratio of its own' },
    { value: 'free', label: 'Takes any ratio' },
  ] as const;
  /** Nothing is painted while the wall is down. */
  protected readonly up = signal(false);
  protected readonly active = signal(0);
  /** Held tries stay held when the filter no longer shows them. */
  protected readonly held = signal<readonly Try[]>([]);
  private readonly shown = gradually(() => (this.up() ? this.source.tries().length : 0), FIRST, MORE);
  protected readonly present = computed(() => this.source.tries().slice(0, this.shown.count()));
  protected readonly names = computed(() =>
    this.present()
      .map((t) => t.id)
      .join(' '),
  );
  protected readonly title = computed(() => {
    const label = this.edit.step().label;
    return this.edit.step().name === 'shape' ? 'All shapes' : label;
  });
  protected readonly side = computed(() => (this.held().length > 1 ? 232 : 400));

  open(): void {
    this.state.preview(null);
    this.held.set([]);
    const at = Math.max(
      0,
      this.source.tries().findIndex((t) => t.current),
    );
    this.shown.again(at + 1);
    this.active.set(at);
    this.up.set(true);
    this.images.covered.set(true);
    this.dialog().nativeElement.showModal();
    afterNextRender(() => this.option(at)?.focus(), { injector: this.injector });
  }

  close(): void {
    this.dialog().nativeElement.close();
  }

  protected shut(): void {
    this.up.set(false);
    this.images.covered.set(false);
  }

  protected isHeld(t: Try): boolean {
    return this.held().some((h) => h.id === t.id);
  }

  protected hold(t: Try): void {
    this.held.update((all) => (this.isHeld(t) ? all.filter((h) => h.id !== t.id) : [...all, t].slice(-MAX_HELD)));
  }

  protected take(t: Try): void {
    this.source.take(t);
    this.close();
  }

  protected add(input: HTMLInputElement): void {
    const file = input.files?.[0];
    input.value = '';
    if (file) void this.source.addSilhouette(file);
  }

  private option(at: number): HTMLElement | undefined {
    return this.list()?.nativeElement.querySelectorAll<HTMLElement>('[role=option]')[at];
  }

  /** The screen behind must not hear what is typed here. */
  protected outer(event: KeyboardEvent): void {
    event.stopPropagation();
  }

  protected key(event: KeyboardEvent): void {
    const tries = this.present();
    const at = Math.min(this.active(), tries.length - 1);
    const t = tries[at];
    if (!t || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      this.take(t);
      return;
    }
    if (event.key.toLowerCase() === 'h') {
      event.preventDefault();
      this.hold(t);
      return;
    }
    const options = this.list()!.nativeElement.querySelectorAll<HTMLElement>('[role=option]');
    const to = walk(event, at, tries.length, columnsOf(options));
    if (to === null) return;
    this.active.set(to);
    options[to]?.focus();
  }
}

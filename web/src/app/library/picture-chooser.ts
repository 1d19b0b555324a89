import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { catchError, combineLatest, debounceTime, of, switchMap } from 'rxjs';
import { Api } from '../api/api';
import type { Problem } from '../api/problem';
import type { LibraryPicture } from '@gable/contract';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';
import { columnsOf, walk } from '../ui/roving';
import { MEDIA } from '../intake/files';
import { shownTime } from '../video/time';
import { Intake } from '../intake/intake';

/** Pictures of the stock and one's own earlier ones, found by word; or from disk. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-picture-chooser',
  imports: [Icon, Notice],
  template: `<dialog
    #dialog
    class="sheet h-[620px] max-h-[92vh] w-[880px] max-w-[94vw] flex-col open:flex"
    aria-labelledby="chooser-title"
    (close)="picked.set([])"
  >
    <div class="flex items-center gap-4">
      <h2 id="chooser-title" class="grow text-[21px]">{{ many() ? 'Choose pictures' : 'Choose a picture' }}</h2>
      <button type="button" class="act act-line" (click)="disk.click()">
        <gable-icon name="open" [size]="16" />From this computer
      </button>
      @if (many()) {
        <button type="button" class="act act-line" (click)="folder.click()">A whole folder</button>
      }
      <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="close()">
        <gable-icon name="close" />
      </button>
    </div>
    <input
      #disk
      type="file"
      class="hidden"
      tabindex="-1"
      aria-label="Pictures to take"
      [accept]="accept"
      [multiple]="many()"
      (change)="fromDisk(disk)"
    />
    <input
      #folder
      type="file"
      class="hidden"
      tabindex="-1"
      aria-label="Folder of pictures to take"
      webkitdirectory
      (change)="fromDisk(folder)"
    />
    <label class="my-4 flex items-center gap-2 border-b border-ink/40 pb-1.5">
      <gable-icon name="search" class="text-soft" />
      <span class="sr-only">Stock pictures and your own pictures</span>
      <input
        #search
        type="search"
        class="w-full bg-transparent text-[15px] outline-none"
        placeholder="Search by word: kiln, portrait, vase …"
        autocomplete="off"
        (input)="words.set(search.value)"
        (keydown.arrowdown)="intoList($event)"
        (keydown.escape)="close()"
      />
    </label>
    @if (problem(); as p) {
      <gable-notice class="mb-3 block" [problem]="p" (closed)="problem.set(null)" />
    }
    <div
      #list
      role="listbox"
      aria-label="Pictures found"
      [attr.aria-multiselectable]="many()"
      class="-mx-2 grid min-h-0 grow auto-rows-min grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-2 overflow-y-auto px-2"
      (keydown)="key($event)"
    >
      @for (p of found(); track p.sha256; let i = $index) {
        <div
          role="option"
          [tabindex]="i === active() ? 0 : -1"
          [attr.aria-selected]="isPicked(p)"
          class="flex cursor-pointer flex-col rounded-lg border border-transparent p-2 hover:bg-raised aria-selected:border-mark aria-selected:bg-raised"
          (click)="pick(p, i)"
        >
          <img
            [src]="api.keptUrl(p.sha256, 256)"
            alt=""
            loading="lazy"
            class="mb-1.5 h-[104px] w-full object-contain"
          />
          <span class="truncate text-[13px] font-semibold leading-tight">{{ p.name }}</span>
          <span class="figure truncate text-[12px] text-soft"
            >{{ p.video ? 'video ' + time(p.video.seconds) : p.size.width + ' × ' + p.size.height
            }}{{ p.kind === 'stock' ? ' · stock' : '' }}</span
          >
        </div>
      } @empty {
        @if (found()) {
          <p class="col-span-full py-6 text-center text-soft">
            No picture goes by that word. Try another, or take one from this computer.
          </p>
        }
      }
    </div>
    <div class="mt-4 flex items-center justify-end gap-3">
      <p class="grow text-[13px] text-soft" role="status">{{ told() }}</p>
      @if (many()) {
        <button type="button" class="act act-main" [disabled]="picked().length === 0" (click)="done(picked())">
          {{ picked().length > 1 ? 'Lay out ' + picked().length + ' pictures' : 'Use it' }}
        </button>
      }
    </div>
  </dialog>`,
})
export class PictureChooser {
  protected readonly api = inject(Api);
  private readonly intake = inject(Intake);
  /** May several be chosen at once? */
  readonly many = input(false);
  readonly chosen = output<readonly LibraryPicture[]>();
  protected readonly time = shownTime;
  protected readonly accept = MEDIA;
  protected readonly words = signal('');
  protected readonly picked = signal<readonly LibraryPicture[]>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly told = signal('');
  protected readonly active = signal(0);
  /** Counts up each time the dialog opens, so that new pictures are found. */
  private readonly opened = signal(0);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  private readonly search = viewChild.required<ElementRef<HTMLInputElement>>('search');
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');

  private readonly answer = toSignal(
    combineLatest([toObservable(this.words), toObservable(this.opened)]).pipe(
      debounceTime(120),
      switchMap(([words, opened]) =>
        opened === 0 ? of(null) : this.api.pictures(words).pipe(catchError(() => of([] as LibraryPicture[]))),
      ),
    ),
    { initialValue: null },
  );
  protected readonly found = computed(() => this.answer());

  open(): void {
    this.opened.update((n) => n + 1);
    this.told.set('');
    this.problem.set(null);
    this.dialog().nativeElement.showModal();
    this.search().nativeElement.select();
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  protected isPicked(p: LibraryPicture): boolean {
    return this.picked().some((q) => q.sha256 === p.sha256);
  }

  protected pick(p: LibraryPicture, index: number): void {
    this.active.set(index);
    if (!this.many()) this.done([p]);
    else this.picked.update((all) => (this.isPicked(p) ? all.filter((q) => q.sha256 !== p.sha256) : [...all, p]));
  }

  protected done(pictures: readonly LibraryPicture[]): void {
    if (pictures.length === 0) return;
    this.close();
    this.chosen.emit(pictures);
  }

  protected intoList(event: Event): void {
    event.preventDefault();
    this.list().nativeElement.querySelector<HTMLElement>('[role=option]')?.focus();
  }

  protected key(event: KeyboardEvent): void {
    const found = this.found() ?? [];
    const at = this.active();
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      if (found[at]) this.pick(found[at], at);
      return;
    }
    const options = this.list().nativeElement.querySelectorAll<HTMLElement>('[role=option]');
    const to = walk(event, at, found.length, columnsOf(options));
    if (to === null) return;
    this.active.set(to);
    options[to]?.focus();
  }

  protected async fromDisk(input: HTMLInputElement): Promise<void> {
    const files = [...(input.files ?? [])];
    input.value = '';
    if (files.length === 0) return;
    this.told.set('Taking …');
    const { pictures, problem } = await this.intake.keep(files, (n) =>
      this.told.set(files.length > 1 ? `Taking ${n} of ${files.length} …` : 'Taking …'),
    );
    this.told.set('');
    this.problem.set(problem);
    if (!problem) this.done(pictures);
    else if (pictures.length > 0) {
      this.opened.update((n) => n + 1);
      this.picked.set(this.many() ? pictures : []);
    }
  }
}

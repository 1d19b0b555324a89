import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { fontsIn, isVeil, type Item } from '@gable/core';
import { finalize, firstValueFrom, type Subscription } from 'rxjs';
import { Api } from '../api/api';
import { toProblem } from '../api/problem';
import {
  PAGE_BY_PAGE,
  type FrameFidelity,
  type HandedAs,
  type HandedKind,
  type Job,
  type JobWish,
  type ScreensWish,
  type ShotPair,
  type SlimWish,
} from '@gable/contract';
import { OwnFonts } from '../library/own-fonts';
import { Choice } from '../ui/choice';
import { KindList, usualKind, usualPpi } from './kind-list';
import { fetchFile } from '../ui/download';
import { Icon } from '../ui/icon';
import { shownBytes, shownList } from '../ui/numbers';
import { Tick } from '../ui/tick';
import { addedItems, addedChanges, changedFrames, isChanged, takenFrame, type WorkModel } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { fidelityWords } from './fidelity-words';
import { Screens } from './screens';
import { PageShots } from '../page/page-shots';

const FORMATS = [
  { value: 'png', label: 'PNG' },
  { value: 'jpg', label: 'JPEG' },
  { value: 'webp', label: 'WebP' },
  { value: 'avif', label: 'AVIF' },
  { value: 'svg', label: 'SVG' },
] as const;
const DENSITIES = [
  { value: '150', label: '150 ppi, for screens' },
  { value: '220', label: '220 ppi, for home printers' },
  { value: '300', label: '300 ppi, for print' },
] as const;
const NO_SLIMMING: SlimWish = { crop: false, ppi: null, strip: false };

type Format = (typeof FORMATS)[number]['value'];
type What = 'file' | 'set' | 'proof';
const MORE = [
  { value: 'set', label: 'Pictures' },
  { value: 'proof', label: 'Proof sheet' },
] as const;
const TAKE: Record<What, string> = { file: 'Download file', set: 'Download pictures', proof: 'Download PDF' };

/** What is written, said before it is written; how far that is, and how to stop it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-hand-over',
  imports: [Choice, Icon, KindList, NgTemplateOutlet, Tick],
  template: `<dialog #dialog class="sheet w-[520px]" aria-labelledby="sheet-title" (close)="look?.unsubscribe()">
    @if (state.model(); as m) {
      <ng-template #lost>
        <div class="mb-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2 text-[13px]">
          <p>
            This kind of file cannot hold the following. Gable paints it into the picture and keeps the original in the
            file.
          </p>
          <ul class="mt-1 max-h-40 overflow-y-auto" aria-label="Painted into the picture">
            @for (f of painted(); track f.n) {
              <li>
                <strong class="font-semibold">Picture {{ f.n }}</strong
                >: {{ f.words }}
              </li>
            }
          </ul>
        </div>
      </ng-template>
      <ng-template #videos>
        @if (stills(); as words) {
          <p class="mb-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2 text-[13px]">{{ words }}</p>
        }
      </ng-template>
      <div class="mb-3 flex items-baseline justify-between gap-4">
        <h2 id="sheet-title" class="text-[21px]">Hand over</h2>
        <gable-choice label="What" [quiet]="true" [options]="whats()" [value]="what()" (changed)="asked.set($event)" />
      </div>
      @if (what() === 'set') {
        <p class="mb-3">Each frame as a picture, in a zip with a list and the HTML for a page.</p>
        <gable-choice
          class="mb-2"
          label="Format"
          [options]="formats"
          [value]="format()"
          (changed)="format.set($event)"
        />
        @if (format() !== 'svg') {
          <label class="mb-2 flex items-baseline justify-between gap-3">
            <span class="text-soft">Widths in pixels</span>
            <input
              class="entry !w-[170px]"
              [value]="widthsText()"
              [attr.aria-invalid]="widths() === null || null"
              (input)="typeWidths($event)"
            />
          </label>
          @if (several()) {
            <label class="mb-2 flex items-baseline justify-between gap-3">
              <span class="text-soft">Width on the page</span>
              <input
                class="entry !w-[170px]"
                placeholder="100vw, or 32em"
                [value]="sizes()"
                (input)="sizes.set($any($event.target).value.trim())"
              />
            </label>
          }
          <p class="mb-4 text-[13px] text-soft">
            {{
              several()
                ? 'A web page chooses among these widths (srcset).'
                : 'Type several widths, such as 480, 960, for a web page.'
            }}
          </p>
        } @else {
          <p class="mb-4 text-[13px] text-soft">Each SVG holds its whole picture and can be shown at any size.</p>
        }
      } @else if (what() === 'proof') {
        <p class="mb-5">
          {{
            count() === 0
              ? 'No picture has changed: the sheet would be empty.'
              : 'Every changed picture before and after, four to a page' +
                (pages() ? ', then the whole pages they are on' : '') +
                ', as one PDF.'
          }}
        </p>
      } @else if (m.work.begun; as begun) {
        <gable-kind-list
          [begun]="begun"
          [kinds]="kinds()"
          [value]="handedAs()"
          [ppi]="ppi()"
          [pages]="m.work.sheets?.length ?? 1"
          [disabled]="running()"
          (chosen)="handedAs.set($event)"
          (resolved)="ppi.set($event)"
        />
        @if ((painted()?.length ?? 0) > 0) {
          <ng-container [ngTemplateOutlet]="lost" />
        }
        <ng-container [ngTemplateOutlet]="videos" />
      } @else if (count() === 0 && !rearranged()) {
        <p class="mb-3">
          No picture has changed. You get the same {{ isFolder() ? 'files' : 'file' }} back, byte for byte{{
            isFolder() ? ', in a zip' : ''
          }}.
        </p>
      } @else {
        <p class="mb-3">
          {{ rearranged() }}
          @if (count() > 0) {
            <strong class="font-semibold">{{ count() }} of {{ m.work.pictures.length }} pictures</strong>
            {{ count() === 1 ? 'gets its' : 'get their' }} new frame. {{ nativeWords() }}
          }
        </p>
        @if (painted(); as list) {
          @if (list.length > 0) {
            <ng-container [ngTemplateOutlet]="lost" />
          }
          <ng-container [ngTemplateOutlet]="videos" />
        } @else {
          <p class="mb-3 text-soft" role="status">Checking what this kind of file can hold …</p>
        }
        <p class="mb-3 text-soft">
          {{ slimming().crop ? '' : 'The whole pictures stay in the file.' }} Text, styles and all other parts stay byte
          for byte.
          @if (pages()) {
            <button type="button" class="word" (click)="see()">See the pages side by side</button>
          }
        </p>
      }
      @if (what() === 'file' && groups()) {
        <div class="mb-4 border-t border-line pt-3 [&_label>span]:text-ink">
          <gable-tick
            label="Group each picture with what stands around it"
            [on]="grouped()"
            (changed)="grouped.set($event)"
          />
          <p class="text-[12.5px] text-soft">Other programs then move them together.</p>
        </div>
      }
      @if (what() === 'file' && slims() !== 'none') {
        <fieldset class="mb-4 border-t border-line pt-3 [&_label>span]:text-ink" [disabled]="running()">
          <legend class="sr-only">Make the file smaller</legend>
          <p class="mb-2 flex items-baseline justify-between gap-3" aria-hidden="true">
            <strong class="font-semibold">Make it smaller</strong>
            @if (size(); as bytes) {
              <span class="figure text-[13px] text-soft">{{ shownBytes(bytes) }} now</span>
            }
          </p>
          @if (slims() === 'all') {
            <gable-tick
              label="Cut off what no frame shows"
              [on]="slimming().crop"
              (changed)="slimBy({ crop: $event })"
            />
            <p class="mb-2 text-[12.5px] text-soft">What is cut off cannot be brought back in that file.</p>
            <div class="flex items-center gap-3">
              <gable-tick
                class="grow"
                label="Reduce pictures to the resolution they need"
                [on]="slimming().ppi !== null"
                (changed)="slimBy({ ppi: $event ? 220 : null })"
              />
            </div>
            @if (slimming().ppi; as ppi) {
              <gable-choice
                class="mb-1 mt-1.5"
                label="Resolution"
                [options]="densities"
                [value]="'' + ppi"
                (changed)="slimBy({ ppi: +$event })"
              />
            }
            <p class="mb-2 text-[12.5px] text-soft">Pictures would look soft if they were made larger later.</p>
          }
          <gable-tick
            label="Remove place, time, camera and names"
            [on]="slimming().strip"
            (changed)="slimBy({ strip: $event })"
          />
          <p class="text-[12.5px] text-soft">The pixels stay as they are.</p>
        </fieldset>
      }
      @if (what() === 'file' && isSite()) {
        <fieldset class="mb-4 border-t border-line pt-3 [&_label>span]:text-ink" [disabled]="running()">
          <legend class="sr-only">Make the pages faster</legend>
          <p class="mb-2" aria-hidden="true"><strong class="font-semibold">Make the pages faster</strong></p>
          <gable-tick label="Add smaller copies of pictures" [on]="copies()" (changed)="copies.set($event)" />
          <p class="mb-2 text-[12.5px] text-soft">In WebP, beside the pictures. Browsers fetch the one they need.</p>
          <gable-tick label="Load pictures further down later" [on]="lazy()" (changed)="lazy.set($event)" />
          <p class="text-[12.5px] text-soft">
            They are fetched once readers come near; the largest at the top comes first.
          </p>
        </fieldset>
      }
      @if (shapes().length > 0 && what() === 'file') {
        <div class="mb-3 flex items-center gap-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2">
          <p class="grow">
            {{
              shapes().length === 1
                ? '1 picture becomes a drawing shape'
                : shapes().length + ' pictures become drawing shapes'
            }}
            in this file. Programs that convert it may leave shapes out.
          </p>
          @if (plainable().length > 0) {
            <button type="button" class="act act-line shrink-0" [disabled]="running()" (click)="keepPlain()">
              Crop {{ plainable().length }} without outline
            </button>
          }
        </div>
      }
      @if (m.work.signed && (count() > 0 || rearranged()) && what() === 'file') {
        <p class="mb-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2">
          This file is signed. Changing it breaks the signature; sign it again afterwards.
        </p>
      }
      @if (what() === 'file') {
        <p class="figure mb-5 truncate text-[13px]">{{ m.work.name }}{{ ending() }}</p>
      }
      @if (made(); as j) {
        <p class="mb-4 rounded-md border-l-[3px] border-good bg-raised px-3 py-2" role="status">
          <strong class="font-semibold">{{ shownBytes(j.size!) }}</strong>{{
            size() === null ? '' : ' instead of ' + shownBytes(size()!)
          }}: {{ j.said }}.
        </p>
      } @else if (measuring()) {
        <p class="mb-4 text-[13px] text-soft" role="status">Measuring the pages …</p>
      } @else if (job(); as j) {
        <div class="mb-4 flex items-center gap-3">
          <progress class="slide h-1.5 grow rounded" [value]="j.total ? j.done : 1" [max]="j.total || 1"></progress>
          <span class="text-[13px] text-soft" role="status">{{ jobWords(j) }}</span>
        </div>
      }
      <div class="flex justify-end gap-2">
        @if (made()) {
          <button type="button" class="act act-main" (click)="close()">Done</button>
        } @else if (running()) {
          <button type="button" class="act" [disabled]="stopping()" (click)="stop()">Stop</button>
        } @else {
          <button type="button" class="act" (click)="close()">Cancel</button>
          @if (!isFile()) {
            <button type="button" class="act act-line" (click)="out()">Export one picture</button>
          }
        }
        @if (!made()) {
          <button type="button" autofocus class="act act-main" [disabled]="!ready()" (click)="handOver()">
            <gable-icon name="download" />{{ running() ? 'Writing …' : isFolder() ? 'Download files' : take[what()] }}
          </button>
        }
      </div>
    }
  </dialog>`,
})
export class HandOver {
  protected readonly state = inject(WorkStore);
  private readonly api = inject(Api);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  /** Can the pages be seen before and after? */
  readonly pages = input(false);
  readonly getOut = output();
  readonly seePages = output();
  /** What has been handed over, in words. */
  readonly handed = output<string>();
  private readonly pageShots = inject(PageShots);
  private readonly ownFonts = inject(OwnFonts);
  private readonly screens = inject(Screens);
  /** The last proof sheet had to do without its pages. */
  private withoutPages = false;
  protected readonly formats = FORMATS;
  protected readonly take = TAKE;
  protected readonly whats = computed((): { value: What; label: string }[] => [
    ...(this.isFile() ? [{ value: 'file' as const, label: this.fileWords() }] : []),
    ...(this.isFolder() ? [] : MORE),
  ]);
  private fileWords(): string {
    return this.begun() ? 'File' : this.isFolder() ? 'The same files' : 'The same file';
  }
  protected readonly asked = signal<What>('file');
  protected readonly isFile = computed(() => this.state.model()?.work.format !== 'pictures');
  protected readonly isFolder = computed(() => this.state.model()?.work.format === 'folder');
  protected readonly what = computed((): What => (this.isFile() || this.asked() !== 'file' ? this.asked() : 'set'));
  protected readonly format = signal<Format>('png');
  protected readonly sizes = signal('');
  protected readonly widthsText = signal('1200');
  /** As typed; null while that is no list of widths. */
  protected readonly widths = computed((): number[] | null => {
    const list = this.widthsText()
      .split(/[\s,;]+/)
      .filter(Boolean)
      .map(Number);
    const good = list.length > 0 && list.length <= 8 && list.every((w) => Number.isInteger(w) && w >= 16 && w <= 8000);
    return good ? list : null;
  });
  protected readonly several = computed(() => (this.widths()?.length ?? 0) > 1);
  protected readonly job = signal<Job | null>(null);
  /** What came of making it smaller. */
  protected readonly made = signal<Job | null>(null);
  /** Of the file as it came, in bytes. */
  protected readonly size = signal<number | null>(null);
  protected readonly densities = DENSITIES;
  protected readonly shownBytes = shownBytes;
  protected readonly slimming = signal<SlimWish>(NO_SLIMMING);
  protected readonly slims = computed(
    () => (this.begun() ? this.kind()?.slim : this.state.model()?.work.can.slim) ?? 'none',
  );
  /** Pages of the web, with their pictures beside them. */
  protected readonly isSite = computed(() => this.state.model()?.work.format === 'site');
  protected readonly copies = signal(false);
  protected readonly lazy = signal(false);
  protected readonly measuring = signal(false);
  /** Is each picture to be in one group with what follows it? */
  protected readonly grouped = signal(false);
  /** Does anything follow a picture, in a kind of file that has groups? */
  protected readonly groups = computed(() => {
    const m = this.state.model();
    const can = this.begun() ? this.kind()?.groups : m?.work.can.order;
    return can === true && Object.values(m?.document.items ?? {}).some((i) => i.tie !== undefined);
  });
  /** One has been asked for, or is under way. */
  protected readonly running = computed(
    () => this.asking() || ['waiting', 'running'].includes(this.job()?.state ?? ''),
  );
  private readonly asking = signal(false);
  /** The server has been asked to stop, and has not answered. */
  protected readonly stopping = signal(false);
  protected readonly ready = computed(() => {
    if (this.running()) return false;
    if (this.what() === 'proof') return this.count() > 0;
    return this.what() === 'file' || this.format() === 'svg' || this.widths() !== null;
  });
  /** Of the file as it is. */
  private readonly ownFidelity = signal<readonly FrameFidelity[] | null>(null);
  /** Of a work from nothing: what it would be as a file of each kind; null while that is being found out. */
  protected readonly kinds = signal<readonly HandedKind[] | null>(null);
  private readonly begun = computed(() => this.state.model()?.work.begun ?? null);
  protected readonly handedAs = linkedSignal((): HandedAs => usualKind(this.begun() ?? 'paper'));
  protected readonly ppi = linkedSignal(() => usualPpi(this.begun() ?? 'paper'));
  private readonly kind = computed(() => this.kinds()?.find((k) => k.as === this.handedAs()));
  private readonly fidelity = computed(() => (this.begun() ? (this.kind()?.fidelity ?? null) : this.ownFidelity()));
  /** What the name of the file that is made ends with, where its work is not called so. */
  protected readonly ending = computed(() => {
    if (this.isFolder()) return '.zip';
    if (!this.begun()) return '';
    const several = (this.state.model()?.work.sheets?.length ?? 1) > 1 && PAGE_BY_PAGE.includes(this.handedAs());
    return several ? '.zip' : `.${this.handedAs()}`;
  });
  /** Pictures that were put in and deleted, in words; empty where there are none. */
  protected readonly rearranged = computed(() => {
    const { came = 0, gone = 0 } = this.state.model()?.work ?? {};
    const some = (n: number): string => `${n} ${n === 1 ? 'picture' : 'pictures'}`;
    const m = this.state.model();
    const items = m ? addedItems(m) : [];
    const added = items.length;
    const around = added > 0 ? `${added} ${added === 1 ? 'item' : 'items'} added around pictures.` : '';
    const web = m?.work.format === 'html' || m?.work.format === 'site';
    const blurred = web ? 0 : items.filter((i) => i.kind === 'framed' && isVeil(i.fill)).length;
    const painted = blurred > 0 ? `The blur behind ${blurred} of them becomes a picture.` : '';
    return [this.cameAndWent(came, gone, some), around, painted, ...this.fontWords(items)].filter(Boolean).join(' ');
  });

  /** What becomes of the author's own fonts that words are set in. */
  private fontWords(items: readonly Item[]): string[] {
    const set = new Set(items.flatMap((i) => (i.kind === 'framed' ? fontsIn(i.text) : [])));
    const own = this.ownFonts.all().filter((f) => set.has(f.family));
    const can = (this.begun() ? this.kind()?.fonts : this.state.model()?.work.can.fonts) ?? true;
    const families = [...new Set(own.map((f) => f.family))];
    const goes = (family: string): boolean => can && own.some((f) => f.family === family && f.embeds);
    return families.map((family) =>
      goes(family)
        ? `The font ${family} goes into the file.`
        : `The font ${family} does not go into the file: where it is not installed, another one takes its place. Words turned into outlines keep its look.`,
    );
  }

  private cameAndWent(came: number, gone: number, some: (n: number) => string): string {
    if (came > 0 && gone > 0) return `${some(came)} put in, ${gone} deleted.`;
    return came > 0 ? `${some(came)} put in.` : gone > 0 ? `${some(gone)} deleted.` : '';
  }
  protected readonly count = computed(() => {
    const m = this.state.model();
    return m ? changedFrames(m).length : 0;
  });
  /** Frames of which something is painted into pixels; null while that is being found out. */
  protected readonly painted = computed(
    () =>
      this.fidelity()
        ?.filter((f) => f.fidelity !== 'native')
        .map((f) => ({ n: f.n, words: fidelityWords(f) })) ?? null,
  );
  /** Said of videos that this kind of file does not hold. */
  protected readonly stills = computed(() => {
    const numbers = (this.fidelity() ?? []).filter((f) => f.still).map((f) => String(f.n));
    if (numbers.length === 0) return '';
    return numbers.length === 1
      ? `The video of picture ${numbers[0]} stays here. The file shows its poster.`
      : `The videos of pictures ${shownList(numbers)} stay here. The file shows their posters.`;
  });
  /** How many of the new frames any program can go on editing. */
  protected readonly nativeWords = computed(() => {
    const painted = this.painted();
    if (!painted) return '';
    const [all, native] = [this.count(), this.count() - painted.length];
    if (native === 0) return '';
    if (native === all)
      return all === 1 ? 'It stays editable in any program.' : 'All of them stay editable in any program.';
    return `${native} of them ${native === 1 ? 'stays' : 'stay'} editable in any program.`;
  });
  /** Frames that become drawing shapes, and those of them that need not: rectangles with an outline or a shadow. */
  protected readonly shapes = computed(
    () =>
      this.fidelity()
        ?.filter((f) => f.shape)
        .map((f) => f.n) ?? [],
  );
  protected readonly plainable = computed(() => {
    const m = this.state.model();
    if (!m) return [];
    return this.shapes()
      .map((n) => takenFrame(m, n))
      .filter((f) => isChanged(m, f.n) && f.shape.name === 'rectangle' && f.placement.fit !== 'tile');
  });
  protected look: Subscription | null = null;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.look?.unsubscribe());
  }

  open(): void {
    this.slimming.set(NO_SLIMMING);
    this.grouped.set(false);
    this.copies.set(false);
    this.lazy.set(false);
    this.again();
  }

  /** Opens it as it was left. */
  again(): void {
    this.ownFidelity.set(null);
    this.job.set(null);
    this.made.set(null);
    this.dialog().nativeElement.showModal();
    const m = this.state.model$.value;
    if (!m) return;
    // One that was under way when the page was left goes on, and is looked at again.
    this.api.jobs(m.work.id).subscribe({
      next: ({ jobs: [latest], size }) => {
        this.size.set(m.work.begun ? null : size);
        if (latest && ['waiting', 'running'].includes(latest.state)) this.watch(latest);
      },
      error: () => undefined,
    });
    if (this.isFolder()) this.ownFidelity.set([]);
    else this.ask(m);
  }

  /** Asks what can be written natively. */
  private ask(m: WorkModel): void {
    // The file can be had without; its making tells what is wrong.
    if (m.work.begun)
      this.api
        .kinds(
          m.work.id,
          m.work.pictures.map((p) => takenFrame(m, p.n)),
        )
        .subscribe({
          next: (kinds) => this.kinds.set(kinds),
          error: () => this.kinds.set([]),
        });
    else if (this.isFile() && this.count() > 0)
      this.api.fidelity(m.work.id, changedFrames(m)).subscribe({
        next: (fidelity) => this.ownFidelity.set(fidelity),
        error: () => this.ownFidelity.set([]),
      });
  }

  /** Rectangles stay pictures when they have neither outline nor shadow. */
  protected keepPlain(): void {
    this.state.takeAll(
      'cropped without outline',
      this.plainable().map((f) => ({ ...f, outline: null, shadow: null })),
    );
    const m = this.state.model$.value;
    if (m) this.ask(m);
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  protected out(): void {
    this.close();
    this.getOut.emit();
  }

  protected slimBy(change: Partial<SlimWish>): void {
    this.slimming.update((s) => ({ ...s, ...change }));
  }

  private slimmed(): boolean {
    const { crop, ppi, strip } = this.slimming();
    return crop || ppi !== null || strip;
  }

  protected see(): void {
    this.close();
    this.seePages.emit();
  }

  protected typeWidths(event: Event): void {
    this.widthsText.set((event.target as HTMLInputElement).value);
  }

  protected jobWords({ state, done, total }: Job): string {
    if (state === 'waiting') return 'Waiting';
    return total > 0 && done < total ? `${done} of ${total}` : 'Writing the file';
  }

  /** Asks for the file, watches it being made, and gives it to the browser to keep. */
  protected async handOver(): Promise<void> {
    const m = this.state.model$.value;
    if (this.running() || !m) return;
    this.asking.set(true);
    try {
      if (!(await this.state.settled())) return;
      const wish: JobWish =
        this.what() === 'file'
          ? {
              kind: 'hand-over',
              ...(this.slimmed() && this.slims() !== 'none' && { slim: this.slimming() }),
              ...(await this.quick(m)),
              ...(this.grouped() && this.groups() && { grouped: true }),
              ...(this.begun() && { as: { kind: this.handedAs(), ppi: this.ppi() } }),
            }
          : this.what() === 'proof'
            ? { kind: 'proof', ...(await this.shots(m)) }
            : {
                kind: 'set',
                format: this.format(),
                widths: this.widths() ?? [960],
                ...(this.sizes() && { sizes: this.sizes() }),
              };
      this.watch(await firstValueFrom(this.api.sendJob(m.work.id, wish)));
    } catch (error) {
      this.fail(error);
    } finally {
      this.asking.set(false);
    }
  }

  /** How pictures are laid out, where pages are to be made faster by that. */
  private async quick(m: WorkModel): Promise<{ screens?: ScreensWish }> {
    const [copies, lazy] = [this.copies(), this.lazy()];
    if (!this.isSite() || !(copies || lazy)) return {};
    this.measuring.set(true);
    try {
      return { screens: { copies, lazy, pictures: await this.screens.measure(m) } };
    } finally {
      this.measuring.set(false);
    }
  }

  /** Pages that the server cannot lay out; without them the sheet has the pictures alone. */
  private async shots(m: WorkModel): Promise<{ shots?: readonly ShotPair[] }> {
    this.withoutPages = false;
    if (!this.pageShots.can(m.work)) return {};
    try {
      return { shots: await this.pageShots.take(m, changedFrames(m), addedChanges(m)) };
    } catch {
      this.withoutPages = true;
      return {};
    }
  }

  private watch(job: Job): void {
    this.job.set(job);
    this.look?.unsubscribe();
    this.look = this.api.watchJob(job.id).subscribe({
      next: (now) => {
        this.job.set(now);
        if (now.state === 'done') {
          fetchFile(this.api.jobFileUrl(now.id), now.name);
          this.handed.emit(this.handedWords(now));
          if (now.said === null) this.close();
          else this.made.set(now);
        } else if (now.state === 'failed' && now.problem) {
          this.close();
          this.state.problem$.next({ ...now.problem, facts: {} });
        } else if (now.state === 'cancelled') this.job.set(null);
      },
      error: (error: unknown) => this.fail(error),
    });
  }

  private handedWords({ kind, name, size }: Job): string {
    const made = size === null ? '' : `, ${shownBytes(size)}`;
    const came = kind === 'hand-over' && this.size() !== null ? `; before: ${shownBytes(this.size()!)}` : '';
    const without = kind === 'proof' && this.withoutPages ? ' The pages could not be laid out and are missing.' : '';
    return `Handed over: ${name}${made}${came}.${without}`;
  }

  protected stop(): void {
    const job = this.job();
    if (!job || this.stopping()) return;
    this.look?.unsubscribe();
    this.stopping.set(true);
    this.api
      .cancelJob(job.id)
      .pipe(finalize(() => this.stopping.set(false)))
      .subscribe({ complete: () => this.job.set(null), error: (error: unknown) => this.fail(error) });
  }

  private fail(error: unknown): void {
    this.close();
    this.state.problem$.next(toProblem(error));
  }
}

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
import { itemIdOf, paintedBounds, pieceDocument, POINTS } from '@gable/core';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import type { Problem } from '../api/problem';
import type { ExportFormat, SceneExport } from '@gable/contract';
import { Choice } from '../ui/choice';
import { download, readable } from '../ui/download';
import { FigureField } from '../ui/figure-field';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';
import { Units } from '../ui/units';
import { shownDocument } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Edit } from '../bench/edit';

/** What is exported. */
type What = 'picture' | 'piece' | 'page';

/** The framed picture by itself, with what stands around it, or its whole page: onto the clipboard, or as a file of any kind and size. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-get-out',
  imports: [Choice, FigureField, Icon, Notice],
  template: `<dialog #dialog class="sheet w-[480px]" aria-labelledby="out-title">
    <div class="mb-4 flex items-center">
      <h2 id="out-title" class="grow text-[21px]">Export picture</h2>
      <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="close()">
        <gable-icon name="close" />
      </button>
    </div>
    @if (problem(); as p) {
      <gable-notice class="mb-3 block" [problem]="p" (closed)="problem.set(null)" />
    }
    @if (whats().length > 1) {
      <gable-choice class="mb-4" label="What" [options]="whats()" [value]="what()" (changed)="choose($event)" />
    }
    <h3 class="mb-2 text-[15px]">Copy</h3>
    <div class="mb-2 flex flex-wrap gap-2">
      <button type="button" class="act act-main" autofocus [disabled]="busy()" (click)="copy('png')">
        <gable-icon name="copy" [size]="16" />Picture
      </button>
      @if (what() !== 'page') {
        <button type="button" class="act act-line" [disabled]="busy()" (click)="copy('svg')">SVG</button>
      }
      @if (what() === 'picture' || (what() === 'piece' && isWeb())) {
        <button type="button" class="act act-line" [disabled]="busy()" (click)="copy('html')">HTML and CSS</button>
      }
    </div>
    <p class="mb-5 text-[13px] text-soft">
      {{
        what() === 'picture'
          ? 'Transparent outside the shape. Ctrl+C on the board copies the picture at once.'
          : what() === 'piece'
            ? 'Transparent where nothing stands.'
            : 'The page as it is now, with all that lies on it.'
      }}
    </p>
    <h3 class="mb-2 text-[15px]">Save</h3>
    <gable-choice label="Format" [options]="formats()" [value]="format()" (changed)="format.set($event)" />
    @if (format() !== 'svg' && format() !== 'html') {
      <gable-choice class="mt-2" label="Size" [options]="sizes()" [value]="by()" (changed)="by.set($event)" />
      @if (by() === 'ppi') {
        <gable-figure-field
          class="mt-2"
          label="Pixels per inch"
          kind="number"
          [value]="ppi()"
          [min]="18"
          [max]="2400"
          (changed)="ppi.set($event)"
        />
      } @else if (by() === 'width') {
        <gable-figure-field
          class="mt-2"
          label="Width in pixels"
          kind="number"
          [value]="width()"
          [min]="1"
          [max]="20000"
          (changed)="width.set(round($event))"
        />
      }
    }
    <div class="mt-5 flex items-center justify-end gap-3">
      <p class="grow text-[13px] text-soft" role="status">{{ told() }}</p>
      <button type="button" class="act act-main" [disabled]="busy()" (click)="save()">
        <gable-icon name="download" [size]="16" />Save
      </button>
    </div>
  </dialog>`,
})
export class GetOut {
  private readonly api = inject(Api);
  private readonly state = inject(WorkStore);
  private readonly edit = inject(Edit);
  private readonly units = inject(Units);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  readonly name = input('picture');
  /** What can be exported: the picture, it with what stands around it, the page that is seen. */
  protected readonly whats = computed((): { value: What; label: string }[] => {
    const m = this.state.model();
    const picture = this.edit.picture();
    const hasPiece =
      m &&
      picture &&
      (pieceDocument(shownDocument(m), itemIdOf(picture)) !== null || (this.edit.taken()?.section && this.isWeb()));
    const hasPage = (m?.work.sheets ?? []).length > 0 && picture?.where.page != null;
    return [
      { value: 'picture', label: 'Picture' },
      ...(hasPiece ? [{ value: 'piece' as const, label: 'With what is around it' }] : []),
      ...(hasPage ? [{ value: 'page' as const, label: this.edit.pageName() }] : []),
    ];
  });
  /** What stands around pictures of a web page can stand around them in another one. */
  protected readonly isWeb = computed(() => this.state.model()?.work.can.pages === 'web');
  protected readonly what = signal<What>('picture');
  protected readonly formats = computed(() =>
    (['png', 'jpg', 'webp', 'avif', 'svg', 'pdf'] as const)
      .filter((value) => value !== 'svg' || this.what() !== 'page')
      .map((value) => ({
        value,
        label: { png: 'PNG', jpg: 'JPEG', webp: 'WebP', avif: 'AVIF', svg: 'SVG', pdf: 'PDF' }[value],
      })),
  );
  protected readonly sizes = computed(() => [
    ...(this.what() === 'picture' ? [{ value: 'own' as const, label: 'Full resolution' }] : []),
    { value: 'ppi' as const, label: 'By ppi' },
    { value: 'width' as const, label: 'By width' },
  ]);
  protected readonly format = signal<ExportFormat>('png');
  protected readonly by = signal<'own' | 'ppi' | 'width'>('own');
  protected readonly ppi = signal(300);
  protected readonly width = signal(1200);
  protected readonly busy = signal(false);
  protected readonly told = signal('');
  protected readonly problem = signal<Problem | null>(null);
  protected readonly round = Math.round;

  /** Of the picture by itself, its own resolution is the usual one; of others, as many pixels as a screen shows twice over. */
  protected choose(what: What): void {
    this.what.set(what);
    if (what !== 'picture' && this.by() === 'own') this.by.set('ppi');
    if (what === 'page' && this.format() === 'svg') this.format.set('png');
    const m = this.state.model$.value;
    const picture = this.edit.picture();
    const page =
      what === 'page'
        ? m?.file.pages[(picture?.where.page ?? 1) - 1]
        : what === 'piece' && m && picture
          ? pieceDocument(shownDocument(m), itemIdOf(picture))?.pages[0]
          : undefined;
    if (page) this.width.set(Math.round(page.size.width * 2));
  }

  open(): void {
    if (!this.whats().some(({ value }) => value === this.what())) this.what.set('picture');
    this.told.set('');
    this.problem.set(null);
    const f = this.edit.taken();
    // Who works in pixels expects as many as they see.
    const inPixels = this.units.unit() === 'px';
    if (f) this.width.set(Math.max(1, Math.round(paintedBounds(f).width / (inPixels ? POINTS.px : 0.5))));
    this.by.set(inPixels ? 'width' : 'own');
    this.dialog().nativeElement.showModal();
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  private fetch(format: ExportFormat, what: What, size: { ppi?: number; width?: number } = {}): Promise<Blob> {
    const m = this.state.model$.value!;
    if (what === 'picture') return firstValueFrom(this.api.export(m.work.id, this.edit.taken()!, { format, ...size }));
    const { n, where } = this.edit.picture()!;
    const wish = (
      what === 'piece' ? { what, n, format, ...size } : { what, page: where.page!, format, ...size }
    ) as SceneExport;
    // What stands around pictures is painted as it is saved.
    return this.state.settled().then(() => firstValueFrom(this.api.exportScene(m.work.id, wish)));
  }

  /** Puts the framed picture on the clipboard: a PNG, or text to paste into a page. @returns what is there now; null where it did not work */
  async copy(format: 'png' | 'svg' | 'html', what = this.what()): Promise<Blob | null> {
    if (this.busy() || this.edit.problem()) return null;
    this.busy.set(true);
    this.told.set('Copying …');
    try {
      const type = format === 'png' ? 'image/png' : 'text/plain';
      // The clipboard is asked for at once, while the press of the key still counts; the picture follows.
      const blob = this.fetch(format, what).then(async (b) =>
        format === 'png' ? b : new Blob([await b.text()], { type: 'text/plain' }),
      );
      await navigator.clipboard.write([new ClipboardItem({ [type]: blob })]);
      this.told.set('Copied. Paste it where you need it.');
      return await blob;
    } catch (error) {
      this.told.set('');
      this.problem.set(
        error instanceof DOMException
          ? {
              code: 'clipboard',
              title: 'The browser did not let Gable use the clipboard.',
              remedy: 'Allow it for this page, or save the picture as a file.',
              facts: {},
            }
          : await readable(error),
      );
      return null;
    } finally {
      this.busy.set(false);
    }
  }

  protected async save(): Promise<void> {
    this.busy.set(true);
    this.told.set('Painting …');
    try {
      const by = this.by();
      const size = by === 'ppi' ? { ppi: this.ppi() } : by === 'width' ? { width: this.width() } : {};
      const blob = await this.fetch(this.format(), this.what(), size);
      const n = this.edit.taken()!.n;
      download(blob, `${this.name()}-${n}.${this.format()}`);
      this.told.set('Saved.');
    } catch (error) {
      this.told.set('');
      this.problem.set(await readable(error));
    } finally {
      this.busy.set(false);
    }
  }
}

import { ChangeDetectionStrategy, Component, type ElementRef, inject, input, signal, viewChild } from '@angular/core';
import { paintedBounds, POINTS } from '@gable/core';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import type { Problem } from '../api/problem';
import type { ExportFormat } from '@gable/contract';
import { Choice } from '../ui/choice';
import { download, readable } from '../ui/download';
import { FigureField } from '../ui/figure-field';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';
import { Units } from '../ui/units';
import { WorkStore } from '../work/work-store';
import { Edit } from '../bench/edit';

/** The framed picture by itself: onto the clipboard, or as a file of any kind and size. */
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
    <h3 class="mb-2 text-[15px]">Copy</h3>
    <div class="mb-2 flex flex-wrap gap-2">
      <button type="button" class="act act-main" autofocus [disabled]="busy()" (click)="copy('png')">
        <gable-icon name="copy" [size]="16" />Picture
      </button>
      <button type="button" class="act act-line" [disabled]="busy()" (click)="copy('svg')">SVG</button>
      <button type="button" class="act act-line" [disabled]="busy()" (click)="copy('html')">HTML and CSS</button>
    </div>
    <p class="mb-5 text-[13px] text-soft">
      Transparent outside the shape. Ctrl+C on the board copies the picture at once.
    </p>
    <h3 class="mb-2 text-[15px]">Save</h3>
    <gable-choice label="Format" [options]="formats" [value]="format()" (changed)="format.set($event)" />
    @if (format() !== 'svg' && format() !== 'html') {
      <gable-choice class="mt-2" label="Size" [options]="sizes" [value]="by()" (changed)="by.set($event)" />
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
  protected readonly formats = (['png', 'jpg', 'webp', 'avif', 'svg', 'pdf'] as const).map((value) => ({
    value,
    label: { png: 'PNG', jpg: 'JPEG', webp: 'WebP', avif: 'AVIF', svg: 'SVG', pdf: 'PDF' }[value],
  }));
  protected readonly sizes = [
    { value: 'own', label: 'Full resolution' },
    { value: 'ppi', label: 'By ppi' },
    { value: 'width', label: 'By width' },
  ] as const;
  protected readonly format = signal<ExportFormat>('png');
  protected readonly by = signal<'own' | 'ppi' | 'width'>('own');
  protected readonly ppi = signal(300);
  protected readonly width = signal(1200);
  protected readonly busy = signal(false);
  protected readonly told = signal('');
  protected readonly problem = signal<Problem | null>(null);
  protected readonly round = Math.round;

  open(): void {
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

  private fetch(format: ExportFormat, size: { ppi?: number; width?: number } = {}): Promise<Blob> {
    const m = this.state.model$.value!;
    return firstValueFrom(this.api.export(m.work.id, this.edit.taken()!, { format, ...size }));
  }

  /** Puts the framed picture on the clipboard: a PNG, or text to paste into a page. @returns what is there now; null where it did not work */
  async copy(format: 'png' | 'svg' | 'html'): Promise<Blob | null> {
    if (this.busy() || this.edit.problem()) return null;
    this.busy.set(true);
    this.told.set('Copying …');
    try {
      const type = format === 'png' ? 'image/png' : 'text/plain';
      // The clipboard is asked for at once, while the press of the key still counts; the picture follows.
      const blob = this.fetch(format).then(async (b) =>
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
      const blob = await this.fetch(this.format(), size);
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

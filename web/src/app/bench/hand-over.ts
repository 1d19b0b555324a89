import { Component, computed, type ElementRef, inject, output, signal, viewChild } from '@angular/core';
import { Api } from '../api/api';
import type { Fate } from '../api/types';
import { download, readable } from '../ui/download';
import { Icon } from '../ui/icon';
import { BenchState } from './bench-state';
import { fateWords } from './fate-words';

/** What is written into the file, said before it is written. */
@Component({
  selector: 'gable-hand-over',
  imports: [Icon],
  template: `<dialog #dialog class="sheet w-[480px]" aria-labelledby="sheet-title">
    @if (state.model(); as m) {
      <h2 id="sheet-title" class="mb-3 text-[21px]">Hand over</h2>
      @if (m.work.format === 'pictures') {
        <p class="mb-5">
          This work began with pictures and has no file to go back into. Copy a framed picture, or save it as one.
        </p>
      } @else if (count() === 0) {
        <p class="mb-3">No picture differs from the file. You get back the very same bytes.</p>
      } @else {
        <p class="mb-3">
          <strong class="font-semibold">{{ count() }} of {{ m.work.pictures.length }} pictures</strong>
          {{ count() === 1 ? 'gets its' : 'get their' }} new frame, written in the file’s own terms: anyone can go on
          editing {{ count() === 1 ? 'it' : 'them' }}.
        </p>
        @if (painted(); as list) {
          @if (list.length > 0) {
            <div class="mb-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2 text-[13px]">
              <p>
                What this kind of file cannot say is painted into the picture; the original stays in the file beside it.
              </p>
              <ul class="mt-1 max-h-40 overflow-y-auto" aria-label="Painted into pixels">
                @for (f of list; track f.n) {
                  <li>
                    <strong class="font-semibold">Picture {{ f.n }}</strong
                    >: {{ f.words }}
                  </li>
                }
              </ul>
            </div>
          }
        } @else {
          <p class="mb-3 text-soft" role="status">Looking what the file can say …</p>
        }
        <p class="mb-3 text-soft">
          Every whole picture stays in the file. Text, styles and all other parts stay as they are, byte for byte.
        </p>
      }
      @if (m.work.signed && count() > 0) {
        <p class="mb-3 rounded-md border-l-[3px] border-warn bg-raised px-3 py-2">
          This file is signed. Changing it breaks the signature; sign it again afterwards.
        </p>
      }
      @if (m.work.format !== 'pictures') {
        <p class="figure mb-5 truncate text-[13px]">{{ m.work.name }}</p>
      }
      <div class="flex justify-end gap-2">
        <button type="button" class="act" (click)="close()">Not yet</button>
        @if (m.work.format === 'pictures') {
          <button type="button" class="act act-main" (click)="out()">Get a picture out</button>
        } @else {
          <button type="button" class="act act-main" [disabled]="handing()" (click)="handOver()">
            <gable-icon name="download" />{{ handing() ? 'Writing …' : 'Take the file' }}
          </button>
        }
      </div>
    }
  </dialog>`,
})
export class HandOver {
  protected readonly state = inject(BenchState);
  private readonly api = inject(Api);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  readonly getOut = output();
  protected readonly handing = signal(false);
  private readonly fates = signal<readonly Fate[] | null>(null);
  protected readonly count = computed(() => Object.keys(this.state.model()?.frames ?? {}).length);
  /** Frames of which something is painted into pixels; null while that is being found out. */
  protected readonly painted = computed(
    () =>
      this.fates()
        ?.filter((f) => f.fate !== 'native')
        .map((f) => ({ n: f.n, words: fateWords(f) })) ?? null,
  );

  open(): void {
    this.fates.set(null);
    this.dialog().nativeElement.showModal();
    const m = this.state.model$.value;
    const frames = Object.values(m?.frames ?? {});
    if (!m || m.work.format === 'pictures' || frames.length === 0) return;
    this.api.fates(m.work.id, frames).subscribe({
      next: (fates) => this.fates.set(fates),
      // The file can be had without; its making tells what is wrong.
      error: () => this.fates.set([]),
    });
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  protected out(): void {
    this.close();
    this.getOut.emit();
  }

  /** Fetches the file and gives it to the browser to keep. */
  protected async handOver(): Promise<void> {
    const m = this.state.model$.value;
    if (this.handing() || !m) return;
    this.handing.set(true);
    try {
      const file = await this.state.handOver();
      if (!file) return;
      download(file, m.work.name);
      this.close();
    } catch (error) {
      this.close();
      this.state.problem$.next(await readable(error));
    } finally {
      this.handing.set(false);
    }
  }
}

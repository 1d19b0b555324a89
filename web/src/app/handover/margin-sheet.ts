import { ChangeDetectionStrategy, Component, type ElementRef, inject, output, signal, viewChild } from '@angular/core';
import { ON_PAGE, POINTS, uprightSize } from '@gable/core';
import { Api } from '../api/api';
import type { Problem } from '../api/problem';
import type { LibraryPicture } from '@gable/contract';
import { PictureChooser } from '../library/picture-chooser';
import { Choice } from '../ui/choice';
import { FigureField } from '../ui/figure-field';
import { Icon } from '../ui/icon';
import { Notice } from '../ui/notice';
import { WorkStore } from '../work/work-store';

/** A picture for the header or footer of a document's pages, and how far from it the text begins. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-margin-sheet',
  imports: [Choice, FigureField, Icon, Notice, PictureChooser],
  template: `<dialog #dialog class="sheet w-[520px]" aria-labelledby="margin-title">
      <div class="mb-4 flex items-center">
        <h2 id="margin-title" class="grow text-[21px]">Picture in the header or footer</h2>
        <button type="button" class="act px-2" aria-label="Close" title="Close" (click)="close()">
          <gable-icon name="close" />
        </button>
      </div>
      @if (problem(); as p) {
        <gable-notice class="mb-3 block" [problem]="p" (closed)="problem.set(null)" />
      }
      <div class="mb-4 flex items-center gap-4">
        @if (picture(); as p) {
          <div class="flex h-[76px] w-[112px] items-center justify-center rounded-lg bg-paper">
            <img class="max-h-[68px] max-w-[104px]" [src]="api.keptUrl(p.sha256, 256)" alt="" />
          </div>
          <div class="min-w-0">
            <p class="truncate font-semibold">{{ p.name }}</p>
            <button type="button" class="act act-line mt-1.5 h-8" (click)="chooser.open()">Choose another</button>
          </div>
        }
      </div>
      <gable-choice label="Place in" [options]="places" [value]="into()" (changed)="into.set($event)" />
      <gable-choice class="mt-2" label="Pages" [options]="pages" [value]="on()" (changed)="on.set($event)" />
      <gable-choice
        class="mt-2"
        label="Place"
        [options]="standings"
        [value]="standing()"
        (changed)="standing.set($event)"
      />
      @if (standing() === 'line') {
        <gable-choice class="mt-2" label="Align" [options]="sides" [value]="align()" (changed)="align.set($event)" />
      } @else {
        <gable-figure-field
          class="mt-2"
          label="Left"
          kind="length"
          [value]="left()"
          [min]="0"
          [max]="1500"
          (changed)="left.set($event)"
        />
        <gable-figure-field
          class="mt-2"
          label="Top"
          kind="length"
          axis="down"
          [value]="top()"
          [min]="0"
          [max]="2000"
          (changed)="top.set($event)"
        />
      }
      <gable-figure-field
        class="mt-2"
        label="Width"
        kind="length"
        [value]="width()"
        [min]="3"
        [max]="600"
        (changed)="width.set($event)"
      />
      @if (standing() === 'line') {
        <gable-choice class="mt-2" label="Margins" [options]="margins" [value]="move()" (changed)="move.set($event)" />
      }
      @if (standing() === 'line' && move() === 'gap') {
        <gable-figure-field
          class="mt-2"
          [label]="into() === 'header' ? 'Text begins below it by' : 'Text ends above it by'"
          kind="length"
          [value]="gap()"
          [min]="0"
          [max]="300"
          (changed)="gap.set($event)"
        />
      }
      <p class="mt-4 text-[13px] text-soft">
        @if (standing() === 'line') {
          What stands in the {{ into() }} already stays, below the picture.
        } @else {
          The picture shows at this place of every page. The text does not move.
        }
      </p>
      <div class="mt-4 flex justify-end gap-2">
        <button type="button" class="act" (click)="close()">Cancel</button>
        <button type="button" class="act act-main" (click)="putIn()">Add picture</button>
      </div>
    </dialog>
    <gable-picture-chooser #chooser (chosen)="picture.set($event[0]!)" />`,
})
export class MarginSheet {
  protected readonly api = inject(Api);
  private readonly state = inject(WorkStore);
  private readonly dialog = viewChild.required<ElementRef<HTMLDialogElement>>('dialog');
  protected readonly places = [
    { value: 'header', label: 'Header' },
    { value: 'footer', label: 'Footer' },
  ] as const;
  protected readonly pages = [
    { value: 'all', label: 'Every page' },
    { value: 'first', label: 'The first page' },
  ] as const;
  protected readonly sides = [
    { value: 'left', label: 'Left' },
    { value: 'center', label: 'Centre' },
    { value: 'right', label: 'Right' },
  ] as const;
  protected readonly standings = [
    { value: 'line', label: 'In its own line' },
    { value: 'page', label: 'By number' },
  ] as const;
  protected readonly margins = [
    { value: 'gap', label: 'Make room' },
    { value: 'leave', label: 'Keep' },
  ] as const;
  protected readonly picture = signal<LibraryPicture | null>(null);
  protected readonly into = signal<'header' | 'footer'>('header');
  protected readonly on = signal<'all' | 'first'>('all');
  protected readonly align = signal<'left' | 'center' | 'right'>('center');
  protected readonly standing = signal<'line' | 'page'>('line');
  /** From the edges of the page, in points. */
  protected readonly left = signal(20 * POINTS.mm);
  protected readonly top = signal(10 * POINTS.mm);
  protected readonly move = signal<'gap' | 'leave'>('gap');
  protected readonly width = signal(25 * POINTS.mm);
  protected readonly gap = signal(5 * POINTS.mm);
  protected readonly problem = signal<Problem | null>(null);
  /** The picture is in. */
  readonly put = output();

  open(picture: LibraryPicture): void {
    this.problem.set(null);
    this.picture.set(picture);
    this.dialog().nativeElement.showModal();
  }

  protected close(): void {
    this.dialog().nativeElement.close();
  }

  /** Puts it in; the picture there is chosen then. */
  protected async putIn(): Promise<void> {
    const m = this.state.model$.value;
    const picture = this.picture();
    const body = m?.document.stories[0];
    if (!picture || !body) return;
    const { width: across, height: down } = uprightSize(picture.size, picture.orientation);
    const free = this.standing() === 'page';
    const spot = free ? { x: this.left(), y: this.top() } : { x: 0, y: 0 };
    const box = { ...spot, width: this.width(), height: (this.width() * down) / across };
    const gap = !free && this.move() === 'gap' ? this.gap() : null;
    const margin = { on: 'margin', box, into: this.into(), pages: this.on(), align: this.align(), gap } as const;
    const at = { ...margin, ...(free && { anchor: ON_PAGE }) };
    this.close();
    await this.state.putIn([{ picture, at }], { in: { story: body.id }, index: 0 });
    this.put.emit();
  }
}

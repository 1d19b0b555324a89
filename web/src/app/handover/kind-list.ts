import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { PAGE_BY_PAGE, type Begun, type HandedAs, type HandedKind } from '@gable/contract';
import { Choice } from '../ui/choice';
import { walk } from '../ui/roving';

const NAMES: Record<HandedAs, string> = {
  docx: 'Document',
  odt: 'Document',
  pptx: 'Slides',
  odp: 'Slides',
  odg: 'Drawing',
  svg: 'Drawing',
  html: 'Web page',
  pdf: 'PDF',
  png: 'Picture',
};
/** The usual ones first. */
const ORDER: Record<Begun, readonly HandedAs[]> = {
  paper: ['docx', 'odt', 'pdf', 'png', 'odg', 'pptx', 'odp', 'svg', 'html'],
  slides: ['pptx', 'odp', 'pdf', 'png', 'docx', 'odt', 'odg', 'svg', 'html'],
  graphic: ['png', 'svg', 'pdf', 'html', 'docx', 'odt', 'pptx', 'odp', 'odg'],
};
export const usualKind = (begun: Begun): HandedAs => ORDER[begun][0]!;
/** A page in pixels has 96 to the inch (CSS Values 4 §6.2). */
const TIMES = [1, 2, 3].map((k) => ({ value: String(96 * k), label: `${k}×` }));
const DENSITIES = ['96', '150', '300'].map((value) => ({ value, label: `${value} ppi` }));
export const usualPpi = (begun: Begun): number => (begun === 'graphic' ? 96 : 300);

/** The kinds of file that a work from nothing can be handed over as, and what each keeps of it. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-kind-list',
  imports: [Choice],
  template: `<div role="radiogroup" aria-label="Kind of file" class="mb-3 grid gap-px" (keydown)="key($event)">
      @for (kind of order(); track kind) {
        <button
          type="button"
          role="radio"
          class="row grid grid-cols-[16px_96px_64px_1fr] items-center gap-2 rounded-md px-2 py-1 text-left"
          [attr.aria-checked]="kind === value()"
          [tabindex]="kind === value() ? 0 : -1"
          [disabled]="disabled()"
          (click)="chosen.emit(kind)"
        >
          <span class="dot" aria-hidden="true"></span>
          <span>{{ names[kind] }}</span>
          <span class="figure text-[12.5px]">.{{ kind }}</span>
          <span class="text-right text-[12.5px] text-soft">{{ notes()[kind] }}</span>
        </button>
      }
    </div>
    @if (value() === 'png' || value() === 'pdf') {
      <gable-choice
        class="mb-3"
        label="Resolution"
        [options]="densities()"
        [value]="'' + ppi()"
        (changed)="resolved.emit(+$event)"
      />
    }`,
  styles: `
    .row:hover:not(:disabled) {
      background: color-mix(in srgb, var(--ink) 6%, transparent);
    }
    .row[aria-checked='true'] {
      background: color-mix(in srgb, var(--mark) 11%, transparent);
    }
    .dot {
      width: 14px;
      height: 14px;
      border: 1.5px solid color-mix(in srgb, var(--ink) 55%, transparent);
      border-radius: 50%;
    }
    [aria-checked='true'] > .dot {
      border: 4.5px solid var(--mark);
    }
  `,
})
export class KindList {
  readonly begun = input.required<Begun>();
  /** What is known of each; null while it is being found out. */
  readonly kinds = input.required<readonly HandedKind[] | null>();
  readonly value = input.required<HandedAs>();
  readonly ppi = input.required<number>();
  readonly pages = input.required<number>();
  readonly disabled = input(false);
  readonly chosen = output<HandedAs>();
  readonly resolved = output<number>();
  protected readonly names = NAMES;
  protected readonly order = computed(() => ORDER[this.begun()]);
  protected readonly densities = computed(() => (this.begun() === 'graphic' ? TIMES : DENSITIES));
  protected readonly notes = computed(() => {
    const notes: Partial<Record<HandedAs, string>> = {};
    for (const kind of this.kinds() ?? []) notes[kind.as] = this.note(kind);
    return notes;
  });

  private note({ as, fidelity }: HandedKind): string {
    const zip = this.pages() > 1 && PAGE_BY_PAGE.includes(as) ? ', one per page' : '';
    if (as === 'png' || as === 'pdf') return `Not editable${zip}`;
    const painted = fidelity.filter((f) => f.fidelity !== 'native').length;
    const kept = painted === 0 ? 'Editable' : `${painted} of ${fidelity.length} painted`;
    return `${kept}${zip}${as === 'html' ? ', one below another' : ''}`;
  }

  protected key(event: KeyboardEvent): void {
    const order = this.order();
    const to = walk(event, order.indexOf(this.value()), order.length);
    if (to === null || this.disabled()) return;
    this.chosen.emit(order[to]!);
    (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=radio]')[to]?.focus();
  }
}

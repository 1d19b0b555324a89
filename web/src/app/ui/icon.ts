import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  ArrowDownToLine,
  Columns2,
  Copy,
  FileUp,
  Images,
  ChevronDown,
  Keyboard,
  Pencil,
  Link2,
  Link2Off,
  Pipette,
  LayoutGrid,
  Plus,
  Redo2,
  Search,
  SquareDashed,
  StepForward,
  Trash2,
  TriangleAlert,
  Undo2,
  X,
  type IconNode,
} from 'lucide';

const ICONS = {
  download: ArrowDownToLine,
  hold: Columns2,
  copy: Copy,
  open: FileUp,
  pictures: Images,
  keyboard: Keyboard,
  down: ChevronDown,
  link: Link2,
  unlink: Link2Off,
  dropper: Pipette,
  rename: Pencil,
  wall: LayoutGrid,
  add: Plus,
  redo: Redo2,
  search: Search,
  keep: SquareDashed,
  again: StepForward,
  remove: Trash2,
  warn: TriangleAlert,
  undo: Undo2,
  close: X,
} satisfies Record<string, IconNode>;

/** An icon of the one package; decoration only, its button carries the words. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-icon',
  template: `<svg
    [attr.width]="size()"
    [attr.height]="size()"
    viewBox="0 0 24 24"
    fill="none"
    stroke="currentColor"
    stroke-width="1.8"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    @for (part of parts(); track $index) {
      @switch (part[0]) {
        @case ('path') {
          <path [attr.d]="part[1]['d']" />
        }
        @case ('line') {
          <line
            [attr.x1]="part[1]['x1']"
            [attr.y1]="part[1]['y1']"
            [attr.x2]="part[1]['x2']"
            [attr.y2]="part[1]['y2']"
          />
        }
        @case ('circle') {
          <circle [attr.cx]="part[1]['cx']" [attr.cy]="part[1]['cy']" [attr.r]="part[1]['r']" />
        }
        @case ('rect') {
          <rect
            [attr.x]="part[1]['x']"
            [attr.y]="part[1]['y']"
            [attr.width]="part[1]['width']"
            [attr.height]="part[1]['height']"
            [attr.rx]="part[1]['rx']"
          />
        }
      }
    }
  </svg>`,
  host: { class: 'inline-flex shrink-0' },
})
export class Icon {
  readonly name = input.required<keyof typeof ICONS>();
  readonly size = input(18);
  protected readonly parts = computed(() => ICONS[this.name()]);
}

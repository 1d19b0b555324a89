import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { framePath, isPictureItem, toSvgPath, type Box, type FramedItem, type Placed, type Size } from '@gable/core';

interface Plain {
  path: string;
  fill: string;
  opacity?: number;
  turn: string;
}

/** A page, small: what lies on it as plain shapes. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-small-page',
  template: `<svg
    class="block"
    [attr.width]="width()"
    [attr.height]="height()"
    [attr.viewBox]="'0 0 ' + size().width + ' ' + size().height"
    [style.background]="ground()"
    aria-hidden="true"
  >
    @for (s of shapes(); track $index) {
      <path
        [attr.d]="s.path"
        [attr.fill]="s.fill"
        [attr.fill-opacity]="s.opacity"
        [attr.transform]="s.turn"
        fill-rule="evenodd"
      />
    }
  </svg>`,
  host: { class: 'overflow-hidden' },
})
export class SmallPage {
  /** What lies on it, from the back. */
  readonly placed = input.required<readonly Placed[]>();
  /** In points. */
  readonly size = input.required<Size>();
  /** In CSS pixels. */
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly ground = input.required<string>();

  protected readonly shapes = computed((): Plain[] =>
    this.placed().flatMap(({ item, box, turn }) => {
      if (item.kind !== 'framed') return [];
      const picture = isPictureItem(item);
      const fill = picture ? '#b9a67f' : item.fill?.kind === 'paint' ? inkOf(item) : null;
      const opacity = item.fill?.kind === 'paint' && item.fill.paint.kind === 'solid' ? item.fill.paint.opacity : 1;
      const shapes = fill ? [{ path: pathOf(item, box), fill, opacity, turn: placed(box, turn) }] : [];
      return item.text ? [...shapes, ...linesOf(item, box, turn)] : shapes;
    }),
  );
}

const placed = ({ x, y, width, height }: Box, turn: number): string =>
  `translate(${x} ${y})${turn ? ` rotate(${turn} ${width / 2} ${height / 2})` : ''}`;

const inkOf = ({ fill }: FramedItem): string | null => {
  if (fill?.kind !== 'paint') return null;
  return fill.paint.kind === 'solid' ? fill.paint.colour : fill.paint.stops[0]!.colour;
};

function pathOf({ shape, seat }: FramedItem, box: Box): string {
  try {
    return toSvgPath(framePath({ box, shape, seat }));
  } catch {
    return `M0 0H${box.width}V${box.height}H0Z`;
  }
}

/** Words as lines of about their height. */
function linesOf({ text }: FramedItem, box: Box, turn: number): Plain[] {
  const first = text!.paragraphs.find((p) => p.runs.some((r) => r.text.trim() !== ''));
  const run = first?.runs[0];
  if (!run) return [];
  const count = Math.max(1, Math.min(6, text!.paragraphs.length));
  const height = Math.min(run.size * 0.5, box.height / (2 * count));
  const fill = run.paint.kind === 'solid' ? run.paint.colour : run.paint.stops[0]!.colour;
  return Array.from({ length: count }, (_, i) => ({
    path: `M0 ${i * height * 2 + height / 2}h${box.width * (i === count - 1 ? 0.55 : 0.9)}v${height}H0Z`,
    fill,
    turn: placed(box, turn),
  }));
}

import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import {
  DASH_PATTERN,
  equal,
  FULL_SEAT,
  framePath,
  mirroredStops,
  toSvgPath,
  transform,
  wordsIn,
  type Box,
  type ForeignItem,
  type FramedItem,
  type Item,
  type Paint,
  type Path,
  type Placed,
  type Text,
} from '@gable/core';
import { solid } from './page-ink';
import { PageWords } from './page-words';

/** An item with its place in the stack of its page. */
export interface Stacked extends Placed {
  z: number;
}

interface Ink {
  fill: string;
  opacity: number;
  gradient: {
    id: string;
    kind: Exclude<Paint['kind'], 'solid'>;
    /** One that runs to four sides is two that run out from the middle. */
    lines: readonly { id: string; x1: number; y1: number; x2: number; y2: number }[];
    stops: readonly Stop[];
  } | null;
}
interface Stop {
  at: number;
  colour: string;
  opacity: number;
}

/** A shape or a text where it lies on a page. */
@Component({
  selector: 'gable-page-item',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PageWords],
  template: `@let s = shape();
    <div
      class="absolute"
      [style.z-index]="s.z"
      [style.left.px]="s.box.x * scale()"
      [style.top.px]="s.box.y * scale()"
      [style.width.px]="s.box.width * scale()"
      [style.height.px]="s.box.height * scale()"
      [style.transform]="s.turn"
      [attr.data-item]="s.id"
    >
      @if (s.veil; as v) {
        <div
          class="absolute inset-0"
          [style.backdrop-filter]="'blur(' + v.blur * scale() + 'px)'"
          [style.clip-path]="v.clip(scale())"
          [style.transform]="s.flip"
          data-veil
        ></div>
      }
      @if (s.path) {
        <svg
          class="absolute inset-0 h-full w-full overflow-visible"
          preserveAspectRatio="none"
          [attr.viewBox]="'0 0 ' + s.box.width + ' ' + s.box.height"
          [style.transform]="s.flip"
        >
          @if (s.fill.gradient; as g) {
            <defs>
              @if (g.kind === 'radial') {
                <radialGradient [attr.id]="g.id">
                  @for (stop of g.stops; track $index) {
                    <stop [attr.offset]="stop.at" [attr.stop-color]="stop.colour" [attr.stop-opacity]="stop.opacity" />
                  }
                </radialGradient>
              } @else {
                @for (line of g.lines; track line.id) {
                  <linearGradient
                    [attr.id]="line.id"
                    [attr.x1]="line.x1"
                    [attr.y1]="line.y1"
                    [attr.x2]="line.x2"
                    [attr.y2]="line.y2"
                  >
                    @for (stop of g.stops; track $index) {
                      <stop
                        [attr.offset]="stop.at"
                        [attr.stop-color]="stop.colour"
                        [attr.stop-opacity]="stop.opacity"
                      />
                    }
                  </linearGradient>
                }
                @if (g.kind === 'rectangular') {
                  <pattern [attr.id]="g.id" patternContentUnits="objectBoundingBox" width="1" height="1">
                    <rect width="1" height="1" [attr.fill]="'url(#' + g.lines[0]!.id + ')'" />
                    <path d="M0 0H1L0 1H1Z" [attr.fill]="'url(#' + g.lines[1]!.id + ')'" />
                  </pattern>
                }
              }
            </defs>
          }
          @if (s.tips) {
            <marker
              [attr.id]="s.id + '-tip'"
              viewBox="0 0 3 3"
              refX="2.2"
              refY="1.5"
              markerWidth="3"
              markerHeight="3"
              orient="auto-start-reverse"
            >
              <path d="M0 0L3 1.5L0 3Z" [attr.fill]="s.line?.fill" />
            </marker>
          }
          <path
            fill-rule="evenodd"
            [attr.d]="s.path"
            [attr.fill]="s.fill.fill"
            [attr.fill-opacity]="s.fill.opacity"
            [attr.stroke]="s.line?.fill ?? 'none'"
            [attr.stroke-opacity]="s.line?.opacity ?? 1"
            [attr.stroke-width]="s.weight"
            [attr.stroke-dasharray]="s.dashes"
            [attr.marker-start]="s.tips?.start || null"
            [attr.marker-end]="s.tips?.end || null"
          />
        </svg>
      }
      @if (s.text; as t) {
        <gable-page-words [text]="t" [scale]="scale()" />
      }
    </div>`,
  host: { class: 'contents' },
})
export class PageItem {
  readonly shape = input.required<Shape>();
  readonly scale = input.required<number>();
}

/** What is drawn of an item, ready for its element. Lengths in points. */
interface Shape {
  id: string;
  z: number;
  box: Box;
  turn: string | null;
  flip: string | null;
  path: string | null;
  veil: { blur: number; clip(k: number): string } | null;
  fill: Ink;
  line: Ink | null;
  weight: number;
  dashes: string | null;
  tips: { start: string | null | undefined | false; end: string | null | undefined | false } | null;
  text: Text | null;
}

/** What was made of items, which do not change: most stay where they are while one is moved. */
const made = new WeakMap<Item, { placed: Stacked; shape: Shape | null }>();

/** An item as it is drawn; null where nothing of it is. */
export function shapeOf(placed: Stacked): Shape | null {
  const { item, z, box, turn, flip } = placed;
  const known = made.get(item);
  if (known) {
    const { placed: was, shape } = known;
    if (was.z === z && was.turn === turn && equal(was.box, box) && equal(was.flip, flip)) return shape;
  }
  const shape = newShape(placed);
  made.set(item, { placed, shape });
  return shape;
}

function newShape({ item, z, box, turn, flip }: Stacked): Shape | null {
  const drawn = drawnOf(item);
  if (!drawn) return null;
  const { id } = item;
  const { paint, blur, outline, shape, seat, text, tips } = drawn;
  const path = paint || outline ? pathOf(box, { shape, seat }) : null;
  return {
    ...{ id, z, box },
    turn: turn === 0 ? null : `rotate(${turn}deg)`,
    flip: flip.horizontal || flip.vertical ? `scale(${flip.horizontal ? -1 : 1}, ${flip.vertical ? -1 : 1})` : null,
    path: path && toSvgPath(path),
    veil: path && blur ? { blur, clip: (k: number): string => clipOf(path, k) } : null,
    fill: inkOf(paint, `${id}-fill`),
    line: outline && inkOf(solid(outline.paint), ''),
    weight: outline?.weight ?? 0,
    dashes: outline ? DASH_PATTERN[outline.dash].map((v) => v * outline.weight).join(' ') || null : null,
    tips: outline && tips ? { start: tips.start && `url(#${id}-tip)`, end: tips.end && `url(#${id}-tip)` } : null,
    text: text && hasWords(text) ? wordsIn(box, drawn, text) : null,
  };
}

type Drawn = Pick<FramedItem, 'shape' | 'seat' | 'outline' | 'text'> & {
  paint: Paint | null;
  /** How much what lies beneath it is blurred, in points. */
  blur: number;
  tips: NonNullable<ForeignItem['look']>['tips'] | null;
};

/** What is drawn of an item: of one that is not edited, its look. */
function drawnOf(item: Item): Drawn | null {
  if (item.kind === 'foreign')
    return item.look ? { tips: null, blur: 0, ...item.look, seat: FULL_SEAT, text: null } : null;
  if (item.kind !== 'framed') return null;
  const fill = item.fill?.kind === 'paint' ? item.fill : null;
  return { ...item, paint: fill?.paint ?? null, blur: fill?.blur ?? 0, tips: null };
}

const hasWords = (text: Text): boolean => text.paragraphs.some((p) => p.runs.some((r) => r.text.trim() !== ''));

/** An outline that cannot be drawn is none. */
function pathOf(box: Box, look: Pick<Parameters<typeof framePath>[0], 'shape' | 'seat'>): Path | null {
  try {
    return framePath({ box, ...look });
  } catch {
    return null;
  }
}

/** A shape as what of an element is seen. @param k CSS pixels a point */
const clipOf = (path: Path, k: number): string => `path(evenodd, "${toSvgPath(transform(path, [k, 0, 0, k, 0, 0]))}")`;

function inkOf(paint: Paint | null, id: string): Ink {
  if (!paint) return { fill: 'none', opacity: 1, gradient: null };
  if (paint.kind === 'solid') return { fill: paint.colour, opacity: paint.opacity, gradient: null };
  const { kind } = paint;
  const angle = kind === 'linear' ? (paint.angle / 180) * Math.PI : 0;
  const line = (name: string, turn: number): { id: string; x1: number; y1: number; x2: number; y2: number } => {
    const [x, y] = [Math.cos(turn) / 2, Math.sin(turn) / 2];
    return { id: name, x1: 0.5 - x, y1: 0.5 - y, x2: 0.5 + x, y2: 0.5 + y };
  };
  const sides = kind === 'rectangular';
  return {
    fill: `url(#${id})`,
    opacity: 1,
    gradient: {
      id,
      kind,
      lines: sides ? [line(`${id}-across`, 0), line(`${id}-down`, Math.PI / 2)] : [line(id, angle)],
      stops: sides ? mirroredStops(paint) : paint.stops,
    },
  };
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  DASH_PATTERN,
  FULL_SEAT,
  framePath,
  mirroredStops,
  setIn,
  toSvgPath,
  transform,
  wordsIn,
  type Box,
  type ForeignItem,
  type FramedItem,
  type Item,
  type Mark,
  type Paint,
  type Path,
  type Placed,
  type Text,
} from '@gable/core';

import { needFonts } from './fonts';
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

/** Shapes, texts and what is not edited, where they lie on a page. Points are turned into CSS pixels by `scale`. */
@Component({
  selector: 'gable-page-items',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PageWords],
  template: `@for (s of shapes(); track s.id) {
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
                      <stop
                        [attr.offset]="stop.at"
                        [attr.stop-color]="stop.colour"
                        [attr.stop-opacity]="stop.opacity"
                      />
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
      </div>
    }
    @for (l of likenesses(); track l.url) {
      <img
        class="absolute max-w-none"
        alt=""
        [src]="l.url"
        [style.z-index]="l.z"
        [style.left.px]="l.box.x * scale()"
        [style.top.px]="l.box.y * scale()"
        [style.width.px]="l.box.width * scale()"
        [style.height.px]="l.box.height * scale()"
        [style.transform]="l.turn === 0 ? null : 'rotate(' + l.turn + 'deg)'"
      />
    }
    @for (m of marks(); track $index) {
      <div
        class="absolute"
        [style.z-index]="m.z"
        [class]="
          m.mark.inset === undefined
            ? m.mark.edges || m.mark.words
              ? ''
              : 'flex items-center overflow-hidden whitespace-pre-wrap'
            : 'flex items-end whitespace-pre' + (m.mark.edges ? '' : ' overflow-hidden')
        "
        [style.left.px]="m.mark.box.x * scale()"
        [style.top.px]="m.mark.box.y * scale()"
        [style.width.px]="m.mark.box.width * scale()"
        [style.height.px]="m.mark.box.height * scale()"
        [style.transform]="m.mark.turn === 0 ? null : 'rotate(' + m.mark.turn + 'deg)'"
        [style.background-color]="m.mark.fill"
        [style.color]="m.mark.colour"
        [style.font-size.px]="m.mark.size * scale()"
        [style.line-height]="1.2"
        [style.padding]="(m.mark.inset === undefined ? 4 : 0) * scale() + 'px ' + (m.mark.inset ?? 4) * scale() + 'px'"
        [style.justify-content]="m.mark.align"
        [style.text-align]="m.mark.align"
        [style.font-family]="m.mark.font ? quoted(m.mark.font) : null"
        [style.font-weight]="m.mark.weight"
        [style.font-style]="m.mark.italic ? 'italic' : null"
      >
        @for (line of edgesOf(m.mark); track line.side) {
          <span
            class="absolute"
            [class]="sides[line.side]"
            [style.background-color]="line.colour"
            [style.--w.px]="line.weight * scale()"
          ></span>
        }
        @if (m.mark.words; as t) {
          <gable-page-words [text]="t" [scale]="scale()" />
        }
        {{ m.mark.text }}
      </div>
    }`,
  host: { class: 'pointer-events-none contents', 'aria-hidden': 'true' },
})
export class PageItems {
  constructor() {
    needFonts();
  }

  readonly items = input.required<readonly Stacked[]>();
  readonly scale = input.required<number>();
  /** Where the picture of an item is found. */
  readonly likenessOf = input<(item: string) => string>((item) => item);

  protected readonly shapes = computed(() =>
    this.items().flatMap(({ item, z, box, turn, flip }) => {
      const drawn = drawnOf(item);
      if (!drawn) return [];
      const { id } = item;
      const { paint, blur, outline, shape, seat, text, tips } = drawn;
      const path = paint || outline ? pathOf(box, { shape, seat }) : null;
      return [
        {
          id,
          z,
          box,
          turn: turn === 0 ? null : `rotate(${turn}deg)`,
          flip:
            flip.horizontal || flip.vertical ? `scale(${flip.horizontal ? -1 : 1}, ${flip.vertical ? -1 : 1})` : null,
          path: path && toSvgPath(path),
          veil: path && blur ? { blur, clip: (k: number): string => clipOf(path, k) } : null,
          fill: inkOf(paint, `${id}-fill`),
          line: outline && inkOf(solid(outline.paint), ''),
          weight: outline?.weight ?? 0,
          dashes: outline ? DASH_PATTERN[outline.dash].map((v) => v * outline.weight).join(' ') || null : null,
          tips: outline && tips ? { start: tips.start && `url(#${id}-tip)`, end: tips.end && `url(#${id}-tip)` } : null,
          text: text && hasWords(text) ? wordsIn(box, drawn, text) : null,
        },
      ];
    }),
  );
  /** Pictures that the file holds of what is not shown. */
  protected readonly likenesses = computed(() =>
    this.items().flatMap(({ item, z, box, turn }) =>
      item.kind === 'foreign' && item.likeness ? [{ url: this.likenessOf()(item.id), z, box, turn }] : [],
    ),
  );
  protected readonly marks = computed(() =>
    this.items().flatMap(({ item, z }) =>
      item.kind === 'foreign' && !item.likeness ? (item.preview ?? []).map((mark: Mark) => ({ mark, z })) : [],
    ),
  );

  /** Lines lie on the edges of their box, half on each side. */
  protected readonly sides: Record<string, string> = {
    top: 'left-0 right-0 top-[calc(var(--w)/-2)] h-[var(--w)]',
    bottom: 'left-0 right-0 bottom-[calc(var(--w)/-2)] h-[var(--w)]',
    left: 'top-0 bottom-0 left-[calc(var(--w)/-2)] w-[var(--w)]',
    right: 'top-0 bottom-0 right-[calc(var(--w)/-2)] w-[var(--w)]',
  };

  protected edgesOf({ edges = {} }: Mark): { side: string; weight: number; colour: string }[] {
    return Object.entries(edges).map(([side, line]) => ({ side, ...line }));
  }

  protected quoted(font: string): string {
    return setIn(font).css;
  }
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

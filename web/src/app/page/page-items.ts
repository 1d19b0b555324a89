import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  framePath,
  lineIn,
  mirroredStops,
  setIn,
  toSvgPath,
  type Box,
  type Mark,
  type Paint,
  type Placed,
  type Text,
} from '@gable/core';

import { needFonts } from './fonts';

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

const ALIGN = { start: 'left', centre: 'center', end: 'right', justify: 'justify' } as const;
const ANCHOR = { top: 'flex-start', middle: 'center', bottom: 'flex-end' } as const;

/** Shapes, texts and what is not edited, where they lie on a page. Points are turned into CSS pixels by `scale`. */
@Component({
  selector: 'gable-page-items',
  changeDetection: ChangeDetectionStrategy.OnPush,
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
            <path
              fill-rule="evenodd"
              [attr.d]="s.path"
              [attr.fill]="s.fill.fill"
              [attr.fill-opacity]="s.fill.opacity"
              [attr.stroke]="s.line?.fill ?? 'none'"
              [attr.stroke-opacity]="s.line?.opacity ?? 1"
              [attr.stroke-width]="s.weight"
            />
          </svg>
        }
        @if (s.text; as t) {
          <div
            class="absolute inset-0 flex flex-col whitespace-pre-wrap leading-[1.2]"
            [style.justify-content]="anchors[t.anchor]"
            [style.padding-top.px]="t.inset.top * scale()"
            [style.padding-right.px]="t.inset.right * scale()"
            [style.padding-bottom.px]="t.inset.bottom * scale()"
            [style.padding-left.px]="t.inset.left * scale()"
          >
            @for (p of t.paragraphs; track $index) {
              <p
                [style.text-align]="aligns[p.align]"
                [style.padding-left.px]="(p.indent?.left ?? 0) * scale()"
                [style.text-indent.px]="(p.indent?.first ?? 0) * scale()"
                [style.margin-top.px]="$first ? 0 : (p.spacing?.before ?? 0) * scale()"
                [style.line-height]="lineOf(p)"
              >
                @if (p.bullet) {
                  <span
                    class="inline-block"
                    [style.min-width.px]="-(p.indent?.first ?? 0) * scale()"
                    [style.text-indent.px]="0"
                    [style.font-size.px]="(p.runs[0]?.size ?? 12) * scale()"
                    [style.color]="p.runs[0] ? colourOf(p.runs[0].paint) : null"
                    >{{ p.bullet }}</span
                  >
                }
                @for (run of p.runs; track $index) {
                  <span
                    [style.font-family]="run.font ? quoted(run.font) : null"
                    [style.font-size.px]="run.size * scale()"
                    [style.font-weight]="run.weight"
                    [style.font-style]="run.italic ? 'italic' : null"
                    [style.text-decoration]="run.underline ? 'underline' : null"
                    [style.color]="colourOf(run.paint)"
                    >{{ run.text }}</span
                  >
                } @empty {
                  <br />
                }
              </p>
            }
          </div>
        }
      </div>
    }
    @for (m of marks(); track $index) {
      <div
        class="absolute"
        [style.z-index]="m.z"
        [class]="
          m.mark.inset === undefined
            ? 'whitespace-pre-wrap'
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
  protected readonly aligns = ALIGN;
  protected readonly anchors = ANCHOR;

  protected readonly shapes = computed(() =>
    this.items().flatMap(({ item, z, box, turn, flip }) => {
      if (item.kind !== 'framed') return [];
      const { id, fill, outline, shape, seat, text } = item;
      const paint = fill?.kind === 'paint' ? fill.paint : null;
      return [
        {
          id,
          z,
          box,
          turn: turn === 0 ? null : `rotate(${turn}deg)`,
          flip:
            flip.horizontal || flip.vertical ? `scale(${flip.horizontal ? -1 : 1}, ${flip.vertical ? -1 : 1})` : null,
          path: paint || outline ? pathOf(box, { shape, seat }) : null,
          fill: inkOf(paint, `${id}-fill`),
          line: outline && inkOf(solid(outline.paint), ''),
          weight: outline?.weight ?? 0,
          text: text && hasWords(text) ? text : null,
        },
      ];
    }),
  );
  protected readonly marks = computed(() =>
    this.items().flatMap(({ item, z }) =>
      item.kind === 'foreign' ? (item.preview ?? []).map((mark: Mark) => ({ mark, z })) : [],
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

  /** From line to line, in ems. */
  protected lineOf({ runs, spacing }: Text['paragraphs'][number]): number {
    return lineIn(runs[0]?.font ?? '') * (spacing?.lines ?? 1);
  }

  protected colourOf(paint: Paint): string {
    const of = solid(paint);
    return of.kind === 'solid' ? of.colour : '#22302f';
  }
}

const hasWords = (text: Text): boolean => text.paragraphs.some((p) => p.runs.some((r) => r.text.trim() !== ''));

/** An outline that cannot be drawn is none. */
function pathOf(box: Box, look: Pick<Parameters<typeof framePath>[0], 'shape' | 'seat'>): string | null {
  try {
    return toSvgPath(framePath({ box, ...look }));
  } catch {
    return null;
  }
}

/** Of a gradient its middle colour. */
const solid = (paint: Paint): Paint => {
  if (paint.kind === 'solid') return paint;
  const { colour, opacity } = paint.stops[Math.floor((paint.stops.length - 1) / 2)]!;
  return { kind: 'solid', colour, opacity };
};

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

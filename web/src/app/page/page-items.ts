import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { setIn, type Mark } from '@gable/core';
import { needFonts } from './fonts';
import { PageItem, shapeOf, type Stacked } from './page-item';
import { PageWords } from './page-words';

export type { Stacked } from './page-item';

/** Shapes, texts and what is not edited, where they lie on a page. Points are turned into CSS pixels by `scale`. */
@Component({
  selector: 'gable-page-items',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PageItem, PageWords],
  template: `@for (s of shapes(); track s.id) {
      <gable-page-item [shape]="s" [scale]="scale()" />
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
    this.items().flatMap((placed) => {
      const shape = shapeOf(placed);
      return shape ? [shape] : [];
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

import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { setIn, type Text } from '@gable/core';
import { ALIGN, ANCHOR, colourOf, lineOf } from './set-words';

/** Words in the box that they stand in. Points are turned into CSS pixels by `scale`. */
@Component({
  selector: 'gable-page-words',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div
    class="absolute inset-0 flex flex-col whitespace-pre-wrap leading-[1.2]"
    [style.justify-content]="anchors[text().anchor]"
    [style.padding-top.px]="text().inset.top * scale()"
    [style.padding-right.px]="text().inset.right * scale()"
    [style.padding-bottom.px]="text().inset.bottom * scale()"
    [style.padding-left.px]="text().inset.left * scale()"
  >
    @for (p of text().paragraphs; track $index) {
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
            [style.font-family]="quoted(run.font)"
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
  </div>`,
  host: { class: 'contents' },
})
export class PageWords {
  readonly text = input.required<Text>();
  readonly scale = input.required<number>();
  protected readonly aligns = ALIGN;
  protected readonly anchors = ANCHOR;
  protected readonly lineOf = lineOf;
  protected readonly colourOf = colourOf;

  protected quoted(font: string): string {
    return setIn(font).css;
  }
}

import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  frameOfItem,
  paintedBounds,
  resolveTies,
  type Box,
  type Document,
  type Frame,
  type PieceItem,
} from '@gable/core';
import type { Try } from '../bench/tries';
import { PageItems, type Stacked } from '../page/page-items';
import { TryCanvas } from '../paint/try-canvas';
import { TrySheet } from '../paint/try-sheet';

/** Room round what is shown, as a share of it; and how much of a page round the picture is shown at most. */
const MARGIN = 0.04;
const MOST = 0.8;

/** A picture with what would be put round it, small. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-around-face',
  imports: [PageItems, TryCanvas],
  // Between what is behind it and in front, the picture has a canvas of its own.
  providers: [{ provide: TrySheet, useValue: null }],
  template: `@if (shown(); as s) {
    <div class="absolute inset-0 overflow-hidden rounded" [style.background]="s.ground">
      <gable-page-items [items]="s.behind" [scale]="s.k" />
      <gable-try-canvas
        class="absolute"
        [style.left.px]="s.at.x"
        [style.top.px]="s.at.y"
        [style.width.px]="s.at.width"
        [style.height.px]="s.at.height"
        [key]="key()"
        [frame]="s.frame"
        [width]="s.at.width"
        [height]="s.at.height"
        [margin]="0"
        [whole]="true"
        [asleep]="asleep()"
      />
      <gable-page-items [items]="s.front" [scale]="s.k" />
    </div>
  }`,
  host: { class: 'relative isolate block', 'aria-hidden': 'true' },
})
export class AroundFace {
  readonly of = input.required<NonNullable<Try['add']>>();
  readonly key = input.required<string>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  readonly asleep = input(false);

  protected readonly shown = computed(() => {
    const { made, context } = this.of();
    const { picture, page, ground } = context;
    const document: Document = {
      ...{ version: 1, flows: false, layers: [], stories: [] },
      pages: [{ ...page, items: [picture.id, ...made.map(({ item }) => item.id)] }],
      items: Object.fromEntries([picture, ...made.map(({ item }) => item)].map((i) => [i.id, i])),
    };
    const { items } = resolveTies(document);
    const frame: Frame = { ...frameOfItem(picture, 1), box: picture.at.box };
    const b = paintedBounds(frame);
    const painted: Box = { ...b, x: frame.box.x + b.x, y: frame.box.y + b.y };
    const view = viewOf(
      painted,
      made.map(({ item }) => items[item.id]!.at.box),
    );
    const k = Math.min(this.width() / view.width, this.height() / view.height);
    const off = {
      x: (this.width() - view.width * k) / 2 - view.x * k,
      y: (this.height() - view.height * k) / 2 - view.y * k,
    };
    const moved = (box: Box): Box => ({ ...box, x: box.x + off.x / k, y: box.y + off.y / k });
    const of = (layer: PieceItem['layer']): Stacked[] =>
      made.flatMap((m, z): Stacked[] => {
        const item = items[m.item.id]!;
        if (m.layer !== layer || item.kind !== 'framed') return [];
        return [{ item, box: moved(item.at.box), turn: item.turn, flip: item.flip, z }];
      });
    const at = moved(painted);
    return {
      ...{ k, ground, frame, behind: of('behind'), front: of('front') },
      at: { x: at.x * k, y: at.y * k, width: at.width * k, height: at.height * k },
    };
  });
}

/** What is looked at: the picture with what is round it, of a band only its beginning. */
function viewOf(painted: Box, others: readonly Box[]): Box {
  const reach = Math.max(painted.width, painted.height) * MOST;
  const left = Math.max(painted.x - reach, Math.min(painted.x, ...others.map((o) => o.x)));
  const top = Math.max(painted.y - reach, Math.min(painted.y, ...others.map((o) => o.y)));
  const right = Math.min(
    painted.x + painted.width + reach,
    Math.max(painted.x + painted.width, ...others.map((o) => o.x + o.width)),
  );
  const bottom = Math.min(
    painted.y + painted.height + reach,
    Math.max(painted.y + painted.height, ...others.map((o) => o.y + o.height)),
  );
  const edge = MARGIN * Math.max(right - left, bottom - top);
  return { x: left - edge, y: top - edge, width: right - left + 2 * edge, height: bottom - top + 2 * edge };
}

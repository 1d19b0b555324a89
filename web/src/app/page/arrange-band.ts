import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import {
  addedId,
  applyAll,
  groundOf,
  isPictureItem,
  itemIdOf,
  marginOf,
  resolveTies,
  roomOf,
  spreadable,
  spreading,
  SPREADS,
  stackOf,
  withFrame,
  type Arranged,
  type Box,
  type Document,
  type ItemId,
  type Operation,
  type Page,
  type Spread,
  type SpreadWish,
} from '@gable/core';
import { Edit } from '../bench/edit';
import { FigureField } from '../ui/figure-field';
import { chosenIn, framing, shownDocument, sizeOf, takenFrame, type WorkModel } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Several } from './several';
import { SmallPage } from './small-page';

/** Of a small page, in CSS pixels. */
const HIGH = 70;
const WIDEST = 130;
/** Between pictures at first, in points. */
const GAP = 12;
/** What stands below a picture that has no alt text. */
const TITLE = 'Title';
/** An alt text is a title as far as this, in letters. */
const LONGEST = 40;

/** The pictures of a page arranged: tries of ways, with gaps in figures, and titles below the pictures. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-arrange-band',
  imports: [FigureField, SmallPage],
  template: `@if (shown(); as s) {
    <div class="flex h-[30px] items-baseline gap-4">
      <h2 class="truncate text-[15px]">Arrange {{ s.name }}</h2>
      <span class="text-[13px] text-soft">{{ s.words }}</span>
      <span class="grow"></span>
      <button type="button" class="word shrink-0 text-[13px]" (click)="closed.emit()">
        {{ only ? 'Back to alignments' : 'Back to the picture' }}
      </button>
    </div>
    <div class="flex h-[222px] min-h-0 gap-6">
      <div
        role="group"
        aria-label="Arrangements"
        class="flex min-w-0 grow flex-wrap content-start gap-x-2 gap-y-1 overflow-y-auto pt-1"
      >
        @for (t of s.tries; track t.spread.name) {
          <button
            type="button"
            class="flex flex-col gap-1 rounded-md p-1 text-left hover:bg-ink/5 aria-pressed:outline-2 aria-pressed:outline-mark"
            [attr.aria-pressed]="t.spread === chosen()"
            (click)="choose(t.spread)"
          >
            <gable-small-page
              class="rounded-[3px] shadow-[0_0_0_1px_var(--line)]"
              [placed]="t.placed"
              [size]="s.size"
              [width]="s.width"
              [height]="s.height"
              [ground]="s.ground"
            />
            <span class="text-[13px]">{{ t.spread.label }}</span>
          </button>
        }
      </div>
      <div class="flex w-[244px] shrink-0 flex-col gap-3 border-l border-line pl-4 pt-1 text-[13px]">
        <gable-figure-field
          label="Gap"
          kind="length"
          [value]="gap()"
          [min]="0"
          [max]="s.most"
          (changed)="figure(gap, $event)"
        />
        @if (!only) {
          <gable-figure-field
            label="Margin"
            kind="length"
            [value]="s.margin"
            [min]="0"
            [max]="s.most"
            (changed)="figure(margin, $event)"
          />
        }
        <label class="flex items-center gap-2">
          <input
            type="checkbox"
            class="size-4 accent-ink"
            [checked]="titles()"
            (change)="title($any($event.target).checked)"
          />
          <span>Titles below, from alt texts</span>
        </label>
      </div>
    </div>
  }`,
  host: { class: 'block min-w-0 grow', role: 'region', 'aria-label': 'Settings' },
})
export class ArrangeBand {
  private readonly state = inject(WorkStore);
  private readonly edit = inject(Edit);
  private readonly several = inject(Several);
  readonly closed = output();

  /** The pictures that are chosen, which then keep to the room that they take as it is opened; null for all of the page. */
  protected readonly only = this.chosenPictures();

  /** In points; the margin until it is typed is a share of the page. */
  protected readonly gap = signal(GAP);
  protected readonly margin = signal<number | null>(null);
  protected readonly titles = signal(false);
  /** What was chosen here last: it goes on with other figures. */
  protected readonly chosen = signal<Spread | null>(null);

  /** What came with the arrangement that was chosen last: it goes when another is chosen. */
  private readonly came = signal<readonly ItemId[]>([]);

  private readonly page = computed(() => {
    const m = this.state.model();
    const shown = m && shownDocument(m);
    if (!m || !shown) return null;
    const here = new Set(shown.pages[this.edit.page() - 1]?.items);
    const gone = this.came().flatMap((id): Operation[] => (here.has(id) ? [{ op: 'remove', id }] : []));
    const { document } = applyAll(shown, gone);
    const page = document.pages[this.edit.page() - 1];
    return page ? { m, gone, document, page } : null;
  });

  private chosenPictures(): { ids: ReadonlySet<ItemId>; room: Box } | null {
    const m = this.state.model$.value;
    const pictures = this.several.chosen().flatMap(({ item }) => (isPictureItem(item) ? item.id : []));
    return m && pictures.length > 1 ? { ids: new Set(pictures), room: roomOf(shownDocument(m), pictures) } : null;
  }

  protected readonly shown = computed(() => {
    const it = this.page();
    if (!it) return null;
    const { m, document, page } = it;
    const { size } = page;
    const height = Math.min(HIGH, (WIDEST * size.height) / size.width);
    const pictures = this.pictures(m);
    const count = spreadable(document, page).filter((i) => pictures.has(i.id)).length;
    return {
      ...{ size, height, width: (height * size.width) / size.height, ground: groundOf(page) },
      name: this.only ? `the ${count} chosen` : `${this.edit.pageName().toLowerCase()} ${this.edit.page()}`,
      words: `${count} pictures. Each keeps its shape and what stands around it.`,
      margin: this.margin() ?? marginOf(page),
      most: Math.min(size.width, size.height) / 3,
      tries: SPREADS.filter(({ only }) => only === undefined || only === count).map((spread) => ({
        spread,
        placed: stackOf(...spreadOut(document, page, this.wish(m, spread, pictures))),
      })),
    };
  });

  private wish(m: WorkModel, spread: Spread, pictures = this.pictures(m)): SpreadWish {
    const page = this.page()!.page;
    const title = (id: ItemId): string => {
      const alt = m.document.items[id]?.alt.trim() ?? '';
      return alt !== '' && alt.length <= LONGEST ? alt : TITLE;
    };
    return {
      ...{ spread, gap: this.gap(), margin: this.margin() ?? marginOf(page), pictures },
      ...(this.only && { room: this.only.room }),
      titles: this.titles() ? { of: title } : null,
      newId: () => addedId(crypto.randomUUID()),
    };
  }

  private pictures(m: WorkModel): ReadonlyMap<ItemId, Arranged> {
    return new Map(
      m.work.pictures
        .filter((p) => this.only?.ids.has(itemIdOf(p)) ?? true)
        .map((p) => {
          const frame = takenFrame(m, p.n);
          const { subject } = this.state.facts(frame);
          return [itemIdOf(p), { frame, size: sizeOf(p, frame), ...(subject && { subject }) }];
        }),
    );
  }

  /** Arranges the pictures in one step, once all that are cut have been looked at. */
  protected async choose(spread: Spread, name = 'arrangement'): Promise<void> {
    this.chosen.set(spread);
    const { m, document, page } = this.page()!;
    const pictures = this.pictures(m);
    const frames = spreadable(document, page).flatMap((i) => pictures.get(i.id)?.frame ?? []);
    if (spread.even) await this.state.lookAt(frames);
    const now = this.page();
    if (!now || now.page.id !== page.id) return;
    const { frames: next, around } = spreading(now.document, now.page, this.wish(now.m, spread));
    const operations = [...now.gone, ...[...next.values()].flatMap((frame) => framing(now.m, frame)), ...around];
    if (operations.length === 0) return;
    const came = around.flatMap((o) => (spread.dress && o.op === 'add' ? [o.item.id] : []));
    this.came.set(came);
    const chosen = chosenIn(now.m);
    this.state.act(name, operations, null);
    // What is chosen stays so.
    if (this.only) this.state.chooseAll(chosen);
  }

  protected figure(of: typeof this.gap | typeof this.margin, value: number): void {
    of.set(value);
    this.again('gap');
  }

  protected title(on: boolean): void {
    this.titles.set(on);
    if (on) this.again('titles');
  }

  private again(name: string): void {
    const spread = this.chosen();
    if (spread) void this.choose(spread, name);
  }
}

/** The page as it would be. */
function spreadOut(document: Document, page: Page, wish: SpreadWish): [Document, Page] {
  const { frames, around } = spreading(document, page, wish);
  const items = { ...document.items };
  for (const [id, frame] of frames) {
    const item = items[id];
    if (item && isPictureItem(item)) items[id] = withFrame(item, frame, wish.pictures.get(id)!.size);
  }
  const next = resolveTies(applyAll({ ...document, items }, around).document);
  return [next, next.pages.find((p) => p.id === page.id)!];
}

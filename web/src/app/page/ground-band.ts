import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import {
  contrast,
  groundColours,
  groundOf,
  groundsFrom,
  inking,
  isAdded,
  leastContrast,
  papersOf,
  stackOf,
  unreadableOn,
  type Document,
  type Operation,
  type Page,
  type Placed,
} from '@gable/core';
import { restylable } from '../around/items';
import { Edit } from '../bench/edit';
import { ColourField } from '../ui/colour-field';
import { shownDocument } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { SmallPage } from './small-page';

/** Of a small page, in CSS pixels. */
const HIGH = 66;
const WIDEST = 118;
/** Letters of a text, which are not asked one by one. */
const TEXT = { size: 11, weight: 400 };

/** The colour behind a page: tries from the colours of the page and its pictures, with what each does to its words. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-ground-band',
  imports: [ColourField, SmallPage],
  template: `@if (shown(); as s) {
    <div class="flex h-[30px] items-baseline gap-4">
      <h2 class="truncate text-[15px]">Background of {{ s.name }}</h2>
      <span class="text-[13px]" [class]="s.failing === 0 ? 'text-soft' : 'text-warn-text'" role="status">{{
        s.words
      }}</span>
      @if (s.failing > 0 && canInk()) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="ink()">Make the words readable</button>
      }
      <span class="grow"></span>
      @if (s.changed) {
        <button type="button" class="word shrink-0 text-[13px]" (click)="reset()">Reset background</button>
      }
      <button type="button" class="word shrink-0 text-[13px]" (click)="closed.emit()">Back to the picture</button>
    </div>
    <div class="flex h-[222px] min-h-0 gap-6">
      <div
        role="group"
        aria-label="Backgrounds"
        class="flex min-w-0 grow flex-wrap content-start gap-x-2 gap-y-1 overflow-y-auto pt-1"
      >
        @for (t of s.tries; track t.colour) {
          <button
            type="button"
            class="flex flex-col gap-1 rounded-md p-1 text-left hover:bg-ink/5 aria-pressed:outline-2 aria-pressed:outline-mark"
            [attr.aria-pressed]="t.current"
            [attr.aria-label]="t.label"
            [title]="t.colour"
            (click)="choose(t.colour)"
          >
            <gable-small-page
              class="self-start rounded-[3px] shadow-[0_0_0_1px_var(--line)]"
              [placed]="s.placed"
              [size]="s.size"
              [width]="s.width"
              [height]="s.height"
              [ground]="t.colour"
            />
            <span class="text-[12px]" [class]="t.failing === 0 ? 'text-good' : 'text-warn-text'">{{ t.note }}</span>
          </button>
        }
      </div>
      <div class="w-[244px] shrink-0 border-l border-line pl-4 pt-1">
        <gable-colour-field
          label="Colour"
          [value]="s.ground"
          [picture]="edit.palette()"
          [document]="edit.colours()"
          (changed)="choose($event)"
        />
      </div>
    </div>
  }`,
  host: { class: 'block min-w-0 grow', role: 'region', 'aria-label': 'Settings' },
})
export class GroundBand {
  private readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
  readonly closed = output();

  private readonly colours = computed(() => [...this.edit.colours(), ...this.edit.palette()]);
  /** Can words of the file get another colour? */
  protected readonly canInk = computed(() => this.inkable().length > 0);

  protected readonly shown = computed(() => {
    const m = this.state.model();
    const document = m && shownDocument(m);
    const page = document?.pages[this.edit.page() - 1] ?? (document && textPage(document));
    if (!m || !document || !page) return null;
    const { size } = page;
    const height = Math.min(HIGH, (WIDEST * size.height) / size.width);
    const ground = groundOf(page);
    // The words of a text itself are black as a rule.
    const count = (colour: string): number =>
      document.flows
        ? Number(contrast('#000000', colour) < leastContrast(TEXT.size, TEXT.weight))
        : unreadableOn(document, page, { ground: colour, colours: this.colours() }).length;
    const failing = count(ground);
    const placed: Placed[] = stackOf(document, page);
    const all = groundColours(this.colours());
    return {
      ...{ size, ground, height, placed, failing, width: (height * size.width) / size.height },
      name: document.flows ? 'all pages' : `${this.edit.pageName().toLowerCase()} ${this.edit.page()}`,
      words: document.flows
        ? ofText(failing)
        : failing === 0
          ? 'All words can be read.'
          : `${wordsOf(failing)} hard to read.`,
      changed: groundsFrom(m.file, m.document).grounds?.[page.id] !== undefined,
      tries: (all.includes(ground) ? all : [ground, ...all]).map((colour) => {
        const n = count(colour);
        const note = n === 0 ? 'readable' : document.flows ? 'hard to read' : `${n} hard to read`;
        const tone = contrast(colour, '#ffffff') >= 7 ? 'dark' : 'pale';
        return { colour, note, failing: n, current: colour === ground, label: `${colour}, ${tone}: ${note}` };
      }),
    };
  });

  private inkable(): ReturnType<typeof unreadableOn> {
    const m = this.state.model();
    const page = m && shownDocument(m).pages[this.edit.page() - 1];
    if (!m || !page || m.document.flows) return [];
    const can = restylable(m);
    const failing = unreadableOn(shownDocument(m), page, { colours: this.colours() });
    return failing.filter(({ item: { id } }) => isAdded(id) || can.has(id));
  }

  private page(): string {
    const { file } = this.state.model$.value!;
    return (file.pages[this.edit.page() - 1] ?? textPage(file)!).id;
  }

  protected choose(colour: string): void {
    const ground = { kind: 'paint', paint: { kind: 'solid', colour, opacity: 1 } };
    this.act('background', [{ op: 'page-set', id: this.page(), path: 'ground', value: ground }]);
  }

  protected reset(): void {
    const m = this.state.model$.value!;
    const id = this.page();
    const was = papersOf(m.file).find((p) => p.id === id)?.ground ?? undefined;
    if (was || m.file.flows)
      this.act('background reset', [{ op: 'page-set', id: this.page(), path: 'ground', value: was }]);
  }

  /** Gives all words of the page that cannot be read a colour in which they can. */
  protected ink(): void {
    this.act('words made readable', inking(this.inkable()));
  }

  private act(name: string, operations: readonly Operation[]): void {
    // Whatever is chosen stays so.
    this.state.act(name, operations, this.state.model$.value!.item);
  }
}

const ofText = (failing: number): string =>
  failing === 0 ? 'The text can be read on it.' : 'Black text is hard to read on it.';

/** A page of a text, as far as what is behind it is concerned. */
function textPage({ stories }: Document): Page | undefined {
  const body = stories.find((s) => s.kind === 'body');
  if (!body?.page) return undefined;
  const { page, id } = body;
  const { width, height, margins, ground = null } = page;
  return { id, size: { width, height }, margins, ground, layers: [], items: [] };
}

const wordsOf = (n: number): string => (n === 1 ? 'One text is' : `${n} texts are`);

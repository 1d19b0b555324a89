import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  untracked,
  viewChild,
} from '@angular/core';
import {
  isAdded,
  isPictureItem,
  itemIdOf,
  POINTS,
  uprightBounds,
  wordsIn,
  type FramedItem,
  type Placed,
} from '@gable/core';
import { arrowOf } from '../ui/roving';
import { WorkStore } from '../work/work-store';
import { Several } from '../page/several';
import { ANCHOR } from '../page/set-words';
import { AroundEdit } from './around-edit';
import { canMove, isWordsOfPage, nameOf, restylable, standsInText } from './items';

/** So far something is dragged before it moves, in CSS pixels. */
const LONG = 4;

/** What was put round pictures, where it lies on a page: chosen by a click, dragged, and typed into. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-item-layer',
  template: `@for (i of own(); track i.item.id) {
      <div
        class="absolute touch-none outline-offset-2"
        role="button"
        [attr.data-added]="i.added ? i.item.id : null"
        [attr.data-own]="i.added ? null : i.item.id"
        [attr.inert]="several.has(i.item.id) ? '' : null"
        [attr.aria-label]="i.label"
        [attr.aria-pressed]="i.chosen"
        [tabindex]="i.stops ? 0 : -1"
        [style.z-index]="beneath() ? null : i.chosen ? 99998 : i.z"
        [class.outline-2]="i.chosen && !around.typing() && !several.active()"
        [class.outline-mark]="i.chosen"
        [class.pointer-events-none]="i.hollow && !i.chosen"
        [class.cursor-move]="i.moves"
        [class.cursor-pointer]="!i.moves"
        [style.left.px]="i.box.x"
        [style.top.px]="i.box.y"
        [style.width.px]="i.box.width"
        [style.height.px]="i.box.height"
        [style.transform]="i.turn === 0 ? null : 'rotate(' + i.turn + 'deg)'"
        (pointerdown)="down($event, i.item)"
        (pointermove)="moved($event)"
        (pointerup)="up($event)"
        (pointercancel)="drag = null"
        (click)="$event.stopPropagation()"
        (dblclick)="type(i.item, $event)"
        (keydown)="key($event, i.item)"
      ></div>
    }
    @if (typed(); as t) {
      <div
        class="absolute z-[99999] flex flex-col overflow-visible outline-2 outline-mark"
        [style.left.px]="t.box.x"
        [style.top.px]="t.box.y"
        [style.width.px]="t.box.width"
        [style.min-height.px]="t.box.height"
        [style.transform]="t.turn === 0 ? null : 'rotate(' + t.turn + 'deg)'"
        [style.justify-content]="t.justify"
        [style.padding]="t.padding"
        [style.background-color]="t.background"
        [style.font-family]="t.font"
      >
        <div
          #field
          role="textbox"
          aria-multiline="true"
          aria-label="Words"
          class="w-full cursor-text select-text break-words whitespace-pre-wrap outline-none [&>p:first-child]:!mt-0"
          [style.--k]="scale()"
          (focusout)="around.leave($event)"
          (keydown)="$event.stopPropagation()"
          (pointerdown)="$event.stopPropagation()"
        ></div>
      </div>
    }`,
  host: { class: 'contents' },
})
export class ItemLayer {
  private readonly state = inject(WorkStore);
  protected readonly around = inject(AroundEdit);
  protected readonly several = inject(Several);
  /** What lies on the page that is seen, from the back. */
  readonly items = input.required<readonly Placed[]>();
  /** Do pictures lie over all of it? */
  readonly beneath = input(false);
  /** CSS pixels to the point. */
  readonly scale = input.required<number>();
  private readonly field = viewChild<ElementRef<HTMLElement>>('field');

  protected readonly own = computed(() => {
    const k = this.scale();
    const chosen = this.state.model()?.item ?? null;
    // Of all the words of a web page one is a stop on the way through the page; arrows lead to the others.
    const words = this.items().filter((i) => isWordsOfPage(i.item));
    const stop = (words.find((i) => i.item.id === chosen) ?? words[0])?.item.id;
    return this.items().flatMap(({ item, box, turn }, z) =>
      item.kind === 'framed' && (isAdded(item.id) || this.isOwn(item))
        ? [
            {
              ...{
                item,
                turn,
                added: isAdded(item.id),
                z: z + 1,
                chosen: item.id === chosen,
                moves: canMove(item),
                label: nameOf(item),
                stops: !isWordsOfPage(item) || item.id === stop,
              },
              box: { x: box.x * k, y: box.y * k, width: box.width * k, height: box.height * k },
              // Through a ring, and a veil, the picture is taken hold of.
              hollow: !item.text && (item.fill === null || item.tie?.as === 'around' || item.tie?.as === 'along'),
            },
          ]
        : [],
    );
  });

  /** Shapes and words of the page itself that can look otherwise. */
  private readonly restyled = computed(() => {
    const m = this.state.model();
    return m ? restylable(m) : new Set<string>();
  });
  private isOwn(item: FramedItem): boolean {
    const lies = item.at.on === 'page' || item.at.on === 'group' || standsInText(item);
    return !isPictureItem(item) && !item.awaits && lies && this.restyled().has(item.id);
  }

  /** The words that are typed, as they stand on the page. */
  protected readonly typed = computed(() => {
    const item = this.around.item();
    const placed = this.around.typing() ? this.own().find((i) => i.item.id === item?.id) : undefined;
    if (!placed?.item.text) return null;
    const k = this.scale();
    const { inset, anchor } = wordsIn(placed.item.at.box, placed.item, placed.item.text);
    const fill = placed.item.fill;
    return {
      ...{ id: placed.item.id, box: placed.box, turn: placed.turn, justify: ANCHOR[anchor] },
      padding: [inset.top, inset.right, inset.bottom, inset.left].map((v) => `${v * k}px`).join(' '),
      font: this.around.fontOf(placed.item),
      background: fill?.kind === 'paint' && fill.paint.kind === 'solid' ? fill.paint.colour : null,
    };
  });
  protected readonly typedId = computed(() => this.typed()?.id ?? null);

  constructor() {
    // The words are put there once: from then on they are the author's to change.
    effect((onCleanup) => {
      const id = this.typedId();
      const field = this.field()?.nativeElement;
      if (id === null || !field) return;
      let isOver = false;
      onCleanup(() => {
        isOver = true;
        this.around.editor()?.destroy();
        this.around.editor.set(null);
        this.around.marked.set(null);
      });
      void this.around.typesetter.then(({ WordsEditor }) => {
        const text = untracked(() => this.around.words());
        if (isOver || !text) return;
        this.around.grab();
        const editor = new WordsEditor(field, text, {
          changed: (next, high) => this.around.slide('words', (i) => grown({ ...i, text: next }, high / this.scale())),
          marked: (look) => this.around.marked.set(look),
          done: () => this.around.leave(),
        });
        this.around.editor.set(editor);
        editor.type(this.around.ahead.take());
      });
    });
    effect(() => {
      const text = this.around.words();
      const editor = this.around.editor();
      if (text) untracked(() => editor?.take(text));
    });
  }

  protected drag: {
    id: string;
    x: number;
    y: number;
    from: FramedItem;
    /** All of its group, which moves with it. */
    group: readonly FramedItem[] | null;
    moved: boolean;
    /** Was it chosen before? */
    again: boolean;
    gesture: string;
  } | null = null;
  private gestures = 0;

  protected down(event: PointerEvent, item: FramedItem): void {
    event.stopPropagation();
    if (event.button !== 0) return;
    if (event.shiftKey && this.several.toggle(item.id)) return;
    const again = this.state.model$.value?.item === item.id;
    this.around.choose(item.id);
    const from = this.state.model$.value?.document.items[item.id];
    if (from?.kind !== 'framed') return;
    const gesture = `item-${++this.gestures}`;
    this.drag = {
      id: item.id,
      x: event.clientX,
      y: event.clientY,
      from: { ...from, at: item.at },
      group: event.altKey ? null : this.several.movingWith(item.id),
      moved: false,
      again,
      gesture,
    };
  }

  protected moved(event: PointerEvent): void {
    const d = this.drag;
    if (!d) return;
    const [dx, dy] = [event.clientX - d.x, event.clientY - d.y];
    if (!d.moved && Math.hypot(dx, dy) < LONG) return;
    d.moved = true;
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    this.step(d, dx / this.scale(), dy / this.scale());
  }

  /** Moves what is dragged, or its group. In points. */
  private step(
    { from, group, gesture }: { from: FramedItem; group: readonly FramedItem[] | null; gesture: string },
    dx: number,
    dy: number,
  ): void {
    if (group) this.several.moveGroup(group, dx, dy, gesture);
    else if (canMove(from)) this.around.move(dx, dy, from, gesture);
  }

  protected up(event: PointerEvent): void {
    event.stopPropagation();
    const d = this.drag;
    this.drag = null;
    // The chosen one is taken hold of wherever it is; a click on what lies over it chooses that.
    if (d?.again && !d.moved && !event.shiftKey) this.chooseOver(d.id, event);
  }

  private chooseOver(id: string, { clientX, clientY, currentTarget }: PointerEvent): void {
    const own = this.own().find((i) => i.item.id === id);
    if (!own || own.turn !== 0) return;
    const corner = (currentTarget as HTMLElement).getBoundingClientRect();
    const k = this.scale();
    const x = (own.box.x + clientX - corner.left) / k;
    const y = (own.box.y + clientY - corner.top) / k;
    const shown = new Set(this.own().flatMap((i) => (i.hollow ? [] : [i.item.id])));
    const over = this.items()
      .slice(own.z)
      .findLast(({ item, ...placed }) => {
        const b = uprightBounds(placed);
        const isHere = x >= b.x && x <= b.x + b.width && y >= b.y && y <= b.y + b.height;
        return isHere && item.kind === 'framed' && (isPictureItem(item) || shown.has(item.id));
      });
    const n = over && this.state.model$.value?.work.pictures.find((p) => itemIdOf(p) === over.item.id)?.n;
    if (n !== undefined) this.state.select(n);
    else if (over) this.around.choose(over.item.id);
  }

  protected type(item: FramedItem, event: Event): void {
    event.stopPropagation();
    // Words of the file stay what they are.
    if (this.around.canType(item)) this.around.type();
  }

  /** To the words before or behind these on their web page. */
  private goOn(from: FramedItem, by: number, { currentTarget }: Event): void {
    const words = this.own().filter((i) => isWordsOfPage(i.item));
    const next = words[words.findIndex((i) => i.item.id === from.id) + Math.sign(by)];
    if (!next) return;
    const all = [...(currentTarget as HTMLElement).parentElement!.querySelectorAll<HTMLElement>('[data-own]')];
    all.find((e) => e.dataset['own'] === next.item.id)?.focus();
  }

  protected key(event: KeyboardEvent, item: FramedItem): void {
    if (event.ctrlKey || event.metaKey || event.altKey || this.several.key(event)) return;
    const direction = arrowOf(event);
    if (event.key === 'Enter' && event.shiftKey) this.several.toggle(item.id);
    else if (event.key === 'Enter' || event.key === ' ') {
      if (this.around.item()?.id === item.id && this.around.canType(item)) this.around.type();
      else this.around.choose(item.id);
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      this.around.choose(item.id);
      this.around.remove();
    } else if (event.key === 'Escape') this.around.choose(null);
    else if (direction && isWordsOfPage(item)) this.goOn(item, direction[0] + direction[1], event);
    else if (direction && canMove(item)) {
      this.around.choose(item.id);
      const from = this.state.model$.value?.document.items[item.id];
      const step = (event.shiftKey ? 0.1 : 1) * POINTS.mm;
      if (from?.kind === 'framed') {
        const its = { from: { ...from, at: item.at }, group: this.several.movingWith(item.id) };
        this.step({ ...its, gesture: `item-keys-${this.gestures}` }, direction[0] * step, direction[1] * step);
      }
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

/** As high as its words are at least. */
function grown(item: FramedItem, high: number): FramedItem {
  const { box } = item.at;
  const { top, bottom } = wordsIn(box, item, item.text!).inset;
  const height = Math.max(1, high + top + bottom);
  return height <= box.height ? item : { ...item, at: { ...item.at, box: { ...box, height } } as FramedItem['at'] };
}

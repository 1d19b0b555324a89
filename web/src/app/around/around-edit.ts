import { computed, DestroyRef, effect, inject, Injectable, signal } from '@angular/core';
import {
  addedId,
  besideInText,
  cellNamed,
  equal,
  FULL_SEAT,
  isAdded,
  itemIdOf,
  itemsOf,
  pieceContext,
  puttingPiece,
  renamedPieces,
  retyped,
  setIn,
  shareAlong,
  showingCell,
  slotOf,
  takesPieces,
  WAITING,
  wordsInCell,
  type Document,
  type Frame,
  type FramedItem,
  type ItemId,
  type Laid,
  type Operation,
  type PieceContext,
  type ShapeChoice,
  type Text,
  type Tie,
} from '@gable/core';
import type { WorkPicture } from '@gable/contract';
import { Edit } from '../bench/edit';
import type { Try } from '../bench/tries';
import { isPartInText, isWordsOfPage, linesIn, movedItem, nameOf, withRoom, withRuns } from './items';
import { initialsOf, LetterShapes } from './letter-shapes';
import { framing, putting, shownDocument, tiedTo } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { TypedAhead } from './typed-ahead';
import type { Look, WordsEditor } from './words-editor';

const RAISED = { 1: 'brought forward', [-1]: 'sent back' };
/** An alt text that is no longer than this may be a name. */
const SHORT = 20;

/** What was put round pictures: it is chosen, changed, moved and taken away here. */
@Injectable()
export class AroundEdit {
  private readonly state = inject(WorkStore);
  private readonly edit = inject(Edit);
  private gestures = 0;

  /** The item that is chosen, where its rule has it; null while that is a picture. */
  readonly item = computed((): FramedItem | null => {
    const m = this.state.model();
    const item = m?.item ? shownDocument(m).items[m.item] : undefined;
    return item?.kind === 'framed' ? item : null;
  });
  readonly words = computed(() => this.item()?.text ?? null);
  /** Is what is chosen being typed into on its page? */
  readonly typing = signal(false);
  /** Are letters that were put there to be spelt? */
  readonly spelling = signal(false);
  /** What words are typed with, asked for before pictures are: it must be here when the first piece is taken. */
  readonly typesetter = import('./words-editor');
  /** What they are typed with, while they are. */
  readonly editor = signal<WordsEditor | null>(null);
  /** How the first of the letters looks that are marked among them; null where none are, or all. */
  readonly marked = signal<Look | null>(null);
  /** What is typed before there is an editor. */
  readonly ahead = new TypedAhead(
    () => this.typing() && !this.editor(),
    () => this.leave(),
  );
  /** What is tied to the chosen picture, in front first. */
  readonly tied = computed((): FramedItem[] => {
    const m = this.state.model();
    const picture = this.edit.picture();
    const id = picture && itemIdOf(picture);
    return Object.values(m?.document.items ?? {})
      .filter((i): i is FramedItem => i.kind === 'framed' && i.tie?.to === id)
      .reverse();
  });

  /** Where pictures of a text or of a web page lie, by their numbers, once these are laid out. In points. */
  readonly laid = signal<ReadonlyMap<number, Laid>>(new Map());

  /** The one colour behind words that a web page has itself. */
  readonly grounds = signal<ReadonlyMap<ItemId, string>>(new Map());

  /** What is behind an item where it is not its page that says it. */
  groundOf(item: FramedItem): string | undefined {
    return this.laidBeside(item)?.ground ?? this.grounds().get(item.id);
  }

  /** The fonts of words that name none, as CSS has them. */
  fontOf(item: FramedItem): string {
    return this.laidBeside(item)?.font ?? setIn('').css;
  }

  private laidBeside(item: FramedItem): Laid | undefined {
    const beside = besideInText(item);
    const picture = this.state.model()?.work.pictures.find((p) => itemIdOf(p) === beside);
    return picture && this.laid().get(picture.n);
  }

  /** The initials of the chosen picture's name, and that along a circle, as shapes: made when they may be put round it. */
  private readonly letters = signal<Pick<PieceContext, 'letters' | 'along'>>({ letters: null, along: null });

  constructor() {
    inject(DestroyRef).onDestroy(this.ahead.listen(document));
    const shapes = inject(LetterShapes);
    const asked = computed(
      () => {
        const frame = this.edit.step().name === 'around' ? this.edit.picture()?.frame : undefined;
        return frame ? { alt: frame.alt.trim(), share: shareAlong(frame.box) } : null;
      },
      { equal: (a, b) => equal(a, b) },
    );
    effect(() => {
      const of = asked();
      if (!of) return;
      const { alt, share } = of;
      const letters = shapes.shape(initialsOf(alt), 'gelasio').catch(() => shapes.shape('A', 'gelasio'));
      const rule = { share, side: 'top' } as const;
      const words = alt !== '' && alt.length <= SHORT ? alt : WAITING.name;
      const along = shapes.along(words, 'gelasio', rule).catch(() => shapes.along(WAITING.name, 'gelasio', rule));
      void Promise.all([letters, along])
        .then(([letters, shape]) => this.letters.set({ letters, along: { shape, share } }))
        // Without their font there are none.
        .catch(() => this.letters.set({ letters: null, along: null }));
    });
  }

  /** What pieces round the chosen picture are made of; null where there can be none. */
  readonly context = computed((): PieceContext | null => {
    const m = this.state.model();
    const picture = this.edit.picture();
    if (!m?.work.can.around || !picture || !takesPieces(m.document, picture.where)) return null;
    const document = shownDocument(m);
    const id = itemIdOf(picture);
    const alt = document.items[id]?.alt.trim() ?? '';
    const words = { ...WAITING, ...(alt !== '' && alt.length <= SHORT && { name: alt }) };
    const newId = (): string => addedId(crypto.randomUUID());
    const laid = this.laid().get(picture.n) ?? onSheet(document, picture);
    return pieceContext(document, id, {
      ...{ palette: this.edit.palette(), words, ...this.letters(), newId, laid, sections: picture.sections ?? false },
    });
  });

  /** Puts a piece round the chosen picture, which gets a frame with it, in one step; its words are chosen then, to be typed. */
  put(name: string, { made, context }: NonNullable<Try['add']>, frame: Frame): void {
    const m = this.state.model$.value;
    if (!m) return;
    const anew = renamedPieces(made, () => context.newId());
    const items = anew.map((p) => p.item);
    // The words that are tied to the picture itself come first.
    const words = items.find((i) => i.text !== null && i.tie?.to === context.picture.id);
    const chosen = words ?? items.find((i) => i.text !== null) ?? items.at(-1);
    const operations = [...framing(m, frame), ...puttingPiece(m.document, context, anew)];
    this.state.act(name, operations, chosen?.id ?? null);
    if (chosen?.text) this.type();
    else this.spelling.set(chosen?.shape.name === 'letter');
  }

  /** From here on the words of the chosen item are typed, all of them anew or as they are. */
  type(): void {
    this.ahead.take();
    this.typing.set(true);
  }

  choose(id: string | null): void {
    this.leave();
    this.state.selectItem(id);
  }

  grab(): void {
    this.gestures++;
  }

  /** Changes the chosen item as an entry of its own. @param id of another than the chosen one */
  set(name: string, change: (item: FramedItem) => FramedItem, id?: ItemId): void {
    const item = this.stored(id);
    if (item) this.state.takeItems(name, [change(item)]);
  }

  /** Changes the chosen item as a part of the gesture that is under way. @param id of another than the chosen one */
  slide(name: string, change: (item: FramedItem) => FramedItem, id?: ItemId): void {
    const item = this.stored(id);
    if (item) this.state.takeItems(name, [change(item)], `around-${name}-${this.gestures}`);
  }

  tie(name: string, part: Partial<Tie>): void {
    this.set(name, (i) => (i.tie ? { ...i, tie: { ...i.tie, ...part } } : i));
  }

  /** Typing ends where the focus goes elsewhere than to what changes the words; words that are none are nothing to keep. */
  leave(event?: FocusEvent): void {
    const to = event?.relatedTarget;
    if (!this.typing() || (to instanceof Element && to.closest('[data-with-words], .cdk-overlay-container'))) return;
    // The editor did not come in time.
    const words = this.ahead.take();
    if (words !== '') {
      const width = this.item()?.at.box.width ?? Infinity;
      this.slide('words', (i) => (i.text ? withRoom({ ...i, text: retyped(i.text, words) }, width) : i));
    }
    const item = this.item();
    this.typing.set(false);
    if (item?.text && linesIn(item.text).every((l) => l.trim() === '') && !item.fill) this.remove();
  }

  /** Changes the letters that are marked, or all runs of the words. */
  runs(name: string, part: Partial<Text['paragraphs'][number]['runs'][number]>): void {
    if (this.marked()) this.editor()?.restyle(part);
    else this.slide(name, (i) => (i.text ? { ...i, text: withRuns(i.text, (run) => ({ ...run, ...part })) } : i));
  }

  remove(): void {
    const item = this.item();
    this.typing.set(false);
    if (!item || item.locked || this.stands()) return;
    const [name, operations] = [`${nameOf(item)} deleted`, [{ op: 'remove', id: item.id } as const]];
    if (isAdded(item.id)) this.state.act(name, operations, null);
    // What the file has goes out of it at once.
    else void this.state.rearrange(putting(name, operations));
  }

  /** Can its words be typed: were they added here, or before the file was read, as its tie tells? Others are the file's. */
  readonly canType = (item: FramedItem): boolean =>
    item.text !== null &&
    item.text.cell === undefined &&
    (isAdded(item.id) || this.state.model()?.file.items[item.id]?.tie !== undefined);

  /** Can the chosen words show a cell of their workbook? */
  readonly canShowCell = computed(() => {
    const item = this.item();
    return !!item?.text && isAdded(item.id) && this.state.model()?.work.can.cells === true;
  });

  /** Lets the chosen words show a cell, or with null be plain ones again. @throws GableError for what is none */
  showCell(cell: string | null): void {
    const m = this.state.model$.value;
    const [stored, shown] = [this.stored(), this.item()];
    if (!m || !stored || !shown) return;
    const at = m.document.pages.findIndex((p) => p.items.includes(stored.id));
    const lines = m.work.sheets?.[at]?.lines;
    const name = cell === null ? null : cellNamed(cell);
    const said = name && lines ? wordsInCell(m.document, m.document.pages[at]!, lines, name) : '';
    const newId = (): string => addedId(crypto.randomUUID());
    const { item, below } = showingCell({ ...stored, at: shown.at }, { cell, said }, newId);
    const operations: Operation[] = [
      { op: 'set', id: item.id, path: 'text', value: item.text },
      { op: 'set', id: item.id, path: 'tie', value: item.tie },
      { op: 'set', id: item.id, path: 'at', value: item.at },
    ];
    const slot = slotOf(m.document, item.id);
    if (below) operations.push({ op: 'add', item: below, slot: { ...slot, index: slot.index + 1 } });
    this.state.act(cell === null ? 'words without a cell' : 'words show a cell', operations, item.id);
  }

  /** Puts the outline of the chosen words in their place; a block that they stood in stays beneath them. */
  outline(shape: ShapeChoice): void {
    const m = this.state.model$.value;
    const [stored, shown] = [this.stored(), this.item()];
    const run = stored?.text?.paragraphs.flatMap((p) => p.runs)[0];
    if (!m || !stored || !shown || !run) return;
    this.typing.set(false);
    const letters: Partial<FramedItem> = {
      shape,
      seat: FULL_SEAT,
      fill: { kind: 'paint', paint: run.paint },
      text: null,
    };
    const name = 'words as outlines';
    if (!shown.fill && !shown.outline) {
      const alt = shape.drawn?.label ?? '';
      this.state.takeItems(name, [{ ...stored, ...letters, shadow: null, alt, at: shown.at }]);
      return;
    }
    const { tie, ...bare } = { ...stored, ...letters, outline: null, shadow: null };
    void tie;
    const slot = slotOf(m.document, stored.id);
    const over = { to: stored.id, as: 'over', gap: 0, share: 1 } as const;
    const item = { ...bare, id: addedId(crypto.randomUUID()), at: shown.at, alt: shape.drawn?.label ?? '', tie: over };
    const operations: Operation[] = [
      { op: 'set', id: stored.id, path: 'text', value: null },
      { op: 'add', item, slot: { ...slot, index: slot.index + 1 } },
    ];
    this.state.act(name, operations, item.id);
  }

  /** Was the chosen item added here? Otherwise it is the file's own. */
  readonly isOwn = computed(() => {
    const item = this.item();
    return item !== null && !isAdded(item.id);
  });

  /** A part of a group of a text: its size is not its own. */
  readonly keepsSize = computed(() => {
    const item = this.item();
    return item !== null && isPartInText(item);
  });

  /** Words that a web page has itself: they have neither sides nor an outline of their own. */
  readonly isOfWebPage = computed(() => {
    const item = this.item();
    return item !== null && isWordsOfPage(item);
  });

  /** A shape of a file that can neither put it into another order nor let it go: a workbook. */
  readonly stands = computed(() => this.isOwn() && this.state.model()?.work.can.order !== true);

  /** Is it a text that a drawing has itself? That has no box: neither sides, nor a fill, nor an outline. */
  readonly isDrawnText = computed(() => {
    const sheet = this.state.model()?.work.sheets?.[this.edit.page() - 1];
    const item = this.item();
    return this.isOwn() && sheet?.drawn === true && item?.text !== null && !sheet.apart?.includes(item?.id ?? '');
  });

  /** Lets it stand by itself, where it is. */
  untie(): void {
    const item = this.item();
    if (!item) return;
    const { tie, ...rest } = item;
    void tie;
    this.state.takeItems('untied', [rest]);
  }

  /** Moves the chosen item up or down among what lies on its page. */
  raise(by: 1 | -1): void {
    const m = this.state.model$.value;
    const item = this.item();
    if (!item || !m) return;
    const { in: holder, index: at } = slotOf(m.document, item.id);
    const all = itemsOf(m.document, holder);
    // In a text only those count that stand beside the same picture, and that itself.
    const picture = besideInText(item);
    const counts = (id: string): boolean => {
      const own = m.document.items[id];
      return picture === undefined || id === picture || (!!own && isAdded(id) && besideInText(own) === picture);
    };
    const index =
      by > 0 ? all.findIndex((id, i) => i > at && counts(id)) : all.findLastIndex((id, i) => i < at && counts(id));
    if (index < 0) return;
    this.state.act(RAISED[by], [{ op: 'move', id: item.id, slot: { in: holder, index } }], item.id);
  }

  /** Moves the chosen picture up or down on its page, with what stands around it: what is next to all of that changes sides with it. */
  raisePicture(by: 1 | -1): void {
    const m = this.state.model$.value;
    const picture = this.edit.picture();
    if (!picture || !m) return;
    const own = itemIdOf(picture);
    const { in: holder } = slotOf(m.document, own);
    const all = itemsOf(m.document, holder);
    const set = new Set([own, ...tiedTo(m, own).map((i) => i.id)]);
    const places = all.flatMap((id, i) => (set.has(id) ? [i] : []));
    const [first, last] = [places[0]!, places.at(-1)!];
    const other =
      by > 0 ? all.find((id, i) => i > first && !set.has(id)) : all.findLast((id, i) => i < last && !set.has(id));
    if (other === undefined) return;
    // It is taken out before it is put there.
    this.state.act(RAISED[by], [{ op: 'move', id: other, slot: { in: holder, index: by > 0 ? first : last } }], null);
  }

  /** Moves the chosen item on its page; what is tied keeps its tie, with another gap. In points. */
  move(dx: number, dy: number, from: FramedItem, gesture: string): void {
    this.state.takeItems('moved', [movedItem(from, dx, dy)], gesture);
  }

  /** The chosen item as it is stored: what is derived stays as it was. */
  private stored(id?: ItemId): FramedItem | null {
    const m = this.state.model$.value;
    const item = m?.document.items[id ?? m.item ?? ''];
    return item?.kind === 'framed' ? item : null;
  }
}

/** Where a picture lies on its sheet whose box counts from a cell. */
function onSheet({ pages }: Document, picture: WorkPicture): Laid | undefined {
  const { origin, frame, where } = picture;
  const page = pages[(where.page ?? 0) - 1];
  if (!origin || !page) return undefined;
  return { page: page.size, box: { ...frame.box, x: frame.box.x + origin.x, y: frame.box.y + origin.y } };
}

import { computed, inject, Injectable, signal } from '@angular/core';
import {
  addedId,
  applyAll,
  boundsOfBoxes,
  distanceOf,
  drawnBox,
  grouping,
  groundOf,
  groupOf,
  isAdded,
  isPictureItem,
  isPlainGroup,
  itemIdOf,
  itemsOf,
  marginOf,
  papersOf,
  POINTS,
  raisedAmong,
  resolveTies,
  slotOf,
  tieAsItStands,
  ungrouping,
  uprightBounds,
  withTied,
  type Box,
  type Document,
  type FramedItem,
  type GroupItem,
  type Item,
  type ItemId,
  type Operation,
  type PictureItem,
  type Placed,
  type Point,
} from '@gable/core';
import { Edit } from '../bench/edit';
import { canMove, movedItem, restylable } from '../around/items';
import { duplicatingAll } from '../work/copies';
import { chosenIn, putting, shownDocument, tiedTo, type WorkModel } from '../work/work-model';
import { stackOnSheet } from '../work/on-sheet';
import { WorkStore } from '../work/work-store';
import { arrowOf } from '../ui/roving';
import type { BesideText } from './beside-text';
import type { Chosen } from './chosen';

/** The page that items lie on: its box and that within its margins, where they are counted, and its colour. */
export interface Ground {
  box: Box;
  margins: Box;
  colour: string;
}

/** Several items of a page, or beside the words of a text, that are chosen at once: moved, brought in line and deleted together. */
@Injectable()
export class Several {
  private readonly state = inject(WorkStore);
  private readonly edit = inject(Edit);
  private gestures = 0;
  /** What lies beside the words of a text, where its pages are laid out. */
  readonly besideText = signal<BesideText | null>(null);

  /** What on the page can be chosen together, from the back: pictures, what was added, and shapes that can look otherwise. */
  readonly all = computed((): readonly Chosen[] => {
    const m = this.state.model();
    const document = m && shownDocument(m);
    const page = document?.pages[this.edit.page() - 1];
    if (!m || !document || !page || !this.hasSheets()) return this.besideText()?.all ?? [];
    const own = new Set(page.items.flatMap((id) => membersOf(document.items[id]!) ?? [id]));
    const styled = restylable(m);
    return stackOnSheet(m.work, document, { ...page, layers: [] }).flatMap(({ item, ...placed }) => {
      if (item.kind !== 'framed' || !LIES.has(item.at.on) || !own.has(item.id)) return [];
      if (item.locked || (!isPictureItem(item) && !isAdded(item.id) && !styled.has(item.id))) return [];
      return [{ item, box: placed.box, turn: placed.turn, bounds: uprightBounds(placed), page: this.edit.page() - 1 }];
    });
  });
  private readonly hasSheets = computed(() => (this.state.model()?.work.sheets ?? []).length > 0);

  /** Those that are chosen, what leads first; none where it is one alone. */
  readonly chosen = computed((): readonly Chosen[] => {
    const m = this.state.model();
    if (!m || m.also.length === 0) return [];
    const all = new Map(this.all().map((c) => [c.item.id, c]));
    const [first, ...others] = chosenIn(m).flatMap((id) => all.get(id) ?? []);
    const beside = others.filter((c) => c.page === first!.page);
    return first && beside.length > 0 ? [first, ...beside] : [];
  });
  readonly active = computed(() => this.chosen().length > 0);
  private readonly ids = computed(() => new Set(this.chosen().map((c) => c.item.id)));
  readonly has = (id: ItemId): boolean => this.ids().has(id);
  /** The box round all of them. */
  readonly bounds = computed(() => boundsOfBoxes(this.chosen().map((c) => c.bounds)));
  /** Are they under the hand? */
  readonly dragging = signal(false);
  /** Those that move: what is tied to others of them comes along by itself, and some have their place by a rule. */
  readonly moving = computed((): readonly Chosen[] => {
    const m = this.state.model();
    const ids = new Set(this.chosen().map((c) => c.item.id));
    return m ? this.chosen().filter(({ item }) => canMove(item) && !follows(m.document, item.id, ids)) : [];
  });

  /** Chooses another one too, or lets it go. @returns false where it cannot be chosen with others */
  toggle(id: ItemId): boolean {
    const m = this.state.model$.value;
    const one = this.all().find((c) => c.item.id === id);
    if (!m || !one) return false;
    const now = chosenIn(m);
    // In a text what is chosen may lie in a line, or on another page: then this one is chosen alone.
    if (this.besideText() && now.some((other) => this.pageOf(other) !== one.page)) return false;
    const next = now.includes(id) ? now.filter((one) => one !== id) : [...now, id];
    if (next.length > 0) this.state.chooseAll(next);
    return true;
  }

  private readonly pageOf = (id: ItemId): number | undefined => this.all().find((c) => c.item.id === id)?.page;

  /** Chooses all of these; a picture leads where there is one. */
  choose(ids: readonly ItemId[]): void {
    const m = this.state.model$.value;
    const pictures = ids.filter((id) => m?.document.items[id] && isPictureItem(m.document.items[id]));
    const [lead = ids[0]] = pictures;
    this.state.chooseAll(lead === undefined ? [] : [lead, ...ids.filter((id) => id !== lead)]);
  }

  /** Of a text, on the page of what is chosen, or on the first that has something. */
  chooseEverything(): void {
    const m = this.state.model$.value;
    const page =
      (m &&
        chosenIn(m)
          .map(this.pageOf)
          .find((p) => p !== undefined)) ??
      this.all()[0]?.page;
    this.choose(this.all().flatMap((c) => (c.page === page ? c.item.id : [])));
  }

  /** Those that lie wholly in a box, on one page. In points. */
  within(box: Box): readonly ItemId[] {
    const inside = ({ x, y, width, height }: Box): boolean =>
      x >= box.x && y >= box.y && x + width <= box.x + box.width && y + height <= box.y + box.height;
    const all = this.all().filter((c) => inside(c.bounds));
    return all.flatMap((c) => (c.page === all[0]!.page ? c.item.id : []));
  }

  end(): void {
    this.state.chooseAll([]);
  }

  /** A gesture of its own begins. */
  grab(): string {
    return `several-${++this.gestures}`;
  }

  /** Moves them by steps in the order of `from`. @param from as they were when the gesture began */
  move(name: string, steps: readonly Point[], from = this.stored(), gesture: string | null = null): void {
    const items = from.map((item, i) => movedItem(item, steps[i]!.x, steps[i]!.y));
    this.state.takeItems(name, items, gesture);
  }

  /**
   * Brings them in line. In a text words run otherwise round what has moved, and take what is tied to them along: where that has
   * put them out of line, they are moved again, as a part of the same step.
   * @param steps from where they are now, in the order of `moving`
   */
  bringInLine(name: string, steps: () => readonly Point[]): void {
    const gesture = this.grab();
    this.move(name, steps(), this.stored(), gesture);
    this.inLine = this.besideText() ? { name, gesture, steps, left: SETTLINGS } : null;
  }
  private inLine: { name: string; gesture: string; steps: () => readonly Point[]; left: number } | null = null;

  /** Are they where these steps would bring them? Where a text is laid out is told in parts of a pixel. */
  areInLine(steps: readonly Point[]): boolean {
    const near = this.besideText() ? 0.1 : 0.01;
    return steps.every(({ x, y }) => Math.hypot(x, y) < near);
  }

  /** The pages of a text are laid out with what was done last. */
  settle(): void {
    const now = this.inLine;
    if (!now || this.state.model$.value?.gesture?.name !== now.gesture || now.left === 0 || !this.active()) {
      this.inLine = null;
      return;
    }
    const steps = now.steps();
    if (this.areInLine(steps)) return;
    this.inLine = { ...now, left: now.left - 1 };
    this.move(now.name, steps, this.stored(), now.gesture);
  }

  /** Those that move, as they are stored, where they are now. */
  stored(): FramedItem[] {
    const items = this.state.model$.value?.document.items ?? {};
    return this.moving().map(({ item }) => ({ ...(items[item.id] as FramedItem), at: item.at }));
  }

  /** Those that can follow a picture of them from where they are: each the nearest. */
  readonly tieable = computed((): readonly { item: FramedItem; to: PictureItem }[] => {
    // On a sheet what is added is tied from the first, and what is there itself stays as it is.
    if (!this.onPages()) return [];
    const pictures = this.chosen().flatMap(({ item, bounds }) => (isPictureItem(item) ? [{ item, bounds }] : []));
    return this.chosen().flatMap(({ item, bounds }) => {
      const [nearest] = pictures.toSorted((a, b) => distanceOf(a.bounds, bounds) - distanceOf(b.bounds, bounds));
      return isPictureItem(item) || item.tie || item.turn !== 0 || !nearest ? [] : [{ item, to: nearest.item }];
    });
  });

  /** Ties each of those to its picture, as it stands. */
  keepTogether(): void {
    const m = this.state.model$.value;
    if (!m) return;
    const shown = Object.values(shownDocument(m).items);
    const items = this.tieable().map(({ item, to }) => {
      const rings = shown.filter((i) => i.tie?.to === to.id && i.tie.as === 'around').map((i) => drawnBox(i));
      return { ...(m.document.items[item.id] as FramedItem), tie: tieAsItStands(item, to, rings) };
    });
    this.state.takeItems('kept together', items);
  }

  /** Can they come forward and go back among what lies on their page? */
  readonly canRaise = computed(
    () => !!this.state.model()?.work.can.order || this.chosen().every(({ item }) => isAdded(item.id)),
  );

  /** All of them come forward, or go back, with what stands round pictures of them; they stay chosen. */
  raise(by: 1 | -1): void {
    const m = this.state.model$.value;
    const ids = this.chosen().map(({ item }) => item.id);
    const [first] = ids;
    if (!m || first === undefined) return;
    const chosen = new Set(ids);
    // A group all of which is chosen moves as one.
    const asOne = (id: ItemId): ItemId => {
      const group = groupOf(m.document, id);
      return group?.children.every((child) => chosen.has(child)) ? group.id : id;
    };
    const { in: holder } = slotOf(m.document, asOne(first));
    const all = new Set(ids.flatMap((id) => [asOne(id), ...tiedTo(m, id).map((i) => asOne(i.id))]));
    const moves = raisedAmong(itemsOf(m.document, holder), all, by);
    if (moves.length === 0) return;
    const operations = moves.map(({ id, index }): Operation => ({ op: 'move', id, slot: { in: holder, index } }));
    this.state.act(by > 0 ? 'brought forward' : 'sent back', operations, null);
    this.choose(ids);
  }

  /** The page that they lie on. */
  readonly ground = computed((): Ground | null => {
    const m = this.state.model();
    const [first] = this.chosen();
    if (!m || !first) return null;
    const document = shownDocument(m);
    const text = this.besideText()?.pages[first.page];
    const paper = papersOf(document)[text ? 0 : first.page];
    const colour = paper ? groundOf(paper) : '#ffffff';
    if (text) return { ...text, colour };
    const page = document.pages[first.page]!;
    const edge = marginOf(page);
    const { width, height } = page.size;
    return {
      box: { x: 0, y: 0, width, height },
      margins: { x: edge, y: edge, width: width - 2 * edge, height: height - 2 * edge },
      colour,
    };
  });

  /** What would lie on their page with these steps, in the order of `moving`; in points from its corner. */
  tried(steps: readonly Point[]): readonly Placed[] {
    const m = this.state.model();
    const ground = this.ground();
    if (!m || !ground) return [];
    const moved = new Map(
      this.moving().map(({ item }, i) => [item.id, { item: movedItem(item, steps[i]!.x, steps[i]!.y), by: steps[i]! }]),
    );
    const text = this.besideText();
    if (text)
      return text.all
        .filter((c) => c.page === this.chosen()[0]!.page)
        .map(({ item, box, turn }) => {
          const { x, y } = moved.get(item.id)?.by ?? { x: 0, y: 0 };
          const at = { ...box, x: box.x + x - ground.box.x, y: box.y + y - ground.box.y };
          return { item, box: at, turn, flip: item.flip };
        });
    const document = shownDocument(m);
    const items = { ...document.items, ...Object.fromEntries([...moved].map(([id, { item }]) => [id, item])) };
    return stackOnSheet(m.work, resolveTies({ ...document, items }), document.pages[this.chosen()[0]!.page]!);
  }

  /** Has their page edges and margins? A sheet of cells has neither. */
  readonly hasEdges = computed(() => this.onPages() || this.besideText() !== null);

  /** Do they lie on pages of a fixed size, and not on a sheet of cells? */
  readonly onPages = computed(() => this.state.model()?.work.can.insert === 'page');
  readonly canDuplicate = this.onPages;
  /** Shapes that a sheet has itself stay there. */
  readonly canRemove = computed(
    () => this.onPages() || this.chosen().every(({ item }) => isAdded(item.id) || isPictureItem(item)),
  );

  /** Copies of all of them come beside them, with what stands round pictures of them, in one step; the copies are chosen then. */
  async duplicate(): Promise<boolean> {
    const m = this.state.model$.value;
    const ids = this.chosen().map(({ item }) => item.id);
    const made = m && duplicatingAll(m, ids);
    if (!m || !made) return false;
    const name = `${made.copies.length} items duplicated`;
    if (made.copies.every(isAdded)) this.state.act(name, made.operations, null);
    else if (!(await this.state.rearrange(putting(name, made.operations), m.work.next))) return false;
    this.choose(made.copies);
    return true;
  }

  /** Deletes them, with what stands round pictures of them, in one step. @returns how many; 0 where that failed */
  async remove(): Promise<number> {
    const m = this.state.model$.value;
    const gone = this.chosen();
    if (!m || gone.length === 0 || !this.canRemove()) return 0;
    const around = (id: ItemId): ItemId[] => tiedTo(m, id).flatMap((i) => (i.locked ? [] : i.id));
    const ids = new Set(gone.flatMap(({ item }) => [...around(item.id), item.id]));
    const operations = [...ids].map((id): Operation => ({ op: 'remove', id }));
    const name = `${gone.length} items deleted`;
    if (gone.every(({ item }) => isAdded(item.id))) {
      this.state.act(name, operations, null);
      return gone.length;
    }
    const left = m.work.pictures.filter((p) => !ids.has(itemIdOf(p)));
    const other = left.find((p) => p.where.page === this.edit.page()) ?? left[0];
    return (await this.state.rearrange(putting(name, operations), other?.n)) ? gone.length : 0;
  }

  /** The groups that items are in directly, by the items. */
  private groupsIn({ document }: WorkModel): ReadonlyMap<ItemId, GroupItem> {
    const groups = Object.values(document.items).filter((i): i is GroupItem => i.kind === 'group' && isPlainGroup(i));
    return new Map(groups.flatMap((group) => group.children.map((child) => [child, group] as const)));
  }
  private groupsOf(m: WorkModel, ids: readonly ItemId[]): GroupItem[] {
    const round = this.groupsIn(m);
    return [...new Set(ids.flatMap((id) => round.get(id) ?? []))];
  }

  /** Are the chosen ones a group, or can they be one? Of a group that goes into another, all goes. */
  private readonly together = computed((): 'is' | 'can be' | 'cannot be' => {
    const m = this.state.model();
    const ids = this.ids();
    if (!m || ids.size < 2 || !this.takesGroups()) return 'cannot be';
    const round = this.groupsIn(m);
    const all = [...ids];
    const groups = new Set(all.flatMap((id) => round.get(id) ?? []));
    const isWhole = [...groups].every((g) => g.children.every((child) => ids.has(child)));
    if (groups.size === 1 && isWhole && all.every((id) => round.has(id))) return 'is';
    return isWhole && ![...all, ...[...groups].map((g) => g.id)].some(this.stays) ? 'can be' : 'cannot be';
  });
  /** Must something stay as it is grouped? */
  private readonly stays = (id: ItemId): boolean =>
    this.state.model()?.work.sheets?.some((s) => s.stays?.includes(id)) === true;

  /** Can there be groups on the page that is seen? */
  readonly takesGroups = computed(() => this.state.model()?.work.can.groups === true);
  /** Can something be locked on it? */
  readonly takesLocks = computed(() => {
    const can = this.state.model()?.work.can;
    return can?.order === true || can?.insert === 'cell';
  });
  readonly canGroup = computed(() => this.together() === 'can be');
  readonly isGroup = computed(() => this.together() === 'is');

  /** Puts the chosen ones together, with what is tied to them; they stay chosen. */
  group(): void {
    const m = this.state.model$.value;
    if (!m || !this.canGroup()) return;
    const ids = [...this.ids()];
    let document = shownDocument(m);
    const operations: Operation[] = [];
    const put = (all: readonly Operation[]): void => {
      operations.push(...all);
      document = applyAll(document, all).document;
    };
    this.groupsOf(m, ids).forEach((group) => put(ungrouping(document, group.id, kept(m))));
    const page = document.pages[this.edit.page() - 1]!;
    const set = withTied(document, page.items, ids);
    if (set.some(this.stays)) return;
    put(grouping(document, page.id, set, addedId(crypto.randomUUID())));
    this.state.act('grouped', operations, null);
    this.choose(set);
  }

  /** The groups of what is chosen, several or one, that can be taken apart. */
  private readonly apart = computed((): readonly GroupItem[] => {
    const m = this.state.model();
    return m && this.takesGroups() ? this.groupsOf(m, chosenIn(m)).filter(({ id }) => !this.stays(id)) : [];
  });
  readonly canUngroup = computed(() => this.apart().length > 0);

  /** Takes groups of what is chosen apart; all that was in them is chosen then. */
  ungroup(): void {
    const m = this.state.model$.value;
    const groups = this.apart();
    if (!m || groups.length === 0) return;
    let document = shownDocument(m);
    const operations = groups.flatMap(({ id }) => {
      const all = ungrouping(document, id, kept(m));
      document = applyAll(document, all).document;
      return all;
    });
    this.state.act('ungrouped', operations, null);
    this.choose(groups.flatMap((g) => g.children));
  }

  /** The group of what is chosen alone, on the page that is seen. */
  readonly groupOfOne = computed((): GroupItem | null => {
    const m = this.state.model();
    if (!m || m.also.length > 0 || !this.hasSheets()) return null;
    const [id] = chosenIn(m);
    return id === undefined ? null : groupOf(m.document, id);
  });
  /** The box round all of that. In points. */
  readonly groupBox = computed((): Box | null => {
    const group = this.groupOfOne();
    if (!group) return null;
    const ids = new Set(group.children);
    const boxes = this.all().flatMap((c) => (ids.has(c.item.id) ? [c.bounds] : []));
    return boxes.length > 1 ? boundsOfBoxes(boxes) : null;
  });

  /** Chooses all of the group of what is chosen. */
  chooseGroup(): void {
    this.choose(this.groupOfOne()?.children ?? []);
  }

  /** What moves with an item that is dragged: all of its group but what follows others of it; null where it moves alone. */
  movingWith(id: ItemId): readonly FramedItem[] | null {
    const m = this.state.model$.value;
    const group = m && groupOf(m.document, id);
    const { tie, locked } = m?.document.items[id] ?? {};
    if (!m || !group || tie || locked) return null;
    const ids = new Set(group.children);
    const shown = shownDocument(m);
    return group.children.flatMap((child): FramedItem[] => {
      const item = m.document.items[child];
      if (item?.kind !== 'framed' || !canMove(item) || follows(m.document, child, ids)) return [];
      return [{ ...item, at: shown.items[child]!.at }];
    });
  }

  /** Moves a group as it was when the gesture began. In points. */
  moveGroup(from: readonly FramedItem[], dx: number, dy: number, gesture: string): void {
    this.state.takeItems(
      'group moved',
      from.map((item) => movedItem(item, dx, dy)),
      gesture,
    );
  }

  /** Is what is chosen alone locked? */
  readonly locked = computed(() => {
    const m = this.state.model();
    const [id = ''] = m ? chosenIn(m) : [];
    return m?.document.items[id]?.locked === true;
  });

  /** Locks what is chosen, several or one, or lets it go: by hand it is neither moved, sized nor deleted then. */
  lock(on: boolean): void {
    const m = this.state.model$.value;
    if (!m || !this.takesLocks()) return;
    const items = chosenIn(m).flatMap((id) => {
      const item = m.document.items[id];
      if (item?.kind !== 'framed') return [];
      const { locked, ...free } = item;
      void locked;
      return [on ? { ...free, locked: true as const } : free];
    });
    this.state.takeItems(on ? 'locked' : 'unlocked', items);
    if (on) this.end();
  }

  /** Keys that count for all of them. @returns was it one? */
  key(event: KeyboardEvent): boolean {
    if (!this.active() || event.ctrlKey || event.metaKey || event.altKey) return false;
    const direction = arrowOf(event);
    if (event.key === 'Escape') this.end();
    else if (direction) {
      const step = (event.shiftKey ? 0.1 : 1) * POINTS.mm;
      const by = { x: direction[0] * step, y: direction[1] * step };
      this.move(
        'moved together',
        this.moving().map(() => by),
        this.stored(),
        `several-keys-${this.gestures}`,
      );
    } else return false;
    event.preventDefault();
    event.stopPropagation();
    return true;
  }
}

/** How often what words have put out of line is moved again at most: round each other they could go on for ever. */
const SETTLINGS = 4;

/** Where the box of an item counts on its page. */
const LIES: ReadonlySet<string> = new Set(['page', 'group', 'cells']);

/** The file whose order its pages keep; undefined where they can get another. */
const kept = ({ work, file }: WorkModel): Document | undefined => (work.can.order ? undefined : file);

/** What is in a group that counts as its page does; null of anything else. */
const membersOf = (item: Item): readonly ItemId[] | null =>
  item.kind === 'group' && isPlainGroup(item) ? item.children : null;

/** Does an item follow one of these, or what follows one? */
function follows(document: Document, id: ItemId, of: ReadonlySet<ItemId>): boolean {
  const to = document.items[id]?.tie?.to;
  return to !== undefined && (of.has(to) || follows(document, to, of));
}

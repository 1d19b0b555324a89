import type { Document, FramedItem, Item, ItemId, Page, Story, Tie } from '../model/document';
import { equal } from '../model/equal';
import { FULL_SEAT, type Box, type Frame, type Size } from '../model/frame';
import { frameOfBlock } from '../model/frame-item';
import { groupsRound, spaceOf } from '../model/stack';
import { withChildren } from '../model/tree';
import { placedIn } from '../geometry/frame-matrix';
import { boundsOfBoxes } from '../geometry/measure';
import { paintedBounds } from '../paint/painter';
import { along } from './along';
import { around } from './around';
import { behind } from './behind';
import { beside } from './beside';
import { boxInText, PAPER, placedInText } from './in-text';
import { inside } from './inside';
import { over } from './over';
import type { Rule, Target } from './rule';

export { reachOf, USUAL_SHARE } from './along';
export type { Followed, Rule, Target } from './rule';

/** What the kinds of ties make of boxes: a new kind is one file and one line. */
export const RULES: Readonly<Record<Tie['as'], Rule>> = { behind, around, beside, over, inside, along };

/** The upright rectangle round what is drawn of an item on its page, but for its shadow. */
export function drawnBox(item: Item, placed: Lies = placement(item)): Box {
  const b = paintedBounds({ ...frameOfBlock(item.kind === 'framed' ? item : BARE, placed), shadow: null });
  return { x: placed.box.x + b.x, y: placed.box.y + b.y, width: b.width, height: b.height };
}
type Lies = Pick<Frame, 'box' | 'turn' | 'flip'>;
const placement = ({ at, turn, flip }: Item): Lies => ({ box: at.box, turn, flip });
const BARE: FramedItem = {
  ...{ kind: 'framed', id: 'bare', at: { on: 'page', box: { x: 0, y: 0, width: 1, height: 1 } }, turn: 0, opacity: 1 },
  ...{
    flip: { horizontal: false, vertical: false },
    alt: '',
    shape: { name: 'rectangle', knobs: {} },
    seat: FULL_SEAT,
  },
  ...{ outline: null, shadow: null, fill: null, text: null },
};

/**
 * The document with all that is tied where its rule has it. Boxes come of rules in the order in which they depend on each other;
 * what leads nowhere, or in a circle, stays as it is.
 */
export function resolveTies(document: Document): Document {
  const tied = Object.values(document.items).filter(
    (i): i is FramedItem & { tie: Tie } => i.kind === 'framed' && !!i.tie,
  );
  if (tied.length === 0) return document;
  const pageOf = new Map(
    document.pages.flatMap((page) =>
      page.items.flatMap((id) => withChildren(document, id)).map((id) => [id, page] as const),
    ),
  );
  const storyOf = new Map(document.stories.flatMap((story) => story.items.map((id) => [id, story] as const)));
  const groups = groupsRound(document);
  const around = new Map<ItemId, (FramedItem & { tie: Tie })[]>();
  for (const item of tied)
    if (item.tie.as === 'around') around.set(item.tie.to, [...(around.get(item.tie.to) ?? []), item]);
  const items = { ...document.items };
  const done = new Set<ItemId>();
  const under = new Set<ItemId>();
  const settle = (item: FramedItem): void => {
    if (done.has(item.id) || under.has(item.id)) return;
    const { tie } = item;
    const to = tie && items[tie.to];
    if (!to) return;
    under.add(item.id);
    if (to.kind === 'framed' && to.tie) settle(to);
    // What stands off something stands off its rings, too.
    const rings = isOff(tie) ? (around.get(tie.to)?.filter((r) => r.id !== item.id) ?? []) : [];
    rings.forEach(settle);
    under.delete(item.id);
    done.add(item.id);
    const [page, story] = [pageOf.get(item.id), storyOf.get(item.id)];
    const holder = page ?? story;
    const target = items[tie.to]!;
    const round = rings.map((r) => items[r.id]!);
    const [own, outer] = [groups.get(item.id) ?? [], groups.get(tie.to) ?? []];
    // Within one group both count in its space; what is in another than that which it follows stays where it is.
    const isTogether = own.length > 0 && own[0] === outer[0];
    if (own.length > 0 && !isTogether) return;
    const spaces = isTogether ? [] : outer.map(spaceOf);
    const known = spaces.length === 0 ? resolved.get(item) : undefined;
    if (known && known.to === target && known.holder === holder && areSame(known.round, round)) {
      items[item.id] = known.now;
      return;
    }
    const drawn = round.map((r) => drawnBox(r));
    const next = page
      ? followed(item, target, { page, spaces, rings: drawn })
      : story && followedInText(item, target, { story, rings: drawn });
    const now = next && !equal(next, item) ? next : item;
    items[item.id] = now;
    if (spaces.length === 0) resolved.set(item, { to: target, holder, round, now });
  };
  tied.forEach(settle);
  return { ...document, items };
}

/** Where an item came to be beside what it follows: it is there still while neither changes. */
const resolved = new WeakMap<FramedItem, { to: Item; holder: unknown; round: readonly Item[]; now: FramedItem }>();

const areSame = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((v, i) => v === b[i]);

type Spaces = Parameters<typeof placedIn>[1];

/** Does it count from what is drawn of something? */
const isOff = ({ as }: Tie): boolean => as === 'beside' || as === 'behind' || as === 'along';

interface Surroundings {
  page: Page;
  /** The groups round what is followed. */
  spaces: Spaces;
  /** What is drawn round that. */
  rings: readonly Box[];
}

/** What follows something in a text, which has no groups that Gable looks into. */
function followedInText(
  item: FramedItem,
  to: Item,
  { story, rings }: { story: Story; rings: readonly Box[] },
): FramedItem | null {
  const tie = item.tie!;
  const rule = RULES[tie.as];
  if (!rule) return null;
  const placed = { ...placement(to), box: boxInText(to) };
  const { side, ...block } = tie;
  const target = targetOf(to, placed, { rings, page: story.page ?? PAPER });
  const { box, ...look } = rule(target, item, tie.as === 'behind' ? block : { ...block, ...(side && { side }) });
  const at = placedInText(item, to, { box, story });
  return at && { ...item, ...look, at };
}

function targetOf(to: Item, placed: Lies, { rings, page }: { rings: readonly Box[]; page: Size }): Target {
  const { shape, seat } = to.kind === 'framed' ? to : BARE;
  const { box, turn } = placed;
  const drawn = boundsOfBoxes([drawnBox(to, placed), ...rings]);
  const bare = (): Box => (to.kind === 'framed' ? drawnBox({ ...to, outline: null }, placed) : drawnBox(to, placed));
  return { ...{ drawn, bare, box, shape, seat, turn, page } };
}

function followed(item: FramedItem, to: Item, { page, spaces, rings }: Surroundings): FramedItem | null {
  const rule = RULES[item.tie!.as];
  if (!rule || (item.at.on !== 'page' && item.at.on !== 'cells' && item.at.on !== 'group')) return null;
  const placed = placedIn(placement(to), spaces);
  const { box, ...look } = rule(targetOf(to, placed, { rings, page: page.size }), item, item.tie!);
  return { ...item, ...look, at: { ...item.at, box } };
}

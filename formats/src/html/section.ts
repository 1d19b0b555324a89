import { edgePath, equal, GableError, type Frame, type FramedItem, type Section, type SectionEdge } from '@gable/core';
import type { AroundPicture } from '../codec/contract';
import type { Edit } from '../xml/splice';
import { element, itemMarkup, liesOn, membersOf, pt, roomy, share, span, type Member, type Ring } from './around';
import { imageAlone } from './insert';
import type { Found } from './page-source';
import { attributesOf, escapeHtml, parentTag, type Tag } from './tree';

/**
 * Sections of a web page: a picture as the ground, and words over it that stand in the flow of the section, which grows with them.
 * Its ground reaches to the edges of the window, wherever its column stands in the middle of that. No script, and no name that the page
 * may have, too: all is said where it stands (HTML §3.2.6.6, §4.3.3).
 */
const SECTION = 'data-gable-section';
const GROUND = 'data-gable-ground';
const EDGE = 'data-gable-edge';

/** Elements that hold blocks (HTML §3.2.5.2.2, flow content). */
const HOLDERS =
  /^(body|div|section|article|main|header|footer|aside|nav|li|dd|td|th|figure|blockquote|form|fieldset|details)$/;

/** Can a picture be the ground of a section where it stands? In it already, or by itself among blocks. */
export function canBeGround(outer: Tag): boolean {
  if (sectionRound(outer)) return true;
  const alone = imageAlone(outer);
  const holder = parentTag(alone);
  return holder !== null && HOLDERS.test(holder.tagName) && alone.sourceCodeLocation !== undefined;
}

/** The section that a picture is the ground of, as it was written before, and the element of its ground. */
export function sectionRound(outer: Tag): { section: Tag; ground: Tag } | null {
  const ground = parentTag(outer);
  const section = ground && parentTag(ground);
  const isOurs = section && GROUND in attributesOf(ground) && SECTION in attributesOf(section);
  return isOurs && section.sourceCodeLocation?.endTag && ground.sourceCodeLocation?.endTag ? { section, ground } : null;
}

/** How the ground of a section sizes its picture. */
export const GROUND_SIZE = { fluid: { width: '100%', most: '100%' }, height: '100%' } as const;

const NONE: Pick<AroundPicture, 'before' | 'behind'> = { before: [], behind: [] };

/**
 * The changes to a page that make a picture the ground of a section, or that bring one that it is to what is asked for; what stands in it
 * already stays.
 * @param frame markup of the picture in its frame
 * @param name of the frame
 * @throws GableError `cannot-write` where no section can stand, and for one that is to be taken apart
 */
export function sectionEdits(
  f: Pick<Found, 'outer' | 'frame'>,
  next: Frame,
  { frame, name, around }: { frame: string; name: string; around: AroundPicture | undefined },
): Edit[] {
  const { section } = next;
  const { ground, flow } = partsOf(next, around ?? { ...NONE, n: next.n }, name);
  const own = sectionRound(f.outer);
  const markup = ground(frame);
  if (!own) {
    if (!section || !canBeGround(f.outer)) throw noSection(next.n);
    const at = imageAlone(f.outer).sourceCodeLocation!;
    const edges = edgesOf(section);
    const inner = span(groundStyle(section), markup + edges, ` ${GROUND}`) + flow;
    return [
      {
        start: at.startOffset,
        end: at.endOffset,
        text: element('section', sectionStyle(next), inner, ` ${SECTION}`),
      },
    ];
  }
  if (!section && f.frame.section) throw staysSection(next.n);
  const at = f.outer.sourceCodeLocation!;
  const edits: Edit[] = [{ start: at.startOffset, end: at.endOffset, text: markup }];
  const end = own.section.sourceCodeLocation!.endTag!.startOffset;
  if (flow !== '') edits.push({ start: end, end, text: flow });
  // What Gable knew of it may be lost: then the section stays as its page has it.
  if (!section || equal([section, next.box.height], [f.frame.section, f.frame.box.height])) return edits;
  const restyle = (e: Tag, start: string): void => {
    const { startOffset, endOffset } = e.sourceCodeLocation!.startTag!;
    edits.push({ start: startOffset, end: endOffset, text: start });
  };
  restyle(own.section, startOf(element('section', sectionStyle(next), '', ` ${SECTION}`)));
  restyle(own.ground, startOf(span(groundStyle(section), '', ` ${GROUND}`)));
  for (const e of own.ground.childNodes)
    if ('tagName' in e && EDGE in attributesOf(e)) {
      const { startOffset, endOffset } = e.sourceCodeLocation!;
      edits.push({ start: startOffset, end: endOffset, text: '' });
    }
  const { startOffset } = own.ground.sourceCodeLocation!.endTag!;
  edits.push({ start: startOffset, end: startOffset, text: edgesOf(section) });
  return edits;
}

/** Of a picture that is taken out: the ground of its section with it, the words in that stay. */
export const groundAlone = (outer: Tag): Tag => sectionRound(outer)?.ground ?? imageAlone(outer);

const startOf = (markup: string): string => markup.slice(0, markup.indexOf('>') + 1);

const noSection = (n: number): GableError =>
  new GableError(
    'cannot-write',
    `Picture ${n} stands among words or in a link, where no section can stand.`,
    'Put it between two paragraphs, and make it a section there.',
    { n },
  );
const staysSection = (n: number): GableError =>
  new GableError(
    'cannot-write',
    `Picture ${n} is the ground of a section that its page has: that cannot be taken apart here.`,
    'Delete the picture: the words of the section stay.',
    { n },
  );

/** Of what stands around the picture: words over or beside it go into the flow of the section, the rest lies on its ground. */
function partsOf(
  { box }: Frame,
  around: Pick<AroundPicture, 'before' | 'behind'>,
  name: string,
): { ground: (frame: string) => string; flow: string } {
  const all = membersOf(around);
  const ids = new Set(all.map(({ item }) => item.id));
  const first = all.filter(({ item }) => !ids.has(item.tie?.to ?? ''));
  const to = { x: 0, y: 0, width: box.width, height: box.height };
  const flows = ({ item }: Member): boolean => item.text !== null && /^(over|beside)$/.test(item.tie?.as ?? '');
  const ring: Ring = { all, name: `${name}-on` };
  const lying = (beneath: boolean): string =>
    first
      .filter((m) => !flows(m) && m.beneath === beneath)
      .map((m) => itemMarkup(m, liesOn(m.item, to), ring))
      .join('');
  const on = (...sides: string[]): Member[] =>
    first.filter(
      (m) => flows(m) && sides.includes(m.item.tie?.as === 'beside' ? 'bottom' : (m.item.tie?.side ?? 'middle')),
    );
  const [top, middle, bottom] = [on('top'), on('middle', 'left', 'right'), on('bottom')];
  const stack = (members: readonly Member[], style: Readonly<Record<string, string>>): string =>
    members.length === 0
      ? ''
      : element(
          'div',
          { display: 'flex', 'flex-direction': 'column', gap: roomy(12), position: 'relative', ...style },
          members.map((m) => itemMarkup(m, standsIn(m.item, to.width), { ...ring, blocks: true })).join(''),
        );
  return {
    ground: (frame) => lying(true) + frame + lying(false),
    flow: stack(top, {}) + stack(middle, { margin: 'auto 0' }) + stack(bottom, { 'margin-top': 'auto' }),
  };
}

/** Letters need so much, in points, where there is as much. */
const LEGIBLE = 260;

/** Words in the flow: in their share of the width, in the middle where they are there. */
function standsIn({ at }: FramedItem, whole: number): Readonly<Record<string, string>> {
  const { x, width } = at.box;
  const isCentred = Math.abs(x + width / 2 - whole / 2) < whole / 100;
  return {
    position: 'relative',
    width: `max(${share(width, whole)}, min(100%, ${pt(LEGIBLE)}))`,
    margin: isCentred ? '0 auto' : `0 0 0 min(${share(Math.max(0, x), whole)}, 100% - min(100%, ${pt(LEGIBLE)}))`,
  };
}

function sectionStyle({ box, section }: Frame): Readonly<Record<string, string>> {
  const { share: part = 0, above, below } = section ?? {};
  const least = pt(box.height);
  const high = part > 0 ? `max(${least}, ${Math.round(part * 1000) / 10}svh)` : least;
  const room = (edge: SectionEdge | undefined): string => (edge ? `calc(${roomy(24)} + ${heightOf(edge)})` : roomy(24));
  return {
    ...{ display: 'flex', 'flex-direction': 'column', position: 'relative', 'box-sizing': 'border-box' },
    ...{ 'min-height': high, padding: `${room(above)} ${roomy(24)} ${room(below)}` },
    // What reaches beyond its column gives the page no scroll bar (CSS Containment 2 §3.3).
    contain: 'layout',
  };
}

function groundStyle({ wide }: Section): Readonly<Record<string, string>> {
  return { display: 'flex', position: 'absolute', inset: wide ? '0 calc(50% - 50vw)' : '0' };
}

/** In small windows an edge is lower, as letters and room are. */
const heightOf = ({ size }: SectionEdge): string => roomy(size);

const edgesOf = ({ above, below }: Section): string =>
  [above && edgeMarkup(above, 'above'), below && edgeMarkup(below, 'below')].filter(Boolean).join('');

/** A silhouette over the edge of the ground, in the colour of what lies beyond; a pixel further, so that no line shows between them. */
function edgeMarkup(edge: SectionEdge, side: 'above' | 'below'): string {
  const turned = `${edge.mirrored ? -1 : 1} ${side === 'above' ? -1 : 1}`;
  const style = [
    'all:initial;position:absolute;left:0;width:100%',
    `height:${heightOf(edge)}`,
    side === 'above' ? 'top:-1px' : 'bottom:-1px',
    `scale:${turned}`,
    'pointer-events:none',
  ].join(';');
  return (
    `<svg ${EDGE} style="${escapeHtml(style)}" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">` +
    `<path fill="${edge.colour}" d="${edgePath(edge)}"/></svg>`
  );
}

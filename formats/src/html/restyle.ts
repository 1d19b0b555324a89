import { equal, GableError, trimNumber, type FramedItem, type Paint, type Text } from '@gable/core';
import { otherWords } from '../codec/contract';
import { PIXEL } from '../css/lengths';
import { styleWith, type Declaration } from '../css/rules';
import type { Edit } from '../xml/splice';
import type { Cascade } from './cascade';
import { holderOf, type Letter, type OwnWords } from './words';
import { attributesOf, escapeHtml, parentTag, type Tag } from './tree';

type Run = Text['paragraphs'][number]['runs'][number];

const noGradient = (id: string): GableError =>
  new GableError('cannot-write', 'Words of a web page have one colour, no gradient.', 'Choose one colour.', { id });

function colourText(paint: Paint, id: string): string {
  if (paint.kind !== 'solid') throw noGradient(id);
  const { colour, opacity } = paint;
  if (opacity >= 1) return colour;
  const [red, green, blue] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
  return `rgba(${red},${green},${blue},${trimNumber(opacity, 3)})`;
}

const familyText = (font: string): string => {
  const name = font.replace(/['"\\;<]/g, '');
  return name === '' ? 'sans-serif' : `'${name}', sans-serif`;
};

/** A look of letters, with the properties that say it, also together with others. */
interface Look {
  names: readonly [string, ...string[]];
  of(run: Run, id: string): string;
}
const LOOKS: readonly Look[] = [
  { names: ['color'], of: (r, id) => colourText(r.paint, id) },
  { names: ['font-size', 'font'], of: (r) => `${trimNumber(r.size / PIXEL, 2)}px` },
  { names: ['font-weight', 'font'], of: (r) => String(r.weight) },
  { names: ['font-style', 'font'], of: (r) => (r.italic ? 'italic' : 'normal') },
  { names: ['font-family', 'font'], of: (r) => familyText(r.font) },
  { names: ['text-decoration', 'text-decoration-line'], of: (r) => (r.underline ? 'underline' : 'none') },
];
const ALIGN = { start: 'left', centre: 'center', end: 'right', justify: 'justify' } as const;

/** What is to be said, by the elements and pieces of text that it is said of. */
class Said {
  readonly of = new Map<Tag | Letter, Declaration[]>();

  constructor(private readonly cascade: Cascade) {}

  /** @param names of the property, and of those that say it together with others: what is said as important is so again */
  say(of: Tag | Letter, names: Look['names'], value: string): void {
    const isImportant = 'tagName' in of && this.cascade.saysItself(of, names).important;
    this.of.set(of, [...(this.of.get(of) ?? []), [names[0], isImportant ? `${value} !important` : value]]);
  }
}

/**
 * What of a page changes where words of its own look otherwise: the `style` of their element, which comes before the rules of its
 * sheets (CSS Cascade 5 §6.1), and of those in it that say the same by themselves. All else is left as it is.
 * @throws GableError `cannot-write` for other words, gradients, an outline or another place
 */
export function restyleWords(
  { element, letters }: OwnWords,
  { was, now }: { was: FramedItem; now: FramedItem },
  { cascade, text }: { cascade: Cascade; text: string },
): Edit[] {
  const { id } = now;
  if (!equal([was.at, was.turn, was.outline], [now.at, now.turn, now.outline]))
    throw new GableError(
      'cannot-write',
      'Words of a web page stay where their page has them, without an outline.',
      'Undo that.',
      { id },
    );
  const [before, after] = [was.text?.paragraphs[0], now.text?.paragraphs[0]];
  const textsOf = (runs: readonly Run[]): string[] => runs.map((r) => r.text);
  if (!before || !after || now.text!.paragraphs.length > 1 || !equal(textsOf(before.runs), textsOf(after.runs)))
    throw otherWords(id);
  const said = new Said(cascade);
  if (before.align !== after.align) said.say(element, ['text-align'], ALIGN[after.align]);
  if (!equal(was.fill, now.fill))
    said.say(
      element,
      ['background-color', 'background'],
      now.fill?.kind === 'paint' ? colourText(now.fill.paint, id) : 'transparent',
    );
  const runs = new Map(letters.map((letter, i) => [letter, i] as const));
  for (const look of LOOKS) {
    const [old, next] = [before.runs, after.runs].map((all) => all.map((r) => look.of(r, id))) as [string[], string[]];
    if (equal(old, next)) continue;
    const above = parentTag(element);
    if (look.names[0] === 'text-decoration' && next.includes('none') && above && cascade.lettersOf(above).underline)
      throw new GableError(
        'cannot-write',
        'These words are underlined by what they stand in, such as a link.',
        'Leave them underlined.',
        { id },
      );
    // What is behind the last piece that is told of looks as that does.
    const valueOf = (values: readonly string[], letter: Letter): string =>
      values[Math.min(runs.get(letter)!, values.length - 1)] ?? '';
    spread(element, {
      block: element,
      look,
      said,
      cascade,
      letters,
      old: (l) => valueOf(old, l),
      next: (l) => valueOf(next, l),
    });
  }
  return editsOf(said, text);
}

interface Spreading {
  block: Tag;
  look: Look;
  said: Said;
  cascade: Cascade;
  letters: readonly Letter[];
  old: (letter: Letter) => string;
  next: (letter: Letter) => string;
}

/** Says a look of an element as far as its letters need it: by itself, else by the pieces of text that differ. */
function spread(e: Tag, spreading: Spreading, above: string | null = null): void {
  const { block, look, said, cascade, letters, old, next } = spreading;
  const own = letters.filter((letter) => holderOf(letter) === e);
  const inner = letters.filter((letter) => isIn(letter, e));
  if (inner.length === 0) return;
  // What its letters have without anything more being said: what it says by itself, else what is round it.
  const first = own[0] ?? inner[0]!;
  const says = cascade.saysItself(e, look.names).says;
  let now = says || above === null ? old(first) : above;
  const wanted = own[0] && next(own[0]);
  if (wanted !== undefined && now !== wanted && isOneTag(e, block)) {
    said.say(e, look.names, wanted);
    now = wanted;
  }
  for (const letter of own) if (next(letter) !== now) said.say(letter, look.names, next(letter));
  for (const child of e.childNodes)
    // An element without letters of its own has those of its parent, where it says nothing.
    if ('tagName' in child) spread(child, spreading, own.length > 0 || above !== null ? now : null);
}

/**
 * Does a tag stand for this element alone? One that is left open goes on in what follows, as others of the same tag (HTML §13.2.4.3,
 * formatting elements).
 */
function isOneTag(e: Tag, block: Tag): boolean {
  const { sourceCodeLocation: at } = e;
  return e === block || (at?.endTag != null && at.startOffset > block.sourceCodeLocation!.startOffset);
}

function isIn(letter: Letter, e: Tag): boolean {
  for (let p: Tag | null = holderOf(letter); p; p = parentTag(p)) if (p === e) return true;
  return false;
}

function editsOf(said: Said, text: string): Edit[] {
  return [...said.of].map(([of, looks]): Edit => {
    const style = (was: string): string => `style="${escapeHtml(styleWith(was, looks))}"`;
    if (!('tagName' in of)) {
      const { startOffset: start, endOffset: end } = of.sourceCodeLocation!;
      return { start, end, text: `<span ${style('')}>${text.slice(start, end)}</span>` };
    }
    const location = of.sourceCodeLocation!;
    const there = location.attrs?.['style'];
    if (there) return { start: there.startOffset, end: there.endOffset, text: style(attributesOf(of)['style'] ?? '') };
    const at = location.startOffset + 1 + of.tagName.length;
    return { start: at, end: at, text: ` ${style('')}` };
  });
}

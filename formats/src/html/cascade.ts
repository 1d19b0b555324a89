import { equal } from '@gable/core';
import { cssColour } from '../css/colour';
import { PIXEL } from '../css/lengths';
import {
  compiled,
  declared,
  inherit,
  ownDeclarations,
  Rules,
  type Declaration,
  type Rule,
  type TreeAdapter,
} from '../css/rules';
import { longhands } from '../css/shorthands';
import { computedValue, lengthIn, split, substitute, type Fonts } from '../css/values';
import { bearsOnLetters, lettersBy, PLAIN, saidByName, usualScale, type Letters } from './letters';
import { attributesOf, parentTag, TREE, type Node, type Tag } from './tree';

const known = new WeakMap<Tag, ReadonlySet<string>>();

function classesOf(e: Tag): ReadonlySet<string> {
  const own = known.get(e) ?? new Set((attributesOf(e)['class'] ?? '').split(/\s+/));
  known.set(e, own);
  return own;
}

/** Elements of a page. */
export const HTML_ADAPTER: TreeAdapter<Tag> = {
  tagOf: (e) => e.tagName,
  parentOf: parentTag,
  idOf: (e) => attributesOf(e)['id'],
  nameOf: (name) => name.toLowerCase(),
  classesOf,
  styleText: (e) => attributesOf(e)['style'] ?? '',
  matcher: (selector) => compiled<Node, Tag>(selector, { adapter: TREE }),
};

/** What an element has from those above it. */
interface Inherited {
  variables: ReadonlyMap<string, string>;
  colour: string;
  fonts: Fonts;
  letters: Letters;
}

/** CSS Color 4 §6.2 and CSS Fonts 4 §2.5.1: what is usual on a screen. */
const ROOT: Inherited = { variables: new Map(), colour: '#000000', fonts: { em: 16, rem: 16 }, letters: PLAIN };
/** Sizes of letters by name, of the usual one (CSS Fonts 4 §2.5.1). */
const LETTERS: Readonly<Record<string, number>> = {
  'xx-small': 0.6,
  'x-small': 0.75,
  small: 8 / 9,
  medium: 1,
  large: 1.2,
  'x-large': 1.5,
  'xx-large': 2,
};

const MARGINS = [
  ['margin-left', '40px'],
  ['margin-right', '40px'],
] as const;
const INDENT = [['padding-left', '40px']] as const;
/** What bears on the width of elements without being told (HTML §15.3). */
const DEFAULT_STYLES: Readonly<Record<string, readonly Declaration[]>> = {
  body: [
    ['margin-left', '8px'],
    ['margin-right', '8px'],
  ],
  figure: MARGINS,
  blockquote: MARGINS,
  dd: [['margin-left', '40px']],
  ul: INDENT,
  ol: INDENT,
  // As wide as what is in them (HTML §15.3.9).
  table: [['display', 'table']],
  td: [['display', 'table-cell']],
  th: [['display', 'table-cell']],
  button: [['display', 'inline-block']],
};

const isInherited = (property: string): boolean =>
  property.startsWith('--') || property === 'color' || property === 'font-size' || property === 'font';

/** What an element has from those above it, in all. */
const goesOn = (property: string): boolean => isInherited(property) || bearsOnLetters(property);

/** Colours that are words for others (CSS Cascade 5 §7.3, CSS Color 4 §9). */
const COLOUR_OF: Readonly<Record<string, (from: Inherited) => string>> = {
  inherit: (from) => from.colour,
  unset: (from) => from.colour,
  currentcolor: (from) => from.colour,
  initial: () => ROOT.colour,
};

/** The colour of what is a link without anybody having said so (HTML §15.3.8). */
const LINK = '#0000ee';
const isLink = (e: Tag): boolean => e.tagName === 'a' && attributesOf(e)['href'] !== undefined;

/** What hangs on the window is written back as such (CSS Values 4 §6.1.2, viewport units). */
const VIEWPORT = /\d[sld]?v(w|h|i|b|min|max)\b/i;
export const WRITTEN_HEIGHT = 'height, as written';

/** The rules of a page, and what they come to for its elements (CSS Cascade 5). */
export class Cascade {
  private readonly inheritedOf = new WeakMap<Tag, Inherited>();
  private readonly known = new WeakMap<Tag, ReadonlyMap<string, string>>();
  private readonly sharedStyles = new WeakMap<Inherited, Map<string, ReadonlyMap<string, string>>>();
  private readonly rules: Rules<Tag>;
  private readonly inheriting: Rules<Tag>;

  constructor(rules: readonly Rule<Tag>[]) {
    this.rules = new Rules(rules);
    this.inheriting = new Rules(
      rules.filter((r) => [...r.declarations, ...r.important].some(([property]) => goesOn(property))),
    );
  }

  /**
   * What the rules and the element's own `style` say of it: by longhand, variables put in, lengths that hang on letters
   * or on the window in pixels. `color` is there when anything says it, for what takes its colour from it.
   */
  styleOf(element: Tag): ReadonlyMap<string, string> {
    const known = this.known.get(element) ?? this.read(element);
    this.known.set(element, known);
    return known;
  }

  /** Many elements are under the same rules: what those come to is worked out once. */
  private read(element: Tag): ReadonlyMap<string, string> {
    const above = this.inherited(element);
    const rules = this.rules.matching(element, HTML_ADAPTER);
    const key = `${element.tagName} ${rules.map((r) => this.rules.orderOf(r)).join(' ')} ${HTML_ADAPTER.styleText(element)}`;
    const alike = this.sharedStyles.get(above) ?? new Map<string, ReadonlyMap<string, string>>();
    this.sharedStyles.set(above, alike);
    const style = alike.get(key) ?? this.workOut(element, above, declared(element, rules, HTML_ADAPTER));
    alike.set(key, style);
    return style;
  }

  private workOut(
    { tagName }: Tag,
    { variables, colour, fonts }: Inherited,
    said: readonly Declaration[],
  ): ReadonlyMap<string, string> {
    const out = new Map([['color', colour], ...(DEFAULT_STYLES[tagName] ?? [])]);
    for (const [property, value] of said) {
      if (isInherited(property)) continue;
      const text = substitute(value, variables);
      // A value that cannot be told, or that stands for the usual one, is as good as none (CSS Variables 1 §3.1).
      const gone = text === null || /^(initial|inherit|unset|revert|revert-layer)$/i.test(text);
      for (const [name, v] of longhands(property, text ?? ''))
        if (gone) out.delete(name);
        else {
          out.set(name, computedValue(v, fonts));
          if (name === 'height' && VIEWPORT.test(v)) out.set(WRITTEN_HEIGHT, v);
        }
    }
    return out;
  }

  /** How letters right in an element look: their colour as it is written, their size in pixels. */
  lettersOf(element: Tag): Letters & { colour: string; size: number } {
    const { colour, fonts, letters } = this.inherited(element);
    return { ...letters, colour, size: fonts.em };
  }

  /**
   * Does an element say a property by itself: by a rule, its `style` or its name?
   * @param names the property, and those that say it together with others
   */
  saysItself(element: Tag, names: readonly [string, ...string[]]): { says: boolean; important: boolean } {
    const isNamed = ([property]: Declaration): boolean => names.includes(property) || property === 'all';
    const own = ownDeclarations(HTML_ADAPTER.styleText(element));
    const all = [...this.rules.matching(element, HTML_ADAPTER), own];
    const important = all.some((r) => r.important.some(isNamed));
    return {
      important,
      says: important || all.some((r) => r.declarations.some(isNamed)) || saidByName(element, names[0]),
    };
  }

  private inherited(element: Tag): Inherited {
    return inherit(element, parentTag, this.inheritedOf, ROOT, (e, from) => this.inheritedBy(e, from));
  }

  private inheritedBy(element: Tag, from: Inherited): Inherited {
    const own = declared(element, this.inheriting.matching(element, HTML_ADAPTER), HTML_ADAPTER).filter(([property]) =>
      goesOn(property),
    );
    const scale = usualScale(element);
    const usual = { ...from.fonts, em: from.fonts.em * scale };
    if (own.length === 0) {
      const letters = lettersBy(element, from.letters, []);
      const colour = isLink(element) ? LINK : from.colour;
      const isSame = scale === 1 && colour === from.colour && equal(letters, from.letters);
      return isSame ? from : { ...from, colour, letters, fonts: usual };
    }
    const given = new Map(from.variables);
    for (const [property, value] of own) if (property.startsWith('--')) given.set(property, value);
    // What leads to other variables is settled where it is said (CSS Variables 1 §2.2); one without a value is none.
    const variables = new Map(given);
    for (const name of new Set(own.map(([property]) => property))) {
      const value = name.startsWith('--') ? substitute(given.get(name)!, given) : undefined;
      if (value === null) variables.delete(name);
      else if (value !== undefined) variables.set(name, value);
    }
    let { colour } = from;
    let fonts = usual;
    const said: Declaration[] = [];
    if (isLink(element)) colour = LINK;
    for (const [property, value] of own) {
      const text = property.startsWith('--') ? null : substitute(value, variables);
      if (text === null) continue;
      if (bearsOnLetters(property) || property === 'font') said.push([property, text]);
      if (property === 'all' && /^initial$/i.test(text))
        [colour, fonts] = [ROOT.colour, { ...fonts, em: ROOT.fonts.em }];
      if (bearsOnLetters(property)) continue;
      if (property === 'color') colour = cssColour(text) ? text : (COLOUR_OF[text.toLowerCase()]?.(from) ?? colour);
      else fonts = { ...fonts, em: letters(property, text, from.fonts) ?? fonts.em };
    }
    if (!parentTag(element)) fonts = { em: fonts.em, rem: fonts.em };
    return { variables, colour, fonts, letters: lettersBy(element, from.letters, said) };
  }
}

/** The size of letters in pixels that `font-size` or `font` says. */
function letters(property: string, text: string, from: Fonts): number | null {
  const words = property === 'font' ? split(text).flatMap((w) => split(w, /\//).slice(0, 1)) : [text];
  for (const word of words) {
    const named = LETTERS[word.toLowerCase()];
    if (named !== undefined) return named * 16;
    const length = lengthIn(computedValue(word, from), from.em * PIXEL);
    if (length !== null && length > 0) return length / PIXEL;
  }
  return null;
}

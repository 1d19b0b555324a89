import { firstFamily, fontShorthand, weightOf } from '../css/fonts';
import type { Declaration } from '../css/rules';
import { attributesOf, type Tag } from './tree';

/** How letters look, as far as an element has it from those above it (CSS Fonts 4 §2, CSS Text 3 §6.1, CSS Text Decoration 3 §2). */
export interface Letters {
  /** The first of its fonts; nothing where any of a kind will do. */
  family: string;
  weight: number;
  italic: boolean;
  /** Lines beneath letters go on beneath all that is in their element. */
  underline: boolean;
  align: 'start' | 'centre' | 'end' | 'justify';
}

export const PLAIN: Letters = { family: '', weight: 400, italic: false, underline: false, align: 'start' };

const NAMES = /^(font-family|font-weight|font-style|text-align|text-decoration|text-decoration-line|all)$/;
export const bearsOnLetters = (property: string): boolean => NAMES.test(property);

const BOLD = /^(h[1-6]|th)$/;
const BOLDER = /^(b|strong)$/;
const ITALIC = /^(i|em|cite|dfn|var|address)$/;
/** As long as nobody has said it of what is round them. */
const CENTRED = /^(th|caption)$/;
const LINED = /^(u|ins)$/;
/** What letters are larger or smaller than those round them without anybody having said so (HTML §15.3). */
const LARGER: Readonly<Record<string, number>> = {
  ...{ h1: 2, h2: 1.5, h3: 1.17, h4: 1, h5: 0.83, h6: 0.67 },
  ...{ small: 5 / 6, big: 1.2, sub: 5 / 6, sup: 5 / 6 },
};
export const usualScale = ({ tagName }: Tag): number => LARGER[tagName] ?? 1;

const ALIGNS: Readonly<Record<string, Letters['align']>> = {
  ...{ left: 'start', start: 'start', center: 'centre', right: 'end', end: 'end', justify: 'justify' },
};

/** What an element's own letters are without anybody having said so (HTML §15.3.4, §15.3.6). */
function usual(e: Tag, from: Letters): Letters & { lined: boolean } {
  const { tagName } = e;
  return {
    ...from,
    ...(BOLD.test(tagName) && { weight: 700 }),
    ...(BOLDER.test(tagName) && { weight: weightOf('bolder', from.weight)! }),
    ...(ITALIC.test(tagName) && { italic: true }),
    ...((tagName === 'center' || (CENTRED.test(tagName) && from.align === 'start')) && { align: 'centre' as const }),
    lined: LINED.test(tagName) || (tagName === 'a' && attributesOf(e)['href'] !== undefined),
  };
}

/** Does an element of this name, without anybody having said so, say a property by itself? */
export function saidByName(e: Tag, property: string): boolean {
  const { tagName } = e;
  const isLink = tagName === 'a' && attributesOf(e)['href'] !== undefined;
  switch (property) {
    case 'color':
      return isLink;
    case 'font-size':
      return tagName in LARGER;
    case 'font-weight':
      return BOLD.test(tagName) || BOLDER.test(tagName);
    case 'font-style':
      return ITALIC.test(tagName);
    case 'text-align':
      return tagName === 'center' || CENTRED.test(tagName);
    case 'text-decoration':
      return isLink || LINED.test(tagName);
    default:
      return false;
  }
}

/** @param own what is said of the element, variables put in, the stronger later */
export function lettersBy(e: Tag, from: Letters, own: readonly Declaration[]): Letters {
  let { lined, ...now } = usual(e, from);
  for (const [property, text] of own) {
    const word = text.trim().toLowerCase();
    const inherits = word === 'inherit' || word === 'unset';
    switch (property) {
      case 'all':
        if (word === 'initial') [now, lined] = [PLAIN, false];
        break;
      case 'font': {
        const font = fontShorthand(text, from.weight);
        if (font) now = { ...now, ...font };
        break;
      }
      case 'font-family':
        now = { ...now, family: inherits ? from.family : firstFamily(text) };
        break;
      case 'font-weight':
        now = { ...now, weight: inherits ? from.weight : (weightOf(word, from.weight) ?? now.weight) };
        break;
      case 'font-style':
        now = { ...now, italic: inherits ? from.italic : /^(italic|oblique)/.test(word) };
        break;
      case 'text-align':
        now = { ...now, align: inherits ? from.align : (ALIGNS[word] ?? now.align) };
        break;
      case 'text-decoration':
      case 'text-decoration-line':
        lined = /(^|\s)underline(\s|$)/.test(word);
        break;
    }
  }
  return { ...now, underline: from.underline || lined };
}

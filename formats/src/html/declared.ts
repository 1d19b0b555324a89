import { Rules, ownDeclarations, type Declaration, type Rule } from '../css/rules';
import { surrounding, type Style } from './box';
import { HTML_ADAPTER } from './cascade';
import { attributesOf, type Tag } from './tree';

/** What sizes an image and puts it among what is round it, in whatever window. */
const SIZING =
  /^(width|height|(min|max)-(width|height)|(inline|block)-size|aspect-ratio|margin(-.*)?|flex(-.*)?|order|align-self|justify-self|place-self|grid-area|grid-(row|column)(-.*)?|float|clear)$/;
/** What only counts where an image is positioned (CSS Positioned Layout 3 §3). */
const OFFSET = /^(inset(-.*)?|top|right|bottom|left)$/;
/** What those may hang on (CSS Variables 1 §2). */
const VARIABLE = /^--/;

/** The rules of a page that say how images are sized, those too whose conditions do not hold now. */
export const sizingRules = (rules: readonly Rule<Tag>[]): Rules<Tag> =>
  new Rules(rules.filter((r) => [...r.declarations, ...r.important].some(([name]) => isSizing(name))));

const isSizing = (name: string): boolean => SIZING.test(name) || OFFSET.test(name) || VARIABLE.test(name);

interface Declared {
  /** At-rules round it, the outer ones first. */
  conditions: readonly string[];
  declarations: readonly Declaration[];
  important: boolean;
}

/** Lengths by themselves, and shares: what a width may be that a frame says in its own words. */
const PLAIN_WIDTH = /^(auto|0|\d*\.?\d+(px|pt|pc|cm|mm|in|em|rem|%))$/i;
const IS_NONE = /^(none|auto|0(px|pt|%)?)$/i;
const HANGS = /\(|[\d.]+[sld]?v(w|h|i|b|min|max)\b|[\d.]+cq/i;

/** All that a page declares of how an image is sized, as it declares it, in the order of the cascade (CSS Cascade 5 §6). */
export class DeclaredSizing {
  private constructor(private readonly all: readonly Declared[]) {}

  /**
   * @param style what comes of it in the window that pages are read for
   * @returns null where a frame says it as well in its own words, or can not: where it has a border or padding
   */
  static of(image: Tag, rules: Rules<Tag>, style: Style): DeclaredSizing | null {
    const { top, right, bottom, left } = surrounding(style, 0);
    if (top + right + bottom + left > 0) return null;
    const isPlaced = /^(relative|absolute|fixed|sticky)$/.test(style.get('position') ?? 'static');
    const sized = (all: readonly Declaration[]): Declaration[] =>
      all.filter(
        ([name, value]) =>
          (SIZING.test(name) || VARIABLE.test(name) || (isPlaced && OFFSET.test(name))) && !/[;{}<]/.test(value),
      );
    const matching = rules.matching(image, HTML_ADAPTER);
    const own = ownDeclarations(HTML_ADAPTER.styleText(image));
    const entry = (
      declarations: readonly Declaration[],
      important: boolean,
      conditions: readonly string[] = [],
    ): Declared => ({
      ...{ declarations: sized(declarations), important, conditions },
    });
    const all = [
      entry(hints(attributesOf(image)), false),
      ...matching.map((r) => entry(r.declarations, false, r.conditions)),
      entry(own.declarations, false),
      ...matching.map((r) => entry(r.important, true, r.conditions)),
      entry(own.important, true),
    ].filter((d) => d.declarations.length > 0);
    const declared = new DeclaredSizing(all);
    return declared.isNeeded() ? declared : null;
  }

  /** Are its sides said at all? An image without any is as large as its picture. */
  get hasSides(): boolean {
    return this.valuesOf(/^(width|height|inline-size|block-size)$/).some((v) => !IS_NONE.test(v));
  }

  private valuesOf(name: RegExp): string[] {
    return this.all.flatMap((d) => d.declarations.filter(([n]) => name.test(n)).map(([, value]) => value));
  }

  /** Can a frame not say it in lengths and shares of its own, so that it holds in every window? */
  private isNeeded(): boolean {
    const isConditional = this.all.some(
      (d) => d.conditions.length > 0 && d.declarations.some(([name]) => !VARIABLE.test(name)),
    );
    return (
      isConditional ||
      this.valuesOf(/^(width|inline-size)$/).some((v) => !PLAIN_WIDTH.test(v)) ||
      this.valuesOf(/^(height|block-size)$/).some((v) => /%|cq/i.test(v)) ||
      this.valuesOf(/^(min|max)-height$/).some((v) => !IS_NONE.test(v)) ||
      // In a column it takes the room that is left.
      (this.valuesOf(/^flex(-grow|-basis)?$/).length > 0 && this.valuesOf(/^min-height$/).length > 0) ||
      this.valuesOf(/^(margin|inset|left|right)/).some((v) => HANGS.test(v))
    );
  }

  /** The rules for what goes round the image in its place. @param name its class */
  rulesFor(name: string): string {
    const rule = (selector: string, { declarations, important, conditions }: Declared, sure: boolean): string => {
      const body = declarations.map(([n, v]) => `${n}: ${v}${important || sure ? ' !important' : ''};`).join(' ');
      return conditions.reduceRight((inner, at) => `${at} { ${inner} }`, `${selector} { ${body} }`);
    };
    // Within what is bound in height the image is, too: it covers that.
    const bound = this.all.flatMap((d) => {
      const declarations = d.declarations.filter(([n, v]) => /^(min|max)-height$/.test(n) && !/%/.test(v));
      return declarations.length > 0 ? [{ ...d, declarations }] : [];
    });
    return [
      ...this.all.map((d) => rule(`.${name}`, d, false)),
      ...bound.map((d) => rule(`.${name} img`, d, true)),
    ].join('\n');
  }
}

/** What attributes say of its sides, below all rules (HTML §15.4.3). */
function hints(a: Readonly<Record<string, string>>): Declaration[] {
  const side = (name: 'width' | 'height'): Declaration[] => {
    const [, value, unit] = /^\s*(\d+(?:\.\d+)?)(%?)/.exec(a[name] ?? '') ?? [];
    return value === undefined ? [] : [[name, `${value}${unit || 'px'}`]];
  };
  return [...side('width'), ...side('height')];
}

/** What stands before the rules that say a size as the page does. */
export const AS_DECLARED = '/* sized as the page sizes it */';
/** Those rules of a frame that was written before; null where it has none. */
export const writtenDeclared = (css: string): string | null => {
  const at = css.indexOf(AS_DECLARED);
  return at < 0 ? null : css.slice(at + AS_DECLARED.length).trim();
};

import { channels, clamp, fromLinear, toLinear } from '@gable/core';
import { converter, formatHex } from 'culori';
import { cssColour } from '../css/colour';
import { child, descend, type Element } from '../xml/located';
import { integer, share } from './values';

/** What a theme gives to those that refer to it (ISO/IEC 29500-1 §20.1.6.9, theme; §20.1.4.1.14, fmtScheme). */
export interface Theme {
  /** Colours by the names that a part uses (`accent1`, `dk1`, `tx1`, …), `#rrggbb`. */
  readonly colours: ReadonlyMap<string, string>;
  /** Lines that shapes take by number: subtle, moderate, intense (§20.1.4.1.21, lnStyleLst). */
  readonly lines: readonly Element[];
  /** Lists of effects, likewise (§20.1.4.1.11, effectStyle). */
  readonly effects: readonly (Element | undefined)[];
  /** Latin fonts of headings and of all else (§20.1.4.1.18, fontScheme). */
  readonly fonts: { readonly major: string; readonly minor: string };
}

/** Which colour of the theme a part means by a name (§19.3.1.6, clrMap; §17.15.1.20, clrSchemeMapping). */
export type ColourMap = Readonly<Record<string, string>>;

/** What is usual, and holds where nothing is said. */
const DEFAULT_COLOUR_MAP: ColourMap = { tx1: 'dk1', bg1: 'lt1', tx2: 'dk2', bg2: 'lt2' };

export const NO_THEME: Theme = { colours: new Map(), lines: [], effects: [], fonts: { major: '', minor: '' } };

export function readTheme(root: Element, mapping: ColourMap = {}): Theme {
  const scheme = new Map<string, string>();
  for (const slot of descend(root, 'themeElements', 'clrScheme')?.children ?? []) {
    const c = readColour(slot, () => NO_THEME);
    if (c) scheme.set(slot.local, c.colour);
  }
  const colours = new Map(scheme);
  for (const [name, meant] of Object.entries({ ...DEFAULT_COLOUR_MAP, ...mapping })) {
    const c = scheme.get(meant);
    if (c) colours.set(name, c);
  }
  const formats = descend(root, 'themeElements', 'fmtScheme');
  const font = (local: string): string =>
    descend(root, 'themeElements', 'fontScheme', local, 'latin')?.attributes['typeface'] ?? '';
  return {
    colours,
    lines: (child(formats, 'lnStyleLst')?.children ?? []).filter((e) => e.local === 'ln'),
    effects: (child(formats, 'effectStyleLst')?.children ?? []).map((e) => child(e, 'effectLst')),
    fonts: { major: font('majorFont'), minor: font('minorFont') },
  };
}

/** The theme as those see it who refer to it with a colour of their own (§20.1.4.2.19, lnRef): `phClr` is that colour. */
export function referredWith(colour: string | undefined, theme: () => Theme): () => Theme {
  return () => {
    const { colours, ...rest } = theme();
    return { ...rest, colours: colour ? new Map([...colours, ['phClr', colour]]) : colours };
  };
}

/** Red, green and blue in sRGB and opacity, 0..1. */
type Rgba = readonly [r: number, g: number, b: number, opacity: number];

const hsl = converter('hsl');
const rgb = converter('rgb');

/** Changes hue (as a share of the full turn), saturation or luminance, as HSL has them. */
function inHsl([r, g, b, a]: Rgba, change: (c: { h: number; s: number; l: number }) => object): Rgba {
  const { h = 0, s, l } = hsl({ mode: 'rgb', r, g, b });
  const to = { h: h / 360, s, l, ...change({ h: h / 360, s, l }) };
  const c = rgb({ mode: 'hsl', h: (((to.h % 1) + 1) % 1) * 360, s: clamp(to.s, 0, 1), l: clamp(to.l, 0, 1) });
  return [c.r, c.g, c.b, a];
}

const every = ([r, g, b, a]: Rgba, f: (v: number) => number): Rgba => [f(r), f(g), f(b), a];
const at = (c: Rgba, i: 0 | 1 | 2 | 3, f: (v: number) => number): Rgba => c.with(i, f(c[i])) as unknown as Rgba;

const CHANNELS = { red: 0, green: 1, blue: 2, alpha: 3 } as const;

/**
 * What stands in a colour changes it, one after the other (ISO/IEC 29500-1 §20.1.2.3.1 to .34). Tint and shade are taken in
 * sRGB; the standard does not say where.
 * @param k the value as a share; of a hue as a share of the full turn
 */
function transformed(c: Rgba, name: string, k: number): Rgba {
  const [, base = '', how = ''] = /^(alpha|red|green|blue|hue|sat|lum)(Mod|Off)?$/.exec(name) ?? [];
  if (base) {
    const f = (v: number): number => (how === 'Mod' ? v * k : how === 'Off' ? v + k : k);
    if (base in CHANNELS) return at(c, CHANNELS[base as keyof typeof CHANNELS], f);
    const of = { hue: 'h', sat: 's', lum: 'l' }[base] as 'h' | 's' | 'l';
    return inHsl(c, (was) => ({ [of]: f(was[of]) }));
  }
  switch (name) {
    case 'tint':
      return every(c, (v) => v * k + 1 - k);
    case 'shade':
      return every(c, (v) => v * k);
    case 'comp':
      return inHsl(c, ({ h }) => ({ h: h + 0.5 }));
    case 'inv':
      return every(c, (v) => 1 - v);
    case 'gray': {
      const [r, g, b] = every(c, toLinear);
      const grey = fromLinear(0.2126 * r + 0.7152 * g + 0.0722 * b);
      return every(c, () => grey);
    }
    case 'gamma':
      return every(c, fromLinear);
    case 'invGamma':
      return every(c, toLinear);
    default:
      return c;
  }
}

/** Those that take no value. */
const WHOLE = /^(comp|inv|gray|gamma|invGamma)$/;

const ofHex = (hex: string | undefined): Rgba | null => {
  if (!/^#[0-9a-f]{6}$/i.test(hex ?? '')) return null;
  const [r, g, b] = channels(hex!);
  return [r / 255, g / 255, b / 255, 1];
};

/** Colours of the system whose last value was not kept (§20.1.2.3.33): text and its ground; others are not guessed. */
const SYSTEM: Readonly<Record<string, string>> = { windowText: '#000000', window: '#ffffff' };

/** A colour before what stands in it changes it. */
function baseOf(c: Element, theme: () => Theme): Rgba | null {
  const { val = '', lastClr, ...a } = c.attributes;
  const part = (name: string): number => share(a[name]) ?? 0;
  switch (c.local) {
    case 'srgbClr':
      return ofHex(`#${val}`);
    case 'sysClr':
      return ofHex(`#${lastClr}`) ?? ofHex(SYSTEM[val]);
    case 'prstClr':
      // §20.1.10.48: the names of CSS, and short ones for dark, light and medium.
      return ofHex(
        cssColour(
          val
            .replace(/^dk/, 'dark')
            .replace(/^lt/, 'light')
            .replace(/^med(?!ium)/, 'medium'),
        )?.colour,
      );
    case 'schemeClr':
      return ofHex(theme().colours.get(val));
    case 'scrgbClr':
      // §20.1.2.3.30: linear light.
      return [fromLinear(part('r')), fromLinear(part('g')), fromLinear(part('b')), 1];
    case 'hslClr': {
      const h = integer(a['hue']) / 21_600_000;
      return inHsl([0, 0, 0, 1], () => ({ h, s: part('sat'), l: part('lum') }));
    }
    default:
      return null;
  }
}

/**
 * The colour in a fill, a theme's slot or an effect (ISO/IEC 29500-1 §20.1.2.3), with all that changes it.
 * @returns null for a colour that cannot be told, such as a name the theme does not have
 */
export function readColour(fill: Element, theme: () => Theme): { colour: string; opacity: number } | null {
  const c = fill.children.find((e) => e.local.endsWith('Clr'));
  let now = c ? baseOf(c, theme) : null;
  if (!c || !now) return null;
  for (const t of c.children) {
    const value = t.attributes['val'];
    const angle = t.local === 'hue' || t.local === 'hueOff';
    const k = WHOLE.test(t.local) ? 1 : angle ? integer(value, NaN) / 21_600_000 : share(value);
    if (k === null || Number.isNaN(k)) continue;
    now = every(transformed(now, t.local, k), (v) => clamp(v, 0, 1));
  }
  const [r, g, b, opacity] = now;
  return { colour: formatHex({ mode: 'rgb', r, g, b }), opacity: clamp(opacity, 0, 1) };
}

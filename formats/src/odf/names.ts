import { boundedLength, POINTS, trimNumber, type Unit } from '@gable/core';
import { prefixFor, type Element } from '../xml/located';

/** Namespaces of OpenDocument (ISO/IEC 26300, ODF 1.2 Part 1 §1.4) by their usual prefixes. */
const URN = 'urn:oasis:names:tc:opendocument:xmlns';
export const URIS = {
  office: `${URN}:office:1.0`,
  style: `${URN}:style:1.0`,
  text: `${URN}:text:1.0`,
  table: `${URN}:table:1.0`,
  draw: `${URN}:drawing:1.0`,
  presentation: `${URN}:presentation:1.0`,
  dr3d: `${URN}:dr3d:1.0`,
  fo: `${URN}:xsl-fo-compatible:1.0`,
  svg: `${URN}:svg-compatible:1.0`,
  manifest: `${URN}:manifest:1.0`,
  xlink: 'http://www.w3.org/1999/xlink',
} as const;
export type Prefix = keyof typeof URIS;

/** Names as they are written where an element stands, `draw:frame` for example. */
export class Names {
  private readonly known = new Map<Prefix, string>();

  constructor(private readonly at: Element) {}

  /** @returns the name, or null where its namespace is bound nowhere */
  find(name: string): string | null {
    const colon = name.indexOf(':');
    const prefix = name.slice(0, colon) as Prefix;
    let bound = this.known.get(prefix);
    if (bound === undefined) {
      const found = prefixFor(this.at, URIS[prefix]);
      bound = found === null ? '\0' : found;
      this.known.set(prefix, bound);
    }
    return bound === '\0' ? null : bound === '' ? name.slice(colon + 1) : `${bound}${name.slice(colon)}`;
  }

  /** A name for writing; what is not bound where it stands is bound by `declare`. */
  of(name: string): string {
    return this.find(name) ?? name;
  }

  /** Bindings for the usual prefixes that this file lacks. */
  declare(...prefixes: Prefix[]): string {
    return prefixes
      .filter((p) => this.find(`${p}:x`) === null)
      .map((p) => ` xmlns:${p}="${URIS[p]}"`)
      .join('');
  }

  get(e: Element | undefined, name: string): string | undefined {
    const written = this.find(name);
    return written === null ? undefined : e?.attributes[written];
  }
}

export const is = (e: Element, prefix: Prefix, ...locals: string[]): boolean =>
  e.uri === URIS[prefix] && locals.includes(e.local);

/** A length in points (ODF 1.2 Part 1 §18.3.18); null for percentages and nonsense. */
export function lengthOf(text: string | undefined): number | null {
  const m = /^\s*(-?\d*\.?\d+)\s*(cm|mm|in|pt|pc|px)\s*$/.exec(text ?? '');
  if (!m) return null;
  return boundedLength(Number(m[1]) * (m[2] === 'pc' ? 12 : POINTS[m[2] as Unit]));
}

/** Points as a length for a file: to a hundred-thousandth of a point, finer than any reader measures. */
export const writeLength = (points: number): string => `${trimNumber(points, 5)}pt`;

export function percentOf(text: string | undefined): number | null {
  const m = /^\s*(-?\d*\.?\d+)%\s*$/.exec(text ?? '');
  return m ? boundedLength(Number(m[1])) / 100 : null;
}

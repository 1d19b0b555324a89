import type { SitePicture } from '../codec/contract';
import type { Edit } from '../xml/splice';
import type { Found } from './page-source';
import { attributesOf, escapeHtml, parentTag } from './tree';
import { isVideo } from './video';

/** Can copies of a picture stand beside it? Not where its page names some already (`srcset`, `picture`). */
export const takesCopies = ({ image, entry }: Pick<Found, 'image' | 'entry'>): boolean =>
  entry !== undefined &&
  !isVideo(image) &&
  !('srcset' in attributesOf(image)) &&
  parentTag(image)?.tagName !== 'picture';

/** The name of a copy beside its picture, which no other file has. */
export function copyName(name: string, width: number, taken: (name: string) => boolean): string {
  const base = name.replace(/\.[^./]*$/, '');
  for (let i = 0; ; i++) {
    const own = `${base}-${width}${i === 0 ? '' : `-${i}`}.webp`;
    if (!taken(own)) return own;
  }
}

/** As an address in `srcset`: no spaces, and no commas (HTML §4.8.4.2.1). */
const address = (src: string, name: string): string => {
  const folder = src.replace(/[?#].*$/, '').replace(/[^/]*$/, '');
  return `${folder}${encodeURIComponent(name.slice(name.lastIndexOf('/') + 1))}`
    .replaceAll(' ', '%20')
    .replaceAll(',', '%2C');
};

/**
 * What an image says of its copies, and of when it is fetched (HTML §4.8.3, §2.5.7); what it says already stays.
 * @param copies names of the files and their widths, in pixels
 */
export function imageEdits(
  { image, src }: Pick<Found, 'image' | 'src'>,
  { sizes, self, lazy, first }: SitePicture,
  copies: readonly { name: string; width: number }[],
): Edit[] {
  const said = attributesOf(image);
  const all = [
    ...copies.map(({ name, width }) => `${address(src, name)} ${width}w`),
    ...(self === null || copies.length === 0 ? [] : [`${src.replaceAll(' ', '%20').replaceAll(',', '%2C')} ${self}w`]),
  ];
  const set: [string, string | null][] = [
    ['srcset', copies.length > 0 ? all.join(', ') : null],
    ['sizes', copies.length > 0 ? sizes : null],
    ['loading', lazy ? 'lazy' : null],
    ['decoding', lazy ? 'async' : null],
    ['fetchpriority', first ? 'high' : null],
  ];
  const text = set.flatMap(([name, value]) =>
    value === null || name in said ? [] : [` ${name}="${escapeHtml(value)}"`],
  );
  const at = image.sourceCodeLocation!.startOffset + '<img'.length;
  return text.length === 0 ? [] : [{ start: at, end: at, text: text.join('') }];
}

import { digest } from '../metadata/digest';
import { writeDataUrl } from '../codec/data-url';
import { applyEdits, type Edit } from '../xml/splice';
import { MARK, SET, elements, type Found } from './page-source';
import { sectionRound } from './section';
import { wordsOfStyle } from './find';
import { attributesOf, parentTag, type Tag } from './tree';
import { isVideo } from './video';

/**
 * A picture of a page with all that stands around it, as markup and rules for another page: nothing else is needed, and its names are
 * its own there. What only Gable knows of it is left out.
 * @param data of its picture; its address stays where there are none
 * @returns null for a picture that is not framed
 */
export function snippetOf(f: Found, data: { bytes: Uint8Array; type: string } | null): string | null {
  const { page, ours, image } = f;
  if (!ours) return null;
  const whole = sectionRound(f.outer)?.section ?? setRound(f.outer) ?? f.outer;
  const names = [
    ours.name,
    ...(whole === f.outer ? [] : (attributesOf(whole)['class'] ?? '').split(/\s+/).filter(Boolean)),
  ];
  const sheets = elements(page.tree, 'style').filter((e) => names.some((n) => wordsOfStyle(e).includes(`.${n} {`)));
  const rules = sheets.map((e) => wordsOfStyle(e).trim()).join('\n');
  const at = whole.sourceCodeLocation!;
  const edits: Edit[] = [];
  const put = (e: Tag, name: string, value: string): void => {
    const of = e.sourceCodeLocation?.attrs?.[name];
    if (of) edits.push({ start: of.startOffset - at.startOffset, end: of.endOffset - at.startOffset, text: value });
  };
  put(f.outer, MARK, '');
  if (data) {
    const name = isVideo(image) ? 'poster' : 'src';
    put(image, name, `${name}="${writeDataUrl(data.bytes, data.type)}"`);
    put(image, 'srcset', '');
  }
  const markup = applyEdits(page.text.slice(at.startOffset, at.endOffset), edits);
  const end = digest(rules + markup);
  // The name of its frame begins all of them.
  const own = (text: string): string =>
    text.replace(new RegExp(`(?<![\\w-])${ours.name}(?![0-9])`, 'g'), `${ours.name}-${end}`);
  return `<style>\n${own(rules)}\n</style>\n${own(markup)}\n`;
}

function setRound(outer: Tag): Tag | null {
  for (let e = parentTag(outer); e?.tagName === 'span'; e = parentTag(e)) if (SET in attributesOf(e)) return e;
  return null;
}

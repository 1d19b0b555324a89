import { decodeBeside, ITEM_NAMESPACE, type BesideItem } from '../metadata/items';
import { child, type Element } from '../xml/located';
import { escapeText, type Splice } from '../xml/splice';

/** Among the extensions of a drawing's properties (ISO/IEC 29500-1 §20.1.2.2.14, ext). */
const ITEM_EXTENSION = '{7A4E1B93-6D25-4C8F-9E07-3B51D8C2A6F4}';

/**
 * The properties of a drawing (§20.1.2.2.8, cNvPr; §20.4.2.5, docPr) with what it is beside that.
 * @param told what `encodeBeside` gives; empty for nothing
 * @param a names of DrawingML as they are written here
 */
export function propertiesText(tag: string, named: string, told: string, a: (local: string) => string): string {
  if (told === '') return `<${tag} ${named}/>`;
  const known = `<item xmlns="${ITEM_NAMESPACE}">${escapeText(told)}</item>`;
  return `<${tag} ${named}><${a('extLst')}><${a('ext')} uri="${ITEM_EXTENSION}">${known}</${a('ext')}></${a('extLst')}></${tag}>`;
}

const extensionIn = (properties: Element | undefined): Element | undefined =>
  child(properties, 'extLst')?.children.find((x) => x.attributes['uri'] === ITEM_EXTENSION);

/** What was put beside a picture becomes a drawing like any other. */
export function forgetItem(splice: Splice, properties: Element | undefined): void {
  const extension = extensionIn(properties);
  if (!extension) return;
  splice.replace(extension.parent!.children.length > 1 ? extension : extension.parent!, '');
}

/** What a drawing was put beside a picture as; null for any other. */
export function itemIn(properties: Element | undefined): BesideItem | null {
  const extension = extensionIn(properties);
  const item = extension?.children.find((c) => c.uri === ITEM_NAMESPACE);
  return item ? decodeBeside(item.text, 'taken') : null;
}

import type { Where } from '../codec/contract';
import type { XmlText, Element } from '../xml/located';
import type { Site } from './site';
import { type Styles } from './styles';

export interface Part extends XmlText {
  root: Element;
  styles: Styles;
}

export interface Found {
  site: Site;
  where: Where;
  freeable: boolean;
}

/** An address in the package: relative to its root, percent-encoded. */
export function pathOf(href: string): string {
  try {
    return decodeURIComponent(href).replace(/^\.\//, '');
  } catch {
    return href;
  }
}

import type { Paint } from '@gable/core';
import { behindText } from '../codec/contract';
import type { Additions } from '../ooxml/additions';
import { isStrict, namespaceOf } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { attributeOf, child, type Element } from '../xml/located';
import type { Splices } from '../xml/splices';

const SETTINGS = 'application/vnd.openxmlformats-officedocument.wordprocessingml.settings+xml';
/** What stands before it in the settings (ISO/IEC 29500-1 §17.15.1.78, settings). */
const BEFORE = [
  ...['writeProtection', 'view', 'zoom', 'removePersonalInformation', 'removeDateAndTime'],
  'doNotDisplayPageBoundaries',
];

const isOn = (e: Element | undefined): boolean =>
  e !== undefined && !['0', 'false', 'off'].includes(attributeOf(e, 'val') ?? '1');

/**
 * The colour behind all pages of a text (§17.2.1, background), where its settings have it shown (§17.15.1.25,
 * displayBackgroundShape); null where there is none.
 */
export function groundOfText(pack: Package, main: string): string | null {
  const background = child(pack.part(main).root, 'background');
  const settings = pack.partFor(main, 'settings');
  if (!background || !settings || !isOn(child(pack.part(settings).root, 'displayBackgroundShape'))) return null;
  const colour = attributeOf(background, 'color') ?? '';
  return /^[0-9a-f]{6}$/i.test(colour) ? `#${colour.toLowerCase()}` : null;
}

/** Gives a text another colour behind its pages. @throws GableError `cannot-write` for a gradient */
export function writeGround(
  pack: Package,
  main: string,
  paint: Paint,
  { splices, additions }: { splices: Splices; additions: Additions },
): void {
  const { root } = pack.part(main);
  const prefixOf = (e: Element): string => e.name.slice(0, e.name.length - e.local.length);
  const w = prefixOf(root);
  const colour = behindText(paint).slice(1).toUpperCase();
  // An attribute has a namespace by a prefix only.
  const own = w === '' ? ` xmlns:w="${root.uri}" w:color` : ` ${w}color`;
  splices.of(main).slot(root, ['background'], ['body'], `<${w}background${own}="${colour}"/>`);
  const settings = pack.partFor(main, 'settings');
  if (settings) {
    const all = pack.part(settings).root;
    const xml = `<${prefixOf(all)}displayBackgroundShape/>`;
    const later = all.children.map((c) => c.local).filter((name) => !BEFORE.includes(name));
    if (!isOn(child(all, 'displayBackgroundShape')))
      splices.of(settings).slot(all, ['displayBackgroundShape'], later, xml);
  } else {
    const strict = isStrict(root.uri);
    const part = `${main.slice(0, main.lastIndexOf('/') + 1)}settings.xml`;
    const xml =
      '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n' +
      `<w:settings xmlns:w="${namespaceOf('word', strict)}"><w:displayBackgroundShape/></w:settings>`;
    additions.entries.set(part, new TextEncoder().encode(xml));
    additions.override(part, SETTINGS);
    additions.relatePart(main, part, 'settings', strict);
  }
}

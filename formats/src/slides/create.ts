import { GableError, toEmu, type Box } from '@gable/core';
import type { NewPicture, NewPlace } from '../codec/contract';
import { Additions, relationshipBase } from '../ooxml/additions';
import type { Found } from '../ooxml/found';
import { freeId } from '../ooxml/ids';
import { isStrict } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { descend, type Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { Splices } from '../xml/splices';

/** Puts a plain picture on a slide (ISO/IEC 29500-1 §19.3.1.37, pic). @throws GableError `no-such-page` */
export function insertOnSlide(
  pack: Package,
  main: string,
  slides: readonly string[],
  found: readonly Found[],
  { image, alt, place }: NewPicture & { place: NewPlace & { on: 'page' } },
): { bytes: Uint8Array; n: number } {
  const part = slides[place.page - 1];
  const tree = part && descend(pack.part(part).root, 'cSld', 'spTree');
  if (!part || !tree)
    throw new GableError('no-such-page', `There is no slide ${place.page}.`, `The deck has ${slides.length}.`);
  const front = place.behind === null ? undefined : found[place.behind - 1];
  if (front && front.site.part !== part)
    throw new GableError('cannot-write', 'The picture in front is on another slide.', 'Choose one of the same slide.');
  const splices = new Splices((name) => pack.part(name));
  const additions = new Additions(pack, main, splices);
  const strict = isStrict(tree.uri);
  const rid = additions.relateTo({ part, strict }, image);
  const xml = plainPicture(tree, { id: freeId(tree, 'cNvPr'), alt, rid, box: place.box }, strict);
  const next = front ? memberOf(tree, front.site.pic) : tree.children.find((c) => c.local === 'extLst');
  if (next) splices.of(part).before(next, xml);
  else splices.of(part).append(tree, xml);
  const at = next?.start ?? tree.closeStart;
  const order = new Map(slides.map((name, i) => [name, i]));
  const before = found.filter(({ site }) => {
    const slide = order.get(site.part) ?? Infinity;
    return slide < place.page - 1 || (slide === place.page - 1 && site.pic.start < at);
  });
  return { bytes: additions.write(splices.changed()), n: before.length + 1 };
}

/** The child of the shape tree that an element stands in. */
function memberOf(tree: Element, element: Element): Element {
  let at = element;
  while (at.parent && at.parent !== tree) at = at.parent;
  return at;
}

function plainPicture(
  tree: Element,
  { id, alt, rid, box }: { id: number; alt: string; rid: string; box: Box },
  strict: boolean,
): string {
  const p = tree.name.slice(0, tree.name.length - tree.local.length);
  const drawing = strict
    ? 'http://purl.oclc.org/ooxml/drawingml/main'
    : 'http://schemas.openxmlformats.org/drawingml/2006/main';
  const names = `xmlns:a="${drawing}" xmlns:r="${relationshipBase(strict)}"`;
  const [x, y, cx, cy] = [box.x, box.y, box.width, box.height].map(toEmu);
  return (
    `<${p}pic ${names}><${p}nvPicPr><${p}cNvPr id="${id}" name="Picture ${id}" descr="${escapeXml(alt)}"/>` +
    `<${p}cNvPicPr><a:picLocks noChangeAspect="1"/></${p}cNvPicPr><${p}nvPr/></${p}nvPicPr>` +
    `<${p}blipFill><a:blip r:embed="${escapeXml(rid)}"/><a:stretch><a:fillRect/></a:stretch></${p}blipFill>` +
    `<${p}spPr><a:xfrm><a:off x="${x}" y="${y}"/><a:ext cx="${cx}" cy="${cy}"/></a:xfrm>` +
    `<a:prstGeom prst="rect"><a:avLst/></a:prstGeom></${p}spPr></${p}pic>`
  );
}

import { cut } from '@gable/core';
import { descend, type Element } from '../xml/located';
import { shorten, type Place } from '../codec/contract';
import { NS } from '../ooxml/names';
import { inStep } from '../ooxml/pictures';
import type { Found } from '../ooxml/found';
import { freeSiteOf, isPicture } from './read-picture';
import type { Site } from './site';

/** What a slide or a sheet's drawing tells of its pictures beyond their own elements. */
export interface Surroundings {
  part: string;
  place: Place;
  page: number | null;
  near: string;
  /** More about a picture's site, or null for one that is no picture of the page. */
  site(pic: Element): Pick<Site, 'inherited' | 'anchor'> | null;
}

/** Collects the pictures of a part in document order: those of slides, layouts, masters and drawings of sheets. */
export function collect(root: Element, about: Surroundings): Found[] {
  const visit = (e: Element): Found[] => {
    if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri))
      return inStep(e.children.map((branch) => branch.children.flatMap(visit)));
    // What stands in for an object of another program is that program's to draw.
    if (e.local === 'oleObj' || e.local === 'controls') return [];
    const inside = e.children.flatMap(visit);
    const more = isPicture(e) ? about.site(e) : null;
    if (!more) return inside;
    const site = freeSiteOf(e, about.part, more);
    const { part, place, page, near } = about;
    const where = { part, place, table: false, textBox: false, group: site.group !== null, page, near };
    return [{ site, twins: [], freeable: false, where }, ...inside];
  };
  return visit(root);
}

/** All text of an element, paragraph by paragraph. */
export function textOf(e: Element | undefined): string {
  let out = '';
  const visit = (at: Element): void => {
    // More than tells it from others is not looked at.
    if (out.length > 400) return;
    if (at.local === 't' && NS.drawing.has(at.uri)) out += at.text;
    at.children.forEach(visit);
    if (at.local === 'p' && NS.drawing.has(at.uri)) out += ' ';
  };
  if (e) visit(e);
  return shorten(cut(out, 400).replace(/\s+/g, ' ').trim());
}

/** `p:ph` of a shape or picture (§19.3.1.36): which placeholder of its layout it fills. */
export const placeholderOf = (e: Element): Element | undefined =>
  ['nvPicPr', 'nvSpPr', 'nvGraphicFramePr'].map((nv) => descend(e, nv, 'nvPr', 'ph')).find((ph) => ph !== undefined);

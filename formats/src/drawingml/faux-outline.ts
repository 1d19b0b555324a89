import { EMU_PER_POINT } from '@gable/core';
import { ancestor, child, descend, type Element } from '../xml/located';
import { readColour, type Theme } from './colour';
import { NS } from '../ooxml/names';
import type { Found } from '../ooxml/found';
import { integer } from './values';

/** Two shapes are concentric when their middles lie within this share of the larger one's side. */
const CONCENTRIC_TOLERANCE = 0.02;

interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
  /** What the place counts from. */
  from: string;
}

/** Where an anchored drawing lies (§20.4.2.3), in EMU; null where it is aligned or in a line of text. */
function spotOf(holder: Element | null): Spot | null {
  if (holder?.local !== 'anchor') return null;
  const [h, v] = [child(holder, 'positionH'), child(holder, 'positionV')];
  const [x, y] = [child(h, 'posOffset'), child(v, 'posOffset')];
  const extent = child(holder, 'extent')?.attributes;
  if (!x || !y || !extent) return null;
  return {
    x: integer(x.text.trim()),
    y: integer(y.text.trim()),
    width: integer(extent['cx']),
    height: integer(extent['cy']),
    from: `${h!.attributes['relativeFrom']} ${v!.attributes['relativeFrom']}`,
  };
}

const presetOf = (spPr: Element | undefined): string => child(spPr, 'prstGeom')?.attributes['prst'] ?? 'rect';

/** Shapes of a part that could stand in for an outline: a plain fill, no line, no words, alone in its drawing. */
function candidates(root: Element): { spPr: Element; holder: Element }[] {
  const out: { spPr: Element; holder: Element }[] = [];
  const visit = (e: Element): void => {
    if (e.local === 'Fallback' && NS.compatibility.has(e.uri)) return;
    const spPr = e.local === 'wsp' ? child(e, 'spPr') : undefined;
    if (spPr && child(spPr, 'solidFill') && !child(e, 'txbx')) {
      const holder = ancestor(e, (a) => a.local === 'anchor' && NS.wordDrawing.has(a.uri));
      if (holder && !ancestor(e, (a) => a.local === 'wgp' || a.local === 'grpSp')) out.push({ spPr, holder });
    }
    e.children.forEach(visit);
  };
  visit(root);
  return out;
}

/** Finds shapes behind pictures that stand in for outlines: of the same shape, larger by the same on every side, and concentric. */
export function findFauxOutlines(root: Element, part: string, found: readonly Found[], theme: () => Theme): void {
  // Most parts have no picture that could have one behind it: they are not gone through again.
  const free = found.filter((f) => !f.legacy && !f.site.group && spotOf(f.site.holder) !== null);
  const shapes = free.length > 0 ? candidates(root) : [];
  if (shapes.length === 0) return;
  const taken = new Set<Element>();
  for (const picture of free) {
    const { site } = picture;
    const own = spotOf(site.holder)!;
    const paragraph = ancestor(site.holder!, (a) => a.local === 'p' && NS.word.has(a.uri));
    for (const { spPr, holder } of shapes) {
      const spot = spotOf(holder);
      if (!spot || taken.has(holder) || spot.from !== own.from || presetOf(spPr) !== presetOf(site.spPr)) continue;
      if (ancestor(holder, (a) => a.local === 'p' && NS.word.has(a.uri)) !== paragraph) continue;
      const behind = holder.attributes['behindDoc'] === '1' || holder.start < site.holder!.start;
      const side = Math.max(spot.width, spot.height);
      const middle = (s: Spot): [number, number] => [s.x + s.width / 2, s.y + s.height / 2];
      const [a, b] = [middle(own), middle(spot)];
      const [mx, my] = [(spot.width - own.width) / 2, (spot.height - own.height) / 2];
      const concentric =
        Math.abs(a[0] - b[0]) <= CONCENTRIC_TOLERANCE * side && Math.abs(a[1] - b[1]) <= CONCENTRIC_TOLERANCE * side;
      const even = mx > 0 && my > 0 && Math.abs(mx - my) <= CONCENTRIC_TOLERANCE * side && mx < side / 4;
      const paint = readColour(child(spPr, 'solidFill')!, theme);
      if (!behind || !concentric || !even || !paint) continue;
      taken.add(holder);
      const weight = Math.round(((mx + my) / 2 / EMU_PER_POINT) * 100) / 100;
      picture.fauxOutline = { part, element: wholeOf(holder), weight, colour: paint.colour };
      break;
    }
  }
}

/** The drawing with all its branches, and its run when there is nothing else in it (§17.3.2.25). */
function wholeOf(holder: Element): Element {
  let e = ancestor(holder, (a) => a.local === 'drawing' && NS.word.has(a.uri)) ?? holder;
  const alternatives = ancestor(e, (a) => a.local === 'AlternateContent' && NS.compatibility.has(a.uri));
  if (alternatives && descend(alternatives, 'Choice') === e.parent) e = alternatives;
  const run = e.parent;
  return run?.local === 'r' && run.children.filter((c) => c.local !== 'rPr').length === 1 ? run : e;
}

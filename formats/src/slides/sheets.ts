import { cut, fromEmu, turnOf, type Size } from '@gable/core';
import { attributeOf, child, descend, type Element } from '../xml/located';
import { MAX_PREVIEW_SHAPES, MAX_PREVIEW_CHARS, type Piece, type Sheet } from '../codec/contract';
import { readColour, type Theme } from '../drawingml/colour';
import { placeholderOf } from '../drawingml/free-walk';
import { NS } from '../ooxml/names';
import { freeSiteOf, isPicture } from '../drawingml/read-picture';
import { integer, measure } from '../drawingml/values';

/** A part whose shapes lie on a slide: the master's and the layout's behind its own. */
interface Layer {
  part: string;
  root: Element;
  theme: () => Theme;
  /** Shape properties that a placeholder takes after, nearest first. */
  takesAfter(e: Element): Element[];
  own: boolean;
}

/**
 * The relationship of the picture behind a slide, and the part that names it (§19.3.1.1, bg): the nearest background counts,
 * the slide's own before its layout's and its master's.
 */
export function backdropOf(layers: readonly Layer[]): { part: string; id: string } | null {
  const nearest = [...layers].reverse().find(({ root }) => descend(root, 'cSld', 'bg'));
  const blip = nearest && descend(nearest.root, 'cSld', 'bg', 'bgPr', 'blipFill', 'blip');
  const id = attributeOf(blip, 'embed');
  return nearest && id !== undefined ? { part: nearest.part, id } : null;
}

/** The slides with their texts and filled boxes, roughly: letters have the size that is written beside them. */
export function sheetsOf(slides: readonly (readonly Layer[])[], size: Size): Sheet[] {
  let left = MAX_PREVIEW_SHAPES;
  return slides.map((layers) => {
    const pieces: Piece[] = [];
    let background = '#ffffff';
    const backdrop = backdropOf(layers) ? { backdrop: true as const } : {};
    for (const layer of layers) {
      background = groundOf(layer) ?? background;
      const visit = (e: Element): void => {
        if (e.local === 'AlternateContent' && NS.compatibility.has(e.uri)) {
          e.children[0]?.children.forEach(visit);
          return;
        }
        if (e.local !== 'sp') {
          e.children.forEach(visit);
          return;
        }
        // Placeholders of masters and layouts only say where a slide's own go.
        if (left <= 0 || isPicture(e) || (!layer.own && placeholderOf(e))) return;
        const piece = pieceOf(e, layer);
        if (!piece) return;
        pieces.push(piece);
        left--;
      };
      const tree = descend(layer.root, 'cSld', 'spTree');
      tree?.children.forEach(visit);
    }
    return { ...size, background, pieces, ...backdrop };
  });
}

function groundOf({ root, theme }: Layer): string | null {
  const bg = descend(root, 'cSld', 'bg');
  const fill = descend(bg, 'bgPr', 'solidFill') ?? child(bg, 'bgRef');
  const stops = descend(bg, 'bgPr', 'gradFill', 'gsLst')?.children ?? [];
  // Of a gradient its middle: where frames lie is seen on that as well.
  const middle = stops[Math.floor((stops.length - 1) / 2)];
  const of = fill ?? middle;
  return (of && readColour(of, theme)?.colour) ?? null;
}

function pieceOf(e: Element, { theme, takesAfter }: Layer): Piece | null {
  const chain = [child(e, 'spPr'), ...takesAfter(e)].filter((s): s is Element => s !== undefined);
  const xfrm = chain.map((s) => child(s, 'xfrm')).find((x) => x !== undefined);
  if (!xfrm) return null;
  const { group, origin } = freeSiteOf(e, '');
  const k = group ?? { x: 1, y: 1 };
  const at = (name: 'off' | 'ext', key: string): number => measure(child(xfrm, name)?.attributes[key]) ?? 0;
  const box = {
    x: at('off', 'x') * k.x + fromEmu(origin?.x ?? 0),
    y: at('off', 'y') * k.y + fromEmu(origin?.y ?? 0),
    width: at('ext', 'cx') * k.x,
    height: at('ext', 'cy') * k.y,
  };
  const fill = child(chain[0], 'solidFill');
  const text = cut(linesOf(child(e, 'txBody')).join('\n'), MAX_PREVIEW_CHARS);
  const colour = fill ? (readColour(fill, theme)?.colour ?? null) : null;
  if (text === '' && colour === null) return null;
  const run = firstOf(child(e, 'txBody'), 'rPr');
  const letters = child(run, 'solidFill');
  const title = /title/i.test(placeholderOf(e)?.attributes['type'] ?? '');
  const align = firstOf(child(e, 'txBody'), 'pPr')?.attributes['algn'];
  return {
    box,
    turn: turnOf(integer(xfrm.attributes['rot']) / 60_000),
    fill: colour,
    text,
    // A run says its size in hundredths of a point (§21.1.2.3.9); one that says none takes what is usual (common practice).
    size: integer(run?.attributes['sz'], title ? 3600 : 1800) / 100,
    colour: (letters && readColour(letters, theme)?.colour) ?? '#22302f',
    align: align === 'ctr' ? 'center' : align === 'r' ? 'right' : 'left',
  };
}

function firstOf(e: Element | undefined, local: string): Element | undefined {
  for (const c of e?.children ?? []) {
    const found = c.local === local ? c : firstOf(c, local);
    if (found) return found;
  }
  return undefined;
}

function linesOf(e: Element | undefined): string[] {
  if (!e) return [];
  if (e.local === 'p') {
    const flat = (at: Element): string =>
      at.local === 't' ? at.text : at.local === 'br' ? '\n' : at.children.map(flat).join('');
    return [flat(e).trimEnd()];
  }
  return e.children.flatMap(linesOf);
}

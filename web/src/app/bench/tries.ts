import {
  area,
  defaultKnobs,
  deriveView,
  framePath,
  SHAPES,
  solidOutline,
  withShape,
  zoomed,
  type Family,
  type Frame,
  type Outline,
  type Size,
  type Subject,
} from '@gable/core';

/** An alternative, shown with the author's own picture. */
export interface Try {
  id: string;
  label: string;
  /** A figure under the label. */
  note: string;
  frame: Frame;
  /** Is this what the frame has now? */
  current: boolean;
  /** The name of the deed when it is taken. */
  deed: string;
}

export interface TryContext {
  frame: Frame;
  /** The frame as the file has it. */
  original: Frame;
  size: Size;
  subject: Subject | undefined;
}

/** How much of the picture the shape lets through, 0..1; exact while the picture covers the shape. */
export function shownShare(frame: Frame, size: Size): number {
  const { scale } = deriveView(frame.placement, frame.box, size);
  return Math.min(1, areaOf(frame) / (size.width * scale.x * size.height * scale.y));
}

/** Areas measured lately: while a picture is moved behind its shape, no shape changes. */
const areas = new Map<string, number>();

function areaOf(frame: Frame): number {
  const { box, seat, shape } = frame;
  const key = JSON.stringify([shape, box.width, box.height, seat]);
  let known = areas.get(key);
  if (known === undefined) {
    if (areas.size > 2000) areas.clear();
    known = area(framePath(frame), 0.05);
    areas.set(key, known);
  }
  return known;
}

const percent = (share: number): string => `${Math.round(share * 100)} % of it shown`;

/** Shapes in their stable order, the circle first: all, or one family. */
export function shapeTries({ frame, size, subject }: TryContext, family: Family | null = null): Try[] {
  return SHAPES.filter((s) => family === null || s.family === family).map((shape) => {
    const knobs = frame.shape.name === shape.name ? frame.shape.knobs : defaultKnobs(shape);
    const next = withShape(frame, { name: shape.name, knobs }, size, subject);
    return {
      id: shape.name,
      label: shape.label,
      note: percent(shownShare(next, size)),
      frame: next,
      current: frame.shape.name === shape.name,
      deed: shape.label.toLowerCase(),
    };
  });
}

/** Places for the picture behind the shape. */
export function positionTries({ frame, original, size, subject }: TryContext): Try[] {
  const at = (id: string, label: string, aim: Subject, zoom: number, deed: string): Try => {
    const placed: Frame = { ...frame, placement: { ...frame.placement, aim, zoom } };
    return {
      id,
      label,
      note: percent(shownShare(placed, size)),
      frame: placed,
      current: samePlace(placed, frame, size),
      deed,
    };
  };
  const now = deriveView(frame.placement, frame.box, size).placement;
  const find = subject ?? { u: 0.5, v: 0.5 };
  const middle = { x: frame.box.width / 2, y: frame.box.height / 2 };
  const closer = zoomed(
    { ...frame, placement: { ...frame.placement, aim: find } },
    Math.max(1, now.zoom) * 1.5,
    middle,
    size,
  );
  const came = deriveView(original.placement, original.box, size).placement;
  return [
    at('subject', 'On the subject', find, frame.placement.zoom, 'on the subject'),
    at('closer', 'Closer', closer.placement.aim, closer.placement.zoom, 'closer'),
    at('middle', 'Middle', { u: 0.5, v: 0.5 }, frame.placement.zoom, 'middle'),
    at('most', 'As much as fits', find, 1, 'as much as fits'),
    at('came', 'As it came', came.aim, Math.max(1, came.zoom), 'aimed as it came'),
  ];
}

function samePlace(a: Frame, b: Frame, size: Size): boolean {
  const p = deriveView(a.placement, a.box, size).placement;
  const q = deriveView(b.placement, b.box, size).placement;
  return (
    Math.abs(p.aim.u - q.aim.u) < 5e-4 && Math.abs(p.aim.v - q.aim.v) < 5e-4 && Math.abs(p.zoom / q.zoom - 1) < 1e-3
  );
}

/** Colours offered for outlines: white and ink, then clays and glazes. */
export const OUTLINE_COLOURS: readonly { name: string; hex: string }[] = [
  { name: 'White', hex: '#ffffff' },
  { name: 'Stone', hex: '#9a958a' },
  { name: 'Ink', hex: '#22302f' },
  { name: 'Clay', hex: '#b5482a' },
  { name: 'Ochre', hex: '#c28a2c' },
  { name: 'Moss', hex: '#5c7350' },
  { name: 'Lagoon', hex: '#2b6a73' },
  { name: 'Plum', hex: '#6d3b52' },
];

export const OUTLINE_TRIES: readonly { id: string; label: string; outline: Outline | null }[] = [
  { id: 'none', label: 'No outline', outline: null },
  { id: 'white-6', label: 'White', outline: solidOutline(6, '#ffffff') },
  { id: 'white-3', label: 'White, fine', outline: solidOutline(3, '#ffffff') },
  { id: 'stone-4', label: 'Stone', outline: solidOutline(4, '#9a958a') },
  { id: 'ink-2', label: 'Ink, fine', outline: solidOutline(2, '#22302f') },
  { id: 'clay-4', label: 'Clay', outline: solidOutline(4, '#b5482a') },
  { id: 'ochre-4', label: 'Ochre', outline: solidOutline(4, '#c28a2c') },
  { id: 'lagoon-4', label: 'Lagoon', outline: solidOutline(4, '#2b6a73') },
];

/** Edges, from none to strong; the file's own comes last where it has one. */
export function outlineTries({ frame, original }: TryContext): Try[] {
  const own = original.outline ? [{ id: 'came', label: 'As it came', outline: original.outline }] : [];
  return [...OUTLINE_TRIES, ...own].map(({ id, label, outline }) => ({
    id,
    label,
    note: outline ? `${outline.weight} pt` : '',
    frame: { ...frame, outline },
    current: JSON.stringify(frame.outline) === JSON.stringify(outline),
    deed: outline ? `outline ${label.toLowerCase()}` : 'no outline',
  }));
}

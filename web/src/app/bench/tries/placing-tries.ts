import {
  anchored,
  ANCHORS,
  BESIDE_TEXT,
  deriveView,
  equal,
  keepInView,
  keepMarks,
  MOST_MARKS,
  oversteppingAt,
  reachesOver,
  type Side,
  SIDES,
  withOverstep,
  withKeepMarks,
  type Frame,
  type KeepMark,
  freed,
  leastZoom,
  type Placement,
  RATIOS,
  type Size,
  type Subject,
  turnOf,
  wholePicture,
  withRatio,
  zoomed,
} from '@gable/core';
import { cutNote, type Try, type TryContext } from './try';

const RATIO_LABELS: Readonly<Record<string, string>> = {
  'A-landscape': '√2, landscape',
  'A-portrait': '√2, portrait',
  golden: 'Golden',
};

/** The picture's own ratio, then those in use. */
export function ratioTries({ frame, original, size, subject, room }: TryContext): Try[] {
  const lying = frame.placement.turn % 180 !== 0;
  const own = lying ? size.height / size.width : size.width / size.height;
  const came = original.box.width / original.box.height;
  const offers = [
    { id: 'own', label: 'Of the picture', ratio: own },
    ...RATIOS.map(({ name, ratio }) => ({ id: name.replace(':', '-'), label: RATIO_LABELS[name] ?? name, ratio })),
    { id: 'came', label: 'Original', ratio: came },
  ];
  return offers.map(({ id, label, ratio }) => {
    const next = freed(withRatio(frame, ratio, size, subject, room));
    return {
      id: `ratio-${id}`,
      label,
      note: cutNote(next, size),
      frame: next,
      current: Math.abs(frame.box.width / frame.box.height / ratio - 1) < 1e-4,
      entry: id === 'own' ? 'ratio of the picture' : `ratio ${label.toLowerCase()}`,
    };
  });
}

/** Tiles are first so large, as a share of just covering the box. */
export const TILE_ZOOM = 0.34;

const ANCHOR_LABELS: Readonly<Record<(typeof ANCHORS)[number], string>> = {
  'top-left': 'Top left',
  top: 'Top',
  'top-right': 'Top right',
  left: 'Left',
  centre: 'Centre',
  right: 'Right',
  'bottom-left': 'Bottom left',
  bottom: 'Bottom',
  'bottom-right': 'Bottom right',
};

/** The picture with all in view that is marked, and with all that may be worth it. */
function keepTries(frame: Frame, size: Size, suggested: readonly KeepMark[]): Try[] {
  const keeping = (id: string, label: string, marks: readonly KeepMark[], entry: string): Try[] => {
    // Made anew while the picture is dragged: a few milliseconds have to do.
    const fit = marks.length > 0 ? keepInView(frame, marks, size, 'quick') : null;
    if (!fit) return [];
    const next = withKeepMarks({ ...frame, placement: fit.placement }, marks);
    const current = marks.length === keepMarks(frame).length && samePlace(next, frame, size);
    return [{ id, label, note: cutNote(next, size), frame: next, current, entry }];
  };
  const marks = keepMarks(frame);
  const all = [...marks, ...suggested].slice(0, MOST_MARKS);
  return [
    ...keeping('keep', 'Keep all you marked', marks, 'kept what was marked'),
    ...(suggested.length > 0
      ? keeping('keep-found', `Keep ${foundWords(suggested)}`, all, 'kept faces and words')
      : []),
  ];
}

/** What was found in a picture, in words: its faces and its words. */
export function foundWords(suggested: readonly KeepMark[]): string {
  const faces = suggested.filter((m) => m.name?.startsWith('Face')).length;
  const people = faces === 0 ? '' : faces === 1 ? 'the face' : 'all faces';
  const words = faces === suggested.length ? '' : 'the words';
  return [people, words].filter(Boolean).join(' and ');
}

const OVER: readonly { id: string; label: string; sides: readonly Side[] }[] = [
  { id: 'top', label: 'Over the top edge', sides: ['top'] },
  { id: 'bottom', label: 'Over the bottom edge', sides: ['bottom'] },
  { id: 'left', label: 'Over the left edge', sides: ['left'] },
  { id: 'right', label: 'Over the right edge', sides: ['right'] },
  { id: 'all', label: 'Over all edges', sides: SIDES },
];

/** The subject that was cut out, reaching over the edge of its shape, as far as it can. */
function overstepTries(frame: Frame, size: Size, outline: string | null): Try[] {
  if (outline === null || frame.placement.fit === 'tile') return [];
  const note = 'subject in front';
  const over = OVER.flatMap(({ id, label, sides }): Try[] => {
    const next = oversteppingAt(frame, outline, sides, size);
    if (!reachesOver(next, sides)) return [];
    const current = equal(next.overstep?.lines, frame.overstep?.lines) && samePlace(next, frame, size);
    return [{ id: `over-${id}`, label, note, frame: next, current, entry: label.toLowerCase() }];
  });
  const within = withOverstep(frame, null);
  return frame.overstep
    ? [
        {
          id: 'within',
          label: 'Subject in the shape',
          note: cutNote(within, size),
          frame: within,
          current: false,
          entry: 'subject in the shape',
        },
        ...over,
      ]
    : over;
}

/** Places for the picture behind the shape. */
export function positionTries({ frame, original, size, subject, suggested, outline }: TryContext): Try[] {
  const { placement } = frame;
  const at = (id: string, label: string, next: Placement, entry = label.toLowerCase(), note?: string): Try => {
    const placed: Frame = { ...frame, placement: next };
    return {
      id,
      label,
      note: note ?? cutNote(placed, size),
      frame: placed,
      current: samePlace(placed, frame, size),
      entry,
    };
  };
  const cover: Placement =
    placement.fit === 'cover' || placement.fit === 'contain' ? placement : { ...placement, fit: 'cover', zoom: 1 };
  /** From a picture that is contained the way goes back to one that covers. */
  const filled: Placement = cover.fit === 'cover' ? cover : { ...cover, fit: 'cover', zoom: Math.max(1, cover.zoom) };
  const now = deriveView(filled, frame.box, size).placement;
  const find: Subject = subject ?? { u: 0.5, v: 0.5 };
  const middle = { x: frame.box.width / 2, y: frame.box.height / 2 };
  const closer = zoomed({ ...frame, placement: { ...filled, aim: find } }, Math.max(1, now.zoom) * 1.5, middle, size);
  const whole = wholePicture({ ...frame, placement: { ...cover, fit: 'contain' } }, size);
  const least = leastZoom({ ...frame, placement: cover }, size);
  const anchor = (name: (typeof ANCHORS)[number]): Placement =>
    anchored({ ...frame, placement: cover }, name, size).placement;
  const turned = (by: number): Placement => ({ ...cover, turn: turnOf(cover.turn + by) });
  const came = deriveView(original.placement, original.box, size).placement;
  return [
    ...keepTries(frame, size, suggested),
    ...overstepTries(frame, size, outline),
    at('subject', 'Subject in the middle', { ...filled, aim: find }),
    at('closer', 'Closer', closer.placement),
    at('middle', 'Centred', { ...filled, aim: { u: 0.5, v: 0.5 } }),
    at('most', 'As much as covers', { ...cover, fit: 'cover', aim: find, zoom: 1 }),
    at('least', 'Just covering', least, 'just covering'),
    ...(whole ? [at('whole', 'Whole picture', { ...whole, fit: 'contain' })] : []),
    ...ANCHORS.filter((a) => a !== 'centre').map((a) => at(`at-${a}`, ANCHOR_LABELS[a], anchor(a))),
    at('mirrored', 'Mirror', { ...cover, mirror: !cover.mirror, aim: { u: 1 - now.aim.u, v: now.aim.v } }),
    at('turn-left', 'Turn left', turned(-90)),
    at('turn-right', 'Turn right', turned(90)),
    at('over', 'Upside down', turned(180)),
    at('tile', 'Tile', { ...cover, fit: 'tile', zoom: TILE_ZOOM, aim: { u: 0.5, v: 0.5 } }, 'tiled', 'repeated'),
    at(
      'tile-mirrored',
      'Tile, mirrored',
      { ...cover, fit: 'tile', zoom: TILE_ZOOM, aim: { u: 0.5, v: 0.5 }, mirrored: 'both' },
      'tiled, mirrored',
      'without seams',
    ),
    at('stretch', 'Stretch', { ...cover, fit: 'stretch' }, 'stretched', 'distorted'),
    at(
      'came',
      'Original',
      { ...came, zoom: Math.max(came.fit === 'cover' ? 1 : 0.05, came.zoom) },
      'original position',
    ),
  ];
}

function samePlace(a: Frame, b: Frame, size: Size): boolean {
  const p = deriveView(a.placement, a.box, size).placement;
  const q = deriveView(b.placement, b.box, size).placement;
  return (
    a.placement.fit === b.placement.fit &&
    a.placement.turn === b.placement.turn &&
    a.placement.mirror === b.placement.mirror &&
    (a.placement.mirrored ?? 'none') === (b.placement.mirrored ?? 'none') &&
    Math.abs(p.aim.u - q.aim.u) < 5e-4 &&
    Math.abs(p.aim.v - q.aim.v) < 5e-4 &&
    Math.abs(p.zoom / q.zoom - 1) < 1e-3
  );
}

/** The frame on its page: turned, flipped, in the text or free of it. */
export function placeTries({ frame, original, freeable }: TryContext): Try[] {
  const at = (id: string, label: string, next: Partial<Frame>, note = ''): Try => {
    const placed: Frame = { ...frame, ...next };
    return { id, label, note, frame: placed, current: equal(placed, frame), entry: label.toLowerCase() };
  };
  const { flip } = frame;
  return [
    at('upright', 'Upright', { turn: 0 }),
    at('tilt-left', 'Tilt left', { turn: 356 }, '4°'),
    at('tilt-right', 'Tilt right', { turn: 4 }, '4°'),
    at('quarter-left', 'Quarter turn left', { turn: turnOf(frame.turn - 90) }, '90°'),
    at('quarter-right', 'Quarter turn right', { turn: turnOf(frame.turn + 90) }, '90°'),
    at('flip-across', 'Flip horizontally', { flip: { ...flip, horizontal: !flip.horizontal } }),
    at('flip-down', 'Flip vertically', { flip: { ...flip, vertical: !flip.vertical } }),
    ...(freeable
      ? [
          frame.flow === 'inline'
            ? at('free', 'Move freely', { flow: 'floating', anchor: BESIDE_TEXT }, 'text wraps round it')
            : at('in-text', 'In the text', { flow: 'inline', box: { ...frame.box, x: 0, y: 0 } }, 'like a letter'),
        ]
      : []),
    at('came', 'Original', {
      turn: original.turn,
      flip: original.flip,
      flow: original.flow,
      box: { ...frame.box, x: original.box.x, y: original.box.y },
    }),
  ];
}

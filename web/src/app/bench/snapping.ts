import {
  deriveView,
  keepMarks,
  nudged,
  ontoBox,
  turnOf,
  unionOf,
  type Frame,
  type Point,
  type Size,
  type Subject,
} from '@gable/core';

/** A line that something came to rest on, and why. Points in the box. */
export interface Guide {
  axis: 'x' | 'y';
  at: number;
  words: string;
}

export interface Snapped {
  frame: Frame;
  guides: Guide[];
}

interface Candidate {
  from: Point;
  /** Shares of the box's side. */
  targets: readonly { share: number; words: string }[];
}

/**
 * Brings the picture to rest where it makes sense: its subject, or what is marked to keep, in the middle or on a third,
 * or its own middle in the middle.
 * @param reach how near is near, in points
 */
export function snapPicture(frame: Frame, size: Size, subject: Subject | undefined, reach: number): Snapped {
  if (frame.placement.fit === 'stretch' || frame.placement.fit === 'tile') return { frame, guides: [] };
  const { matrix } = deriveView(frame.placement, frame.box, size);
  const at = (u: number, v: number): Point => ontoBox(matrix, { u, v }, size);
  const candidates: Candidate[] = [];
  const thirds = (what: string): Candidate['targets'] => [
    { share: 1 / 2, words: `${what} in the middle` },
    { share: 1 / 3, words: `${what} on a third` },
    { share: 2 / 3, words: `${what} on a third` },
  ];
  const marks = keepMarks(frame);
  if (marks.length > 0) {
    const all = unionOf(marks);
    const what = marks.length === 1 ? 'Keep mark' : 'Keep marks';
    candidates.push({ from: at(all.u + all.width / 2, all.v + all.height / 2), targets: thirds(what) });
  } else if (subject) candidates.push({ from: at(subject.u, subject.v), targets: thirds('Subject') });
  candidates.push({ from: at(0.5, 0.5), targets: [{ share: 1 / 2, words: 'Middle of the picture' }] });

  const nearest = (axis: 'x' | 'y', side: number): { by: number; guide: Guide } | null => {
    let best: { by: number; guide: Guide } | null = null;
    for (const { from, targets } of candidates)
      for (const { share, words } of targets) {
        const by = share * side - from[axis];
        if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by)))
          best = { by, guide: { axis, at: share * side, words } };
      }
    return best;
  };
  const x = nearest('x', frame.box.width);
  const y = nearest('y', frame.box.height);
  if (!x && !y) return { frame, guides: [] };
  const next = nudged(frame, x?.by ?? 0, y?.by ?? 0, size);
  // At the picture's end the step may have been cut short: then nothing came to rest there.
  const after = deriveView(next.placement, next.box, size).matrix;
  const moved = { x: after[4] - matrix[4], y: after[5] - matrix[5] };
  const guides = [x, y].flatMap((s) => (s && Math.abs(moved[s.guide.axis] - s.by) < 0.05 ? [s.guide] : []));
  return { frame: next, guides };
}

/** A turn brought to rest at the eighths of a circle. @param reach degrees */
export function snapTurn(turn: number, reach: number): { turn: number; words: string | null } {
  const full = turnOf(turn);
  const eighth = Math.round(full / 45) * 45;
  if (Math.abs(full - eighth) > reach) return { turn: full, words: null };
  const words = { 0: 'Upright', 90: 'A quarter right', 180: 'Upside down', 270: 'A quarter left' }[eighth % 360];
  return { turn: eighth % 360, words: words ?? `${eighth}°` };
}

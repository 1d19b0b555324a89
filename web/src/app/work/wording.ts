import {
  deriveView,
  effectivePpi,
  findings,
  flatten,
  framePath,
  cutMarks,
  keepInView,
  isAllRound,
  keepMarks,
  SIDES,
  markName,
  ontoBox,
  remedy,
  shapeOf,
  turnOf,
  withSize,
  type Finding,
  type Frame,
  type Given,
  type PictureFacts,
  type Point,
  type Size,
  type Subject,
} from '@gable/core';
import type { WorkPicture } from '@gable/contract';
import { shownLength, shownList, shownNumber } from '../ui/numbers';

/** A finding in words, with the action that mends it. */
export interface Note {
  code: string;
  text: string;
  remedy: { label: string; entry: string; frame: Frame } | null;
}

const percent = (v: unknown): string => `${shownNumber(Number(v), 1)} %`;

/** The notes on a frame, worst first. Missing alternative text is not a matter of the picture's looks and is left out here. */
export function notes(frame: Frame, facts: PictureFacts): Note[] {
  return findings(frame, facts).flatMap((f) => note(f, frame, facts) ?? []);
}

/** What each remedy is called on its button, and in the list of entries. */
const REMEDY: Partial<Record<Finding['code'], { label: string; entry: string }>> = {
  distorted: { label: 'Restore proportions', entry: 'proportions restored' },
  egg: { label: 'Make it a circle', entry: 'circle' },
  sideways: { label: 'Turn it upright', entry: 'turned upright' },
  'empty-corner': { label: 'Cover the shape', entry: 'shape covered' },
  'keep-cut': { label: 'Keep all of it', entry: 'kept what matters' },
  'off-centre': { label: 'Centre the subject', entry: 'subject centred' },
  hairline: { label: 'Make it thicker', entry: 'outline thicker' },
  'faked-outline': { label: 'Make it a real outline', entry: 'real outline' },
  'faint-outline': { label: 'Improve the contrast', entry: 'outline clearer' },
};

function words(f: Finding): string | null {
  switch (f.code) {
    case 'distorted': {
      const share = Number(f['distortion']);
      return `The picture is ${share > 1 ? 'stretched' : 'squashed'} to ${Math.round(share * 100)} % of its true width.`;
    }
    case 'soft':
      return `Only ${Math.round(Number(f['ppi']))} ppi at this size: it will look soft. It is good up to ${shownLength(Number(f['goodWidth']), 'mm', 0)} wide.`;
    case 'egg':
      return `Almost a circle: ${percent(f['percent'])} off.`;
    case 'sideways':
      return 'This picture is stored sideways.';
    case 'empty-corner':
      return `The picture does not reach ${percent(f['percent'])} of the edge of its shape.`;
    case 'keep-cut':
      return f['marks'] === 1
        ? `The shape cuts ${percent(f['percent'])} of a keep mark.`
        : `The shape cuts ${Number(f['marks'])} keep marks.`;
    case 'off-centre':
      return `The subject is off-centre by ${percent(f['percent'])}.`;
    case 'hairline':
      return `The thinnest line of the outline is ${shownNumber(Number(f['weight']), 2)} pt: hard to see.`;
    case 'faint-outline':
      // Rounded down: what is too little never reads as enough.
      return `Outline contrast is ${shownNumber(Math.floor(Number(f['contrast']) * 10) / 10, 1)} : 1. It needs 3 : 1 to be seen.`;
    case 'faked-outline':
      return `Its outline is imitated by a second shape, ${shownNumber(Number(f['weight']), 1)} pt wide.`;
    case 'unknown-shape':
      return 'Gable does not know this shape and draws its box. The file keeps it unless you choose another.';
    case 'hard-to-read':
      return `“${String(f['words'])}” has a contrast of ${shownNumber(Math.floor(Number(f['contrast']) * 10) / 10, 1)} : 1. It needs ${shownNumber(Number(f['least']), 1)} : 1.`;
    case 'words-out':
      return `“${String(f['words'])}” does not fit its shape.`;
    case 'over-face':
      return `“${String(f['words'])}” covers a face.`;
    case 'no-alt-text':
      return null;
  }
}

function note(f: Finding, frame: Frame, facts: PictureFacts): Note | null {
  const text = words(f);
  if (text === null) return null;
  if (f.code === 'soft' && facts.pixels) {
    const size = { width: Number(f['goodWidth']), height: Number(f['goodHeight']) };
    const better = withSize(frame, size, facts.pixels, 'zoom');
    return {
      code: f.code,
      text,
      remedy: { label: 'Make it that size', entry: 'size that stays sharp', frame: better },
    };
  }
  if (f.code === 'keep-cut' && facts.pixels) return keepNote(f, frame, facts, facts.pixels);
  const name = REMEDY[f.code];
  const better = name && remedy(f, frame, facts);
  return { code: f.code, text, remedy: name && better ? { ...name, frame: better } : null };
}

/** Which keep marks are cut, and whether the shape can show them at all. */
function keepNote(f: Finding, frame: Frame, facts: PictureFacts, size: Size): Note {
  const marks = keepMarks(frame);
  const cut = cutMarks(frame, size, marks).map(({ index }) => markName(marks, index));
  const text = cut.length === 1 && marks.length === 1 ? words(f)! : `The shape cuts ${shownList(cut)}.`;
  const better = remedy(f, frame, facts);
  const lost = keepInView(frame, marks, size)?.lost ?? [];
  const entry = 'kept what matters';
  if (lost.length === 0)
    return { code: f.code, text, remedy: better && { label: 'Keep all of it', entry, frame: better } };
  const gained = lost.length < cut.length;
  return {
    code: f.code,
    text: `${text} This shape cannot cover and keep ${gained ? shownList(lost.map((i) => markName(marks, i))) : 'all of it'}.`,
    remedy: better && { label: gained ? 'Keep what fits' : 'Show all of it', entry, frame: better },
  };
}

/** A turn as people say it: to the left or to the right, at most half round. */
export function signedTurn(turn: number): number {
  const full = turnOf(turn);
  return full > 180 ? full - 360 : full;
}

/** The point of the shape's edge that lies farthest one way: to the right or left (1, -1), and down or up. */
export function outermost(frame: Frame, across: 1 | -1, down: 1 | -1): Point {
  const { width, height } = frame.box;
  const outwards = (p: Point): number => (across * p.x) / width + (down * p.y) / height;
  const points = flatten(framePath(frame), Math.max(width, height) / 200).flat();
  const corner = { x: across > 0 ? width : 0, y: down > 0 ? height : 0 };
  return points.reduce((a, b) => (outwards(b) > outwards(a) ? b : a), points[0] ?? corner);
}

/** Where on the frame a finding shows, in points in its box. */
export function whereShown(code: string, frame: Frame, size: Size, subject: Subject | undefined): Point {
  const { width, height } = frame.box;
  const { matrix } = deriveView(frame.placement, frame.box, size);
  if (code === 'off-centre' && subject) return ontoBox(matrix, subject, size);
  if (code === 'keep-cut') {
    const marks = keepMarks(frame);
    const mark = marks[cutMarks(frame, size, marks)[0]?.index ?? 0];
    if (mark) return ontoBox(matrix, { u: mark.u + mark.width / 2, v: mark.v + mark.height / 2 }, size);
  }
  if (['hairline', 'faint-outline', 'egg', 'unknown-shape', 'empty-corner'].includes(code)) {
    return outermost(frame, 1, -1);
  }
  return { x: width * 0.72, y: height * 0.32 };
}

/** The frame in words, for those who do not see the board. */
export function describe(frame: Frame, size: Size): string {
  const { aim, zoom, turn, fit } = deriveView(frame.placement, frame.box, size).placement;
  const shape = shapeOf(frame.shape)?.label ?? 'Shape of the file';
  const { width, height } = frame.box;
  const dimensions =
    Math.abs(width - height) < 0.01 ? shownLength(width) : `${shownLength(width)} by ${shownLength(height)}`;
  const marked = keepMarks(frame).length;
  const more = [
    fit === 'cover' ? '' : { contain: 'all of the picture', tile: 'tiled', stretch: 'stretched' }[fit],
    turn % 360 === 0 ? '' : `picture turned ${shownNumber(turn, 1)}°`,
    frame.turn % 360 === 0 ? '' : `frame turned ${shownNumber(frame.turn, 1)}°`,
    frame.outline ? `outline ${shownNumber(frame.outline.weight, 2)} pt` : '',
    frame.shadow ? 'with a shadow' : '',
    frame.tone ? 'toned' : '',
    frame.overstep ? overstepWords(frame) : '',
    marked === 0 ? '' : marked === 1 ? 'with a keep mark' : `with ${marked} keep marks`,
  ].filter(Boolean);
  const seat = `aim ${Math.round(aim.u * 100)} % across ${Math.round(aim.v * 100)} % down, zoom ${shownNumber(zoom, 2)}`;
  return [shape, dimensions, seat, ...more].join(', ');
}

function overstepWords({ overstep, box }: Frame): string {
  if (!overstep) return '';
  const sides = isAllRound(overstep, box) ? ['all'] : SIDES.filter((side) => overstep.lines[side] !== undefined);
  return `subject over the ${shownList(sides)} ${sides.length > 1 || sides[0] === 'all' ? 'edges' : 'edge'}`;
}

/** What a file itself does to a picture's colours. */
export function givenWords({ swap, contrast = 0, lift = 0, channels, gamma = 1, inverted, threshold }: Given): string {
  const much = (v: number): string => `${shownNumber(Math.abs(v) * 100, 0)} %`;
  const words = [
    lift === 0 ? '' : `${much(lift)} ${lift > 0 ? 'lighter' : 'darker'}`,
    contrast === 0 ? '' : `with ${much(contrast)} ${contrast > 0 ? 'more' : 'less'} contrast`,
    channels ? 'with its colours shifted' : '',
    gamma === 1 ? '' : `with its middle tones ${gamma > 1 ? 'lighter' : 'darker'}`,
    inverted ? 'turned to its negative' : '',
    threshold === undefined ? '' : 'in black and white only',
    swap ? (swap.opacity < 1 ? 'with one colour made clear' : 'with one colour made another') : '',
  ].filter(Boolean);
  return words.join(', ');
}

/** `3000 × 2000 px · 412 ppi here` */
export function figures(frame: Frame, pixels: Size | null): string {
  if (!pixels) return '';
  return `${pixels.width} × ${pixels.height} px · ${Math.round(effectivePpi(frame, pixels))} ppi here`;
}

/** Where a picture stands, as short as a ruler's mark. @param laid the page that its text was laid out on, once that is known */
export function pageMark(where: WorkPicture['where'], laid?: number): string {
  return where.page === null
    ? ({ header: 'head', footer: 'foot', footnote: 'note', endnote: 'note', comment: 'comment' }[where.place] ??
        where.place)
    : `${{ slide: 's', sheet: 's' }[where.place] ?? 'p'}${laid ?? where.page}`;
}

/** Where a picture stands, in a sentence. @param laid the page that its text was laid out on, once that is known */
export function placeWords(where: WorkPicture['where'], laid?: number): string {
  const inside = [
    where.table ? 'in a table' : '',
    where.textBox ? 'in a text box' : '',
    where.group ? 'in a group' : '',
  ].filter(Boolean);
  return [atWords(where, laid), ...inside].join(', ');
}

/** Places whose pages are numbered by the file itself; in texts a page is an estimate. */
const NUMBERED: Record<string, string> = { slide: 'slide', sheet: 'sheet', drawing: 'page', page: 'page' };

function atWords({ place, page }: WorkPicture['where'], laid?: number): string {
  if (page !== null && place in NUMBERED) return `${NUMBERED[place]} ${page}`;
  if (page !== null) return laid === undefined ? `about page ${page}` : `page ${laid}`;
  if (place === 'header' || place === 'footer') return `in the page ${place}`;
  if (place === 'layout' || place === 'master') return `on a slide ${place}`;
  return `in a ${place}`;
}

/** Words with a capital letter, as they stand at the beginning. */
export const sentence = (words: string): string => `${words.slice(0, 1).toUpperCase()}${words.slice(1)}`;

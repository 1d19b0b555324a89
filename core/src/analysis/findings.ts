import { contrast } from '../colour';
import type { Facts } from '../errors';
import { turnOf } from '../geometry/numeric';
import { flatten } from '../geometry/path';
import { keepMarks, solidOutline, type Frame, type Size } from '../model/frame';
import { outlineBands } from '../outline/bands';
import { leastZoom } from '../placement/axes';
import { keepInView, showWholly } from '../placement/keep';
import { cutMarks } from '../placement/rank';
import { aimAt } from '../placement/aim';
import { DISTORTION_NOISE, isDistorted, mended, withShape } from '../placement/reframe';
import type { Subject } from '../model/subject';
import { deriveView, ontoBox, ontoPicture } from '../placement/view';
import { framePath, shapeOf } from '../shapes/index';
import { READABLE, readableColour } from './palette';

/** Something a check noticed, with its figures. The wording belongs to the interface. */
export type Finding = { code: FindingCode } & Facts;
export type FindingCode =
  | 'distorted'
  | 'soft'
  | 'empty-corner'
  | 'egg'
  | 'keep-cut'
  | 'off-centre'
  | 'sideways'
  | 'hairline'
  | 'faint-outline'
  | 'faked-outline'
  | 'no-alt-text'
  | 'unknown-shape'
  | 'hard-to-read'
  | 'words-out'
  | 'over-face';

/** How much a finding matters: a fault is plainly wrong, a flaw shows, a hint may be meant so. Our own choice. */
export const SEVERITIES = ['hint', 'flaw', 'fault'] as const;
export type Severity = (typeof SEVERITIES)[number];
export const SEVERITY: Readonly<Record<FindingCode, Severity>> = {
  distorted: 'fault',
  egg: 'fault',
  sideways: 'fault',
  'keep-cut': 'fault',
  'faked-outline': 'fault',
  soft: 'flaw',
  'empty-corner': 'flaw',
  hairline: 'flaw',
  'faint-outline': 'flaw',
  'unknown-shape': 'flaw',
  'hard-to-read': 'flaw',
  'words-out': 'flaw',
  'over-face': 'flaw',
  'off-centre': 'hint',
  'no-alt-text': 'hint',
};

/** What is mended when everything is: what never needs a person to decide. */
export const PLAIN_FAULTS: ReadonlySet<string> = new Set<FindingCode>([
  'distorted',
  'egg',
  'sideways',
  'keep-cut',
  'faked-outline',
  'faint-outline',
  'hairline',
  'empty-corner',
]);

/** What is known of words that stand around a picture. */
export interface WordsFacts {
  /** Their beginning. */
  words: string;
  /** With what lies beneath them, and what they need by their size (WCAG 2.2 SC 1.4.3). */
  contrast: number;
  least: number;
  /** The share of a face that they cover. */
  face: number;
  /** The share of their letters that stick out of their shape. */
  outside: number;
}

/** What is known of a picture and its page. Only the first two can be had without decoding it. */
export interface PictureFacts {
  /** Stored pixels; null when unknown, then nothing that needs them is said. */
  pixels: Size | null;
  /** EXIF orientation 1..8 (Exif 2.32, TIFF 6.0 tag 274). */
  orientation: number;
  /** The point that matters most. */
  subject?: Subject | undefined;
  /** Was the picture placed here, by hand or by a choice? Then nobody says that it lies off-centre. */
  placed?: boolean | undefined;
  /** Colour of the picture along its rim, `#rrggbb`. */
  rim?: string | null | undefined;
  /** Colour of the page round the frame, `#rrggbb`. */
  page?: string | null | undefined;
  /** A second shape behind the frame that stands in for an outline; weight in points. */
  faked?: { weight: number; colour: string } | undefined;
  /** Words that stand around it. */
  words?: readonly WordsFacts[] | undefined;
}

/** 150 ppi is the least for print at reading distance, 300 ppi is good: common practice. */
export const LEAST_PPI = 150;
export const GOOD_PPI = 300;
/** A line below this many points is a hairline: hard to see on paper and screen. Common practice. */
export const HAIRLINE = 0.75;
/** A subject farther than this from the middle, in shares of the box's shorter side, is off-centre. Our own choice. */
export const OFF_CENTRE = 0.25;
/** Words that cover so much of a face hide who it is. Our own choice. */
export const FACE_COVERED = 0.15;
/** Words of which more sticks out of their shape are cut by it. Our own choice. */
export const WORDS_OUT = 0.02;
/** An ellipse nearer to round than this was meant to be a circle. */
export const EGG = 0.12;

/** Pixels per inch at which the picture is shown: the coarser of its two directions. */
export function effectivePpi(frame: Frame, picture: Size): number {
  const { scale } = deriveView(frame.placement, frame.box, picture);
  return 72 / Math.max(scale.x, scale.y);
}

/** Everything the checks notice about one frame. Pure: the same frame gives the same findings in the same order. */
export function findings(frame: Frame, facts: PictureFacts): Finding[] {
  const out: Finding[] = [];
  const { box, shape } = frame;
  if (facts.pixels) out.push(...pixelFindings(frame, facts.pixels, facts.placed ? undefined : facts.subject));
  const oblong = Math.max(box.width / box.height, box.height / box.width) - 1;
  if (shape.name === 'ellipse' && oblong > 1e-6 && oblong <= EGG) out.push({ code: 'egg', percent: oblong * 100 });
  // Turned by hand it has been seen to.
  const upright = turnOf(frame.turn) === 0 && turnOf(frame.placement.turn) === 0 && !frame.placement.mirror;
  if (facts.orientation > 1 && upright) out.push({ code: 'sideways', orientation: facts.orientation });
  if (facts.faked && !frame.outline) out.push({ code: 'faked-outline', ...facts.faked });
  out.push(...outlineFindings(frame, facts));
  if (!shapeOf(shape)) out.push({ code: 'unknown-shape', shape: shape.name });
  out.push(...wordsFindings(facts.words ?? []));
  if (frame.alt.trim() === '') out.push({ code: 'no-alt-text' });
  return out;
}

/** Words around it that cannot be read, stick out of their shape, or lie over a face: of each the worst. */
function wordsFindings(all: readonly WordsFacts[]): Finding[] {
  const [faint] = all.filter((w) => w.contrast < w.least).sort((a, b) => a.contrast / a.least - b.contrast / b.least);
  const [hiding] = all.filter((w) => w.face > FACE_COVERED).sort((a, b) => b.face - a.face);
  const [out] = all.filter((w) => w.outside > WORDS_OUT).sort((a, b) => b.outside - a.outside);
  return [
    ...(faint
      ? [{ code: 'hard-to-read' as const, words: faint.words, contrast: faint.contrast, least: faint.least }]
      : []),
    ...(out ? [{ code: 'words-out' as const, words: out.words, percent: out.outside * 100 }] : []),
    ...(hiding ? [{ code: 'over-face' as const, words: hiding.words, percent: hiding.face * 100 }] : []),
  ];
}

function pixelFindings(frame: Frame, pixels: Size, subject: Subject | undefined): Finding[] {
  const out: Finding[] = [];
  const { placement, box } = frame;
  if (isDistorted(placement)) {
    const { distortion } = deriveView(placement, box, pixels).placement;
    if (Math.abs(distortion - 1) >= DISTORTION_NOISE)
      out.push({ code: 'distorted', distortion, percent: (Math.max(distortion, 1 / distortion) - 1) * 100 });
  }
  const ppi = effectivePpi(frame, pixels);
  if (ppi < LEAST_PPI) {
    const good = ppi / LEAST_PPI;
    const best = ppi / GOOD_PPI;
    out.push({
      code: 'soft',
      ppi,
      goodWidth: box.width * good,
      goodHeight: box.height * good,
      bestWidth: box.width * best,
      bestHeight: box.height * best,
    });
  }
  if (placement.fit === 'contain' && !frame.backing) {
    const empty = emptyShare(frame, pixels);
    if (empty > 0.001) out.push({ code: 'empty-corner', percent: empty * 100 });
  }
  const cut = cutMarks(frame, pixels, keepMarks(frame));
  if (cut.length > 0)
    out.push({ code: 'keep-cut', percent: Math.max(...cut.map((c) => c.cut)) * 100, marks: cut.length });
  // A subject that reaches over the edge was put there.
  if (subject && !subject.guessed && placement.fit !== 'tile' && !frame.overstep) {
    const off = offCentre(frame, pixels, subject);
    if (off > OFF_CENTRE) out.push({ code: 'off-centre', percent: off * 100 });
  }
  return out;
}

/** Share of the shape's rim beyond which there is no picture. */
function emptyShare(frame: Frame, pixels: Size): number {
  const { matrix } = deriveView(frame.placement, frame.box, pixels);
  const points = flatten(framePath(frame), 0.2).flat();
  const beyond = points.filter((p) => {
    const { u, v } = ontoPicture(matrix, p, pixels);
    return u < -1e-3 || v < -1e-3 || u > 1.001 || v > 1.001;
  });
  return points.length === 0 ? 0 : beyond.length / points.length;
}

/**
 * How far the subject lies from the middle of the box beyond what the picture's own edge forces, in shares of the shorter
 * side: a subject at the rim of a picture cannot come to the middle.
 */
function offCentre(frame: Frame, pixels: Size, subject: Subject): number {
  const middle = aimAt(subject, frame, pixels);
  const distance = (placement: Frame['placement']): number => {
    const { matrix } = deriveView(placement, frame.box, pixels);
    const { x, y } = ontoBox(matrix, middle, pixels);
    return Math.hypot(x - frame.box.width / 2, y - frame.box.height / 2);
  };
  const least = distance({ ...frame.placement, aim: middle });
  return (distance(frame.placement) - least) / Math.min(frame.box.width, frame.box.height);
}

/** The colours an outline must stand out from, as far as they are known: the picture's first. */
const neighboursOf = (facts: PictureFacts): string[] =>
  [facts.rim, facts.page].filter((c): c is string => typeof c === 'string');

function outlineFindings(frame: Frame, facts: PictureFacts): Finding[] {
  const { outline } = frame;
  if (!outline) return [];
  const finest = Math.min(...outlineBands(outline).map((b) => b.to - b.from));
  if (finest < HAIRLINE) return [{ code: 'hairline', weight: finest, least: HAIRLINE }];
  if (outline.paint.kind !== 'solid') return [];
  const { colour } = outline.paint;
  // A line on or inside the edge has the picture on its inner side, and the page on its outer.
  const against = neighboursOf(facts);
  if (against.length === 0) return [];
  // It must stand out from one of the two at least: from the picture, or from the page.
  const best = Math.max(...against.map((c) => contrast(colour, c)));
  const through = (outline.opacity ?? 1) * outline.paint.opacity;
  if (best >= READABLE && through >= 0.3) return [];
  return [{ code: 'faint-outline', contrast: best, opacity: through, least: READABLE }];
}

/**
 * The frame with one finding mended, or null where a person must decide (a soft picture, a missing text, a shape that
 * Gable does not know).
 */
export function remedy(finding: Finding, frame: Frame, facts: PictureFacts): Frame | null {
  const { pixels } = facts;
  switch (finding.code) {
    case 'distorted':
      return pixels && mended(frame, pixels);
    case 'egg':
      return pixels && withShape(frame, { name: 'circle', knobs: {} }, pixels, facts.subject);
    case 'empty-corner': {
      if (!pixels) return null;
      const least = leastZoom(frame, pixels);
      const zoom = Math.max(least.zoom, frame.placement.zoom);
      const asked = { ...frame.placement, zoom, fit: 'cover' as const };
      return { ...frame, placement: asked };
    }
    case 'keep-cut': {
      if (!pixels) return null;
      const marks = keepMarks(frame);
      const fit = keepInView(frame, marks, pixels);
      // As many as the shape can show; where that is no more than now, all of them with corners left empty.
      const gained = fit && fit.lost.length < Number(finding['marks']);
      const placement = gained ? fit.placement : showWholly(frame, marks, pixels);
      return placement && { ...frame, placement };
    }
    case 'off-centre':
      return facts.subject && pixels
        ? { ...frame, placement: { ...frame.placement, aim: aimAt(facts.subject, frame, pixels) } }
        : null;
    case 'sideways':
      return UPRIGHT[Number(finding['orientation'])] === undefined
        ? null
        : { ...frame, turn: UPRIGHT[Number(finding['orientation'])]! };
    case 'hairline':
      return (
        frame.outline && {
          ...frame,
          outline: { ...frame.outline, weight: (frame.outline.weight * HAIRLINE) / Number(finding['weight']) },
        }
      );
    case 'faint-outline': {
      const { outline } = frame;
      if (outline?.paint.kind !== 'solid') return null;
      const against = neighboursOf(facts);
      const { colour } = outline.paint;
      // Best to stand out from both; where that cannot be, from the picture.
      const better = readableColour(colour, against) ?? (against[0] ? readableColour(colour, [against[0]]) : null);
      if (!better) return null;
      return { ...frame, outline: { ...outline, opacity: 1, paint: { kind: 'solid', colour: better, opacity: 1 } } };
    }
    case 'faked-outline':
      return {
        ...frame,
        outline: { ...solidOutline(Number(finding['weight']), String(finding['colour'])), side: 'outside' },
      };
    case 'soft':
    case 'no-alt-text':
    case 'unknown-shape':
    case 'hard-to-read':
    case 'words-out':
    case 'over-face':
      return null;
  }
}

/** The frame with one remedy after the other, each kind once; the same frame where there is none. */
export function mendEach(
  frame: Frame,
  remedies: (frame: Frame) => readonly { code: string; frame: Frame | null }[],
): Frame {
  const done = new Set<string>();
  let now = frame;
  for (;;) {
    const next = remedies(now).find((r) => r.frame !== null && !done.has(r.code));
    if (!next?.frame) return now;
    done.add(next.code);
    now = next.frame;
  }
}

/** The frame with all that is plainly wrong mended. */
export const mendPlainly = (frame: Frame, facts: PictureFacts): Frame =>
  mendEach(frame, (now) =>
    findings(now, facts)
      .filter((f) => PLAIN_FAULTS.has(f.code))
      .map((f) => ({ code: f.code, frame: remedy(f, now, facts) })),
  );

/** Degrees clockwise that bring each EXIF orientation upright; mirrored ones need more than a turn. */
const UPRIGHT: Record<number, number> = { 3: 180, 6: 90, 8: 270 };

import {
  deriveView,
  effectivePpi,
  findings,
  formatLength,
  remedy,
  shapeOf,
  trimNumber,
  type Finding,
  type Frame,
  type Size,
} from '@gable/core';
import type { WorkPicture } from '../api/types';

/** A finding in words, with the action that mends it. */
export interface Note {
  code: string;
  text: string;
  remedy: { label: string; deed: string; frame: Frame } | null;
}

const percent = (v: unknown): string => `${trimNumber(Number(v), 1)} %`;

/** The notes on a frame, worst first. Missing alternative text is not a matter of the picture's looks and is left out here. */
export function notes(picture: WorkPicture, frame: Frame): Note[] {
  const all = findings(frame, { pixels: picture.media?.pixels ?? null, orientation: picture.media?.orientation ?? 1 });
  return all.flatMap((f) => note(f, frame, picture) ?? []);
}

/** What each remedy is called on its button, and in the list of deeds. */
const REMEDY: Partial<Record<Finding['code'], { label: string; deed: string }>> = {
  distorted: { label: 'Make it true', deed: 'made true' },
  egg: { label: 'Make it a circle', deed: 'circle' },
  sideways: { label: 'Turn it upright', deed: 'turned upright' },
  'empty-corner': { label: 'Fill the shape', deed: 'shape filled' },
  'keep-cut': { label: 'Keep all of it', deed: 'kept what matters' },
  'off-centre': { label: 'Centre the subject', deed: 'subject centred' },
  hairline: { label: 'Make it visible', deed: 'outline thicker' },
  'faint-outline': { label: 'Make it stand out', deed: 'outline clearer' },
};

function words(f: Finding): string | null {
  switch (f.code) {
    case 'distorted': {
      const share = Number(f['distortion']);
      return `The picture is ${share > 1 ? 'stretched' : 'squashed'} to ${Math.round(share * 100)} % of its true width.`;
    }
    case 'soft':
      return `Only ${Math.round(Number(f['ppi']))} ppi at this size: it will look soft. It is good up to ${formatLength(Number(f['goodWidth']), 'mm', 0)} wide.`;
    case 'egg':
      return `Nearly round, but an egg: ${percent(f['percent'])} off.`;
    case 'sideways':
      return 'The camera stored this picture turned, and documents show it as stored.';
    case 'empty-corner':
      return `The picture does not reach ${percent(f['percent'])} of the edge of its shape.`;
    case 'keep-cut':
      return `The shape cuts ${percent(f['percent'])} of what you marked to keep.`;
    case 'off-centre':
      return `The subject lies ${percent(f['percent'])} of the frame away from its middle.`;
    case 'hairline':
      return `The finest line of the outline is ${trimNumber(Number(f['weight']), 2)} pt: hard to see.`;
    case 'faint-outline':
      return `The outline hardly stands out: ${trimNumber(Number(f['contrast']), 1)} to 1; from 3 to 1 it reads.`;
    case 'unknown-shape':
      return 'Gable does not know this shape and draws its box. It is kept in the file unless you choose another.';
    case 'no-alt-text':
      return null;
  }
}

function note(f: Finding, frame: Frame, picture: WorkPicture): Note | null {
  if (f.code === 'sideways' && frame.turn !== 0) return null;
  const text = words(f);
  if (text === null) return null;
  const name = REMEDY[f.code];
  const better = name && remedy(f, frame, { pixels: picture.size, orientation: picture.media?.orientation ?? 1 });
  return { code: f.code, text, remedy: name && better ? { ...name, frame: better } : null };
}

/** The frame in words, for those who do not see the board. */
export function describe(frame: Frame, size: Size): string {
  const { aim, zoom } = deriveView(frame.placement, frame.box, size).placement;
  const shape = shapeOf(frame.shape)?.label ?? 'Shape of the file';
  const { width, height } = frame.box;
  const dimensions =
    Math.abs(width - height) < 0.01 ? formatLength(width) : `${formatLength(width)} by ${formatLength(height)}`;
  const line = frame.outline ? `, outline ${trimNumber(frame.outline.weight, 2)} pt` : '';
  return `${shape}, ${dimensions}, aim ${Math.round(aim.u * 100)} % across ${Math.round(aim.v * 100)} % down, zoom ${trimNumber(zoom, 2)}${line}`;
}

/** `3000 × 2000 px · 412 ppi here · zoom 1.24` */
export function figures(picture: WorkPicture, frame: Frame): string {
  const pixels = picture.media?.pixels;
  if (!pixels) return '';
  const { zoom } = deriveView(frame.placement, frame.box, picture.size).placement;
  return `${pixels.width} × ${pixels.height} px · ${Math.round(effectivePpi(frame, pixels))} ppi here · zoom ${trimNumber(zoom, 2)}`;
}

/** Where a picture stands, as short as a ruler's mark. */
export function pageMark(where: WorkPicture['where']): string {
  return where.page === null
    ? ({ header: 'head', footer: 'foot', footnote: 'note', endnote: 'note', comment: 'comment' }[where.place] ??
        where.place)
    : `p${where.page}`;
}

/** Where a picture stands, in a sentence. */
export function placeWords(where: WorkPicture['where']): string {
  const inside = [
    where.table ? 'in a table' : '',
    where.textBox ? 'in a text box' : '',
    where.group ? 'in a group' : '',
  ].filter(Boolean);
  const at =
    where.page === null
      ? where.place === 'header'
        ? 'in the page header'
        : `in a ${where.place}`
      : `about page ${where.page}`;
  return [at, ...inside].join(', ');
}

import {
  deriveView,
  effectivePpi,
  findings,
  findShape,
  formatLength,
  mended,
  trimNumber,
  withShape,
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
  return all.flatMap((f) => note(f, frame, picture.size) ?? []);
}

function note(f: Finding, frame: Frame, size: Size): Note | null {
  switch (f.code) {
    case 'distorted': {
      const share = Number(f['distortion']);
      return {
        code: f.code,
        text: `The picture is ${share > 1 ? 'stretched' : 'squashed'} to ${Math.round(share * 100)} % of its true width.`,
        remedy: { label: 'Make it true', deed: 'made true', frame: mended(frame, size) },
      };
    }
    case 'soft':
      return {
        code: f.code,
        text: `Only ${Math.round(Number(f['ppi']))} ppi at this size: it will look soft. It is good up to ${formatLength(Number(f['goodWidth']), 'mm', 0)} wide.`,
        remedy: null,
      };
    case 'egg':
      return {
        code: f.code,
        text: `Nearly round, but an egg: ${percent(f['percent'])} off.`,
        remedy: {
          label: 'Make it a circle',
          deed: 'circle',
          frame: withShape(frame, { name: 'circle', knobs: {} }, size),
        },
      };
    case 'sideways':
      return frame.turn === 0
        ? {
            code: f.code,
            text: 'The camera stored this picture turned, and documents show it as stored.',
            remedy:
              UPRIGHT[Number(f['orientation'])] === undefined
                ? null
                : {
                    label: 'Turn it upright',
                    deed: 'turned upright',
                    frame: { ...frame, turn: UPRIGHT[Number(f['orientation'])]! },
                  },
          }
        : null;
    case 'unknown-shape':
      return {
        code: f.code,
        text: 'Gable does not know this shape and draws its box. It is kept in the file unless you choose another.',
        remedy: null,
      };
    case 'no-alt-text':
      return null;
  }
}

/** Degrees clockwise that bring each EXIF orientation upright; mirrored ones need more than a turn. */
const UPRIGHT: Record<number, number> = { 3: 180, 6: 90, 8: 270 };

/** The frame in words, for those who do not see the board. */
export function describe(frame: Frame, size: Size): string {
  const { aim, zoom } = deriveView(frame.placement, frame.box, size).placement;
  const shape = findShape(frame.shape.name)?.label ?? 'Shape of the file';
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

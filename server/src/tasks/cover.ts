import { withChanges, type Changes } from '@gable/core';
import { sharpOf } from '@gable/render';
import { renderPage } from '@gable/render/page';
import sharp, { type OverlayOptions } from 'sharp';
import { originalsOf } from './originals';
import { partOf, sceneOf } from '@gable/render/scene';
import { openRef, task, weighFile, type FileRef, type Made } from './task';

/** So many pages are shown of a work. */
const MOST = 2;
/** Pixels between two of them. */
const GAP = 24;

/** The first pages of a work beside each other as a PNG, clear between them. */
export const cover = task({
  lane: 'paint',
  setsWords: true,
  seconds: 30,
  weigh: weighFile,
  /** @param width, height of the room for all of them, in pixels */
  async run(
    { file, changes, width, height }: { file: FileRef; changes: Changes; width: number; height: number },
    context,
  ): Promise<Made> {
    const source = await openRef(file, context);
    const document = withChanges(source.document, changes);
    const pages = source.sheets.slice(0, MOST).map((_, i) => i + 1);
    const scenes = [];
    for (const page of pages) scenes.push(partOf(await sceneOf(source, document, page), 0));
    const ratios = scenes.map(({ size }) => size.width / size.height);
    const gaps = GAP * (scenes.length - 1);
    const high = Math.floor(Math.min(height, (width - gaps) / ratios.reduce((sum, r) => sum + r, 0)));
    const parts: OverlayOptions[] = [];
    let left = 0;
    for (const scene of scenes) {
      const pixels = await renderPage(scene, originalsOf(source, context), high / scene.size.height);
      parts.push({ input: await sharpOf(pixels).png().toBuffer(), left, top: 0 });
      left += pixels.width + GAP;
    }
    const strip = sharp({
      create: { width: Math.max(1, left - GAP), height: high + 1, channels: 4, background: '#0000' },
    });
    return context.made(await strip.composite(parts).png().toBuffer());
  },
});

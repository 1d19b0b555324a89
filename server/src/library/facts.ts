import type { PictureContents } from '@gable/contract';
import type { Size } from '@gable/core';
import type { AppContext } from '../context';
import { PictureFacts } from '../db/models';
import type { PictureSource } from '../tasks/picture-source';

/** Counts up whenever what is found gets better: older facts are found anew. */
const VERSION = 1;

/** Those that are being found, so that two windows do not ask for the same. */
const underWay = new Map<string, Promise<PictureContents>>();

/**
 * What is in a picture, found once and kept by its content.
 * @param content names the picture's bytes
 * @throws GableError `busy`, `broken-picture`
 */
export async function contentsOf(
  context: AppContext,
  content: string,
  source: () => Promise<PictureSource>,
  size: Size,
): Promise<PictureContents> {
  const known = await PictureFacts.findByPk(content);
  if (known?.version === VERSION) return known.facts;
  const begun = underWay.get(content) ?? find(context, content, source, size).finally(() => underWay.delete(content));
  underWay.set(content, begun);
  return begun;
}

async function find(
  context: AppContext,
  content: string,
  source: () => Promise<PictureSource>,
  size: Size,
): Promise<PictureContents> {
  const facts = await context.tasks.run('look', { source: await source(), size });
  await PictureFacts.upsert({ content, version: VERSION, facts });
  return facts;
}

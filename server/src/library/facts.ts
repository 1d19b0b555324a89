import { CutOutWishSchema, RefusedSchema, type CutOut, type PictureContents, type Suggestions } from '@gable/contract';
import type { BrushStroke, Region, Size } from '@gable/core';
import { json, type Request, type Router } from 'express';
import { LRUCache } from 'lru-cache';
import type { AppContext } from '../context';
import { PictureFacts } from '../db/models';
import type { Seen } from '../tasks/cut-out';
import type { PictureSource } from '../tasks/picture-source';

/** What is found in pictures, each by a task; the version counts up whenever that gets better: older facts are found anew. */
const FOUND = {
  faces: { version: 2, task: 'look' },
  words: { version: 1, task: 'readWords' },
} as const;

type Facts = { faces: PictureContents } & { words: Pick<Suggestions, 'words'> };

/** A picture of a work, or a kept one. */
export interface LookedAt {
  /** Names the picture's bytes. */
  content: string;
  source: () => Promise<PictureSource>;
  size: Size;
}

/** What is being found, so that two windows do not ask for the same. */
const underWay = new Map<string, Promise<unknown>>();

/**
 * What is in a picture, found once and kept by its content.
 * @throws GableError `busy`, `broken-picture`
 */
async function factsOf<K extends keyof Facts>(context: AppContext, kind: K, at: LookedAt): Promise<Facts[K]> {
  const { version, task } = FOUND[kind];
  const known = await PictureFacts.findOne({ where: { content: at.content, kind } });
  if (known?.version === version) return known.facts as Facts[K];
  const name = `${kind} ${at.content}`;
  const find = async (): Promise<Facts[K]> => {
    const facts = (await context.tasks.run(task, { source: await at.source(), size: at.size })) as Facts[K];
    await PictureFacts.upsert({ content: at.content, kind, version, facts });
    return facts;
  };
  const begun = (underWay.get(name) as Promise<Facts[K]> | undefined) ?? find().finally(() => underWay.delete(name));
  underWay.set(name, begun);
  return begun;
}

const textOf = (params: Request['params']): Record<string, string> =>
  Object.fromEntries(Object.entries(params).map(([name, value]) => [name, String(value)]));

/** Masks of first looks by picture and strokes: the next stroke goes on from the one before it. */
const masks = new LRUCache<string, Seen>({ max: 200 });

async function cutOutOf(
  context: AppContext,
  at: LookedAt,
  strokes: readonly BrushStroke[],
  fine: boolean,
): Promise<CutOut> {
  const nameOf = (some: readonly BrushStroke[]): string => `${at.content} ${JSON.stringify(some)}`;
  const look = async (before: Seen | undefined, finer: boolean): Promise<CutOut & Seen> => {
    const { faces } = await factsOf(context, 'faces', at);
    const source = await at.source();
    return context.tasks.run('cutOut', { source, size: at.size, faces, strokes, before, fine: finer });
  };
  const known = masks.get(nameOf(strokes));
  if (fine && known !== undefined) return answerOf(await look(known, true));
  const first = await look(strokes.length > 0 ? masks.get(nameOf(strokes.slice(0, -1))) : undefined, false);
  masks.set(nameOf(strokes), { mask: first.mask, models: first.models });
  return answerOf(fine ? await look(first, true) : first);
}

/** What is told of a look. */
const answerOf = ({ mask, outline }: CutOut): CutOut => ({ mask, outline });

/** Adds to a picture's address what is known of it: its contents, what is suggested to be kept, and the outline of its subject. */
export function addFactsTo(
  router: Router,
  path: string,
  context: AppContext,
  find: (params: Record<string, string>) => Promise<LookedAt>,
): void {
  router.get(`${path}/contents`, async (req, res) => {
    res
      .set('Cache-Control', 'private, max-age=3600')
      .json(await factsOf(context, 'faces', await find(textOf(req.params))));
  });

  router.get(`${path}/suggestions`, async (req, res) => {
    const at = await find(textOf(req.params));
    const [{ words }, refused] = await Promise.all([
      factsOf(context, 'words', at),
      PictureFacts.findOne({ where: { content: at.content, kind: 'refused' } }),
    ]);
    const answer: Suggestions = { words, refused: (refused?.facts as Region[] | undefined) ?? [] };
    res.set('Cache-Control', 'no-store').json(answer);
  });

  router.post(`${path}/cut-out`, json({ limit: '2mb' }), async (req, res) => {
    const { strokes, fine } = CutOutWishSchema.parse(req.body ?? {});
    res.set('Cache-Control', 'no-store').json(await cutOutOf(context, await find(textOf(req.params)), strokes, fine));
  });

  router.put(`${path}/suggestions/refused`, json({ limit: '100kb' }), async (req, res) => {
    const { refused } = RefusedSchema.parse(req.body);
    const { content } = await find(textOf(req.params));
    await PictureFacts.upsert({ content, kind: 'refused', version: 1, facts: refused });
    res.status(204).end();
  });
}

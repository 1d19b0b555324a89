import {
  CoverQuerySchema,
  RenameSchema,
  FolderSchema,
  FramesSchema,
  HistoryQuerySchema,
  MarksSchema,
  NameSchema,
  NewWorkSchema,
  GroundQuerySchema,
  PageQuerySchema,
  PagesQuerySchema,
  PictureRowSchema,
  SaveEntriesSchema,
  type SaveEntries,
} from '@gable/contract';
import { isAdded, isPictureItem, NO_CHANGES, readChanges, type Changes } from '@gable/core';
import { LIMITS } from '@gable/formats';
import { Router, json } from 'express';
import type { AppContext } from '../context';
import { WorkVersion } from '../db/models';
import { attachment, sendMade } from '../http/attachment';
import { pictureCache } from '../http/picture-cache';
import { notFound } from '../http/problems';
import { receive } from '../http/receive';
import { checkFrames, fileRef, findWork, withFile } from './find';
import { createFolder } from './folders';
import { upToDate } from './reread';
import { toJson } from './json';
import { readLog, saveEntries } from './log';
import { newWork } from './from-nothing';
import { fileNameOf, isFile } from './kinds';
import { keepUpload, openUpload, spooled } from './open';
import { addPictures, createPictureWork } from './picture-work';
import { removeWork, restoreWork } from './removal';
import { duplicateWork, renameWork } from './copies';
import { listWorks, summarise } from './shelf';

/** The room for the pages of a work on the shelf, in pixels: twice what it is on most screens. */
const COVER = { width: 560, height: 176 };

/** What a work's file has itself, and looks otherwise. */
const ownChanges = (changes: Changes): Changes => ({
  ...changes,
  items: Object.fromEntries(
    Object.entries(changes.items).filter(
      ([id, item]) => !isPictureItem(item) && (!isAdded(id) || item.kind === 'group'),
    ),
  ),
});

/** `/api/works`: what has been opened, and its frames. */
export function worksRouter(context: AppContext): Router {
  const router = Router();

  /** The latest first, a page at a time; `next` asks for those after them. */
  router.get('/', async (req, res) => {
    res.json(await listWorks(req.query));
  });

  router.post('/', async (req, res) => {
    const name = NameSchema.parse(req.query['name'] ?? 'Document.docx');
    const made = await receive(req, context.spool, LIMITS.fileBytes, 'documents can have 300 MB');
    try {
      const upload = await openUpload(context, made);
      if (res.destroyed) {
        // The client disconnected: no work is created.
        if (upload.own) await context.spool.remove(upload.own.made);
        return;
      }
      const work = await keepUpload(context, spooled(context, made), name, upload);
      res.status(201).location(`/api/works/${work.id}`).json(toJson(work));
    } finally {
      await context.spool.remove(made);
    }
  });

  router.post('/folders', json(), async (req, res) => {
    const { name, works } = FolderSchema.parse(req.body);
    const folder = await createFolder(name, works);
    res.status(201).location(`/api/works/${folder.id}`).json(toJson(folder));
  });

  router.post('/new', json(), async (req, res) => {
    const work = await newWork(context, NewWorkSchema.parse(req.body));
    res.status(201).location(`/api/works/${work.id}`).json(toJson(work));
  });

  router.post('/pictures', json(), async (req, res) => {
    const work = await createPictureWork(context, PictureRowSchema.parse(req.body));
    res.status(201).location(`/api/works/${work.id}`).json(toJson(work));
  });

  router.post('/:id/pictures', json(), async (req, res) => {
    const row = PictureRowSchema.parse(req.body);
    const { id } = await findWork(req.params.id);
    const work = await addPictures(context, id, row);
    res.status(201).json(toJson(work));
  });

  router.get('/:id/history', async (req, res) => {
    const { before } = HistoryQuerySchema.parse(req.query);
    const work = await findWork(req.params.id);
    res.json(await readLog(work, before));
  });

  router.post('/:id/fidelity', json({ limit: '16mb' }), async (req, res) => {
    const { frames } = FramesSchema.parse(req.body);
    const work = await findWork(req.params.id);
    checkFrames(frames, work);
    res.json({
      fidelity: await context.tasks.run('fidelity', { file: await fileRef(context, work), frames }),
    });
  });

  router.post('/:id/kinds', json({ limit: '16mb' }), async (req, res) => {
    const { frames } = FramesSchema.parse(req.body);
    const kinds = await withFile(context, req.params.id, (work, file) => {
      if (!work.begun) throw isFile();
      checkFrames(frames, work);
      return context.tasks.run('kinds', { file, frames });
    });
    res.json({ kinds });
  });

  router.get('/:id/ground', async (req, res) => {
    const { page, state } = GroundQuerySchema.parse(req.query);
    const png = await withFile(context, req.params.id, (work, file) => {
      const changes = state === undefined ? NO_CHANGES : ownChanges(readChanges(work.changes));
      return pictureCache.get(`ground/${file.sha256}/${page}/${state ?? ''}`, async () => {
        const made = await context.tasks.run('ground', { file, page, changes });
        if (!made) throw notFound('ground');
        return { type: 'image/png', data: await context.spool.take(made) };
      });
    });
    res.type(png.type).set('Cache-Control', 'private, max-age=31536000, immutable').send(png.data);
  });

  router.get('/:id/items/:item/likeness', async (req, res) => {
    const { id, item } = req.params;
    const png = await withFile(context, id, (_, file) =>
      pictureCache.get(`likeness/${file.sha256}/${item}`, async () => {
        const made = await context.tasks.run('likeness', { file, item });
        if (!made) throw notFound('picture');
        return { type: 'image/png', data: await context.spool.take(made) };
      }),
    );
    res.type(png.type).set('Cache-Control', 'private, max-age=31536000, immutable').send(png.data);
  });

  router.get('/:id/cover', async (req, res) => {
    const { revision } = CoverQuerySchema.parse(req.query);
    const work = await findWork(req.params.id);
    if (work.summary.sheetCount === 0) throw notFound('page');
    const [file, changes] = [await fileRef(context, work), readChanges(work.changes)];
    // The shelf asks for it whenever it is opened: the same changes of the same file are painted once.
    const png = await pictureCache.get(`cover/${file.sha256}/${JSON.stringify(changes)}`, async () => {
      const made = await context.tasks.run('cover', { file, changes, ...COVER });
      return { type: 'image/png', data: await context.spool.take(made) };
    });
    const kept = revision === work.revision ? 'private, max-age=31536000, immutable' : 'private, max-age=60';
    res.type(png.type).set('Cache-Control', kept).send(png.data);
  });

  router.post('/:id/pages', json({ limit: '16mb' }), async (req, res) => {
    const wish = PagesQuerySchema.parse(req.body);
    const made = await withFile(context, req.params.id, (work, file) => {
      checkFrames(wish.frames, work);
      return context.tasks.run('pages', { file, ...wish });
    });
    res.type('application/octet-stream').set('Cache-Control', 'no-store');
    await sendMade(context, res, made);
  });

  router.get('/:id/blocks', async (req, res) => {
    const { page } = PageQuerySchema.parse(req.query);
    const blocks = await withFile(context, req.params.id, (_, file) => context.tasks.run('blocks', { file, page }));
    res.json({ blocks });
  });

  router.get('/:id', async (req, res) => {
    res.json(toJson(await upToDate(context, await findWork(req.params.id))));
  });

  router.post('/:id/entries', json({ limit: '16mb' }), async (req, res) => {
    const save = SaveEntriesSchema.parse(req.body) as SaveEntries;
    const { id } = await findWork(req.params.id);
    res.json(await saveEntries(context, id, save));
  });

  router.put('/:id/marks', json({ limit: '4mb' }), async (req, res) => {
    const marks = MarksSchema.parse(req.body);
    const work = await findWork(req.params.id);
    await work.update({ marks }, { silent: true });
    res.json({ marks });
  });

  router.get('/:id/versions', async (req, res) => {
    const work = await findWork(req.params.id);
    const versions = await WorkVersion.findAll({ where: { workId: work.id }, order: [['createdAt', 'DESC']] });
    res.json({
      versions: versions.map(({ id, reason, revision, changes, createdAt }) => ({
        id,
        reason,
        revision,
        changes: readChanges(changes),
        createdAt,
      })),
    });
  });

  router.get('/:id/file', async (req, res) => {
    const { work, made } = await withFile(context, req.params.id, async (work, file) => ({
      work,
      made: await context.tasks.run('save', { file, changes: readChanges(work.changes) }),
    }));
    attachment(res, fileNameOf(work), work.opened.format);
    await sendMade(context, res, made);
  });

  router.patch('/:id', json(), async (req, res) => {
    await findWork(req.params.id);
    res.json(summarise(await renameWork(req.params.id, RenameSchema.parse(req.body).name)));
  });

  router.post('/:id/copies', async (req, res) => {
    await findWork(req.params.id);
    const copy = await duplicateWork(context, req.params.id);
    res.status(201).location(`/api/works/${copy.id}`).json(summarise(copy));
  });

  router.delete('/:id', async (req, res) => {
    await removeWork(context, req.params.id);
    res.status(204).end();
  });

  /** Brings back a work that was removed a short while ago. */
  router.post('/:id/restore', async (req, res) => {
    await restoreWork(context, req.params.id);
    res.json(toJson(await findWork(req.params.id)));
  });

  return router;
}

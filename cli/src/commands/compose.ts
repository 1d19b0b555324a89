import {
  applyAll,
  FULL_SEAT,
  GableError,
  isAdded,
  newPicture,
  OperationSchema,
  parseColour,
  parsePage,
  resolveTies,
  type Document,
  type Operation,
} from '@gable/core';
import { openFile } from '@gable/formats';
import { saveRasterised, type Original } from '@gable/render';
import path from 'node:path';
import { z } from 'zod';
import { TEXT, type Command } from '../command';
import { readWhole, writeWhole } from '../files';
import { fontsFrom } from '../fonts';
import { originalsOf } from '../originals';
import { readPicture } from '../picture-file';
import { blankFor } from './new';

/** Operations as the screens make them; what an item that is added does not say is plain. */
const RecipeSchema = z
  .strictObject({
    open: z.string().min(1).optional().describe('a file to begin with, from the folder of the recipe'),
    new: z
      .strictObject({
        page: z.string().optional().describe('A4, 16:9, 1080x1080px, …'),
        ground: z.string().optional().describe('the colour behind its page'),
      })
      .optional()
      .describe('an empty page to begin with, of the kind that the name of the new file says'),
    pictures: z
      .record(z.string(), z.string())
      .optional()
      .describe('files of the pictures that are added, by the ids of their items'),
    fonts: z
      .array(z.string())
      .max(100)
      .optional()
      .describe('files of fonts that its words are set in: .ttf, .otf, .woff2'),
    operations: z.array(OperationSchema).max(10_000),
  })
  .refine((r) => (r.open === undefined) !== (r.new === undefined), 'Say either “open” or “new”.');

/** In the recipe as it is typed an item may leave out what is plain, and a slot may be left out for the first page. */
const TypedSchema = z.looseObject({
  open: z.string().optional(),
  new: z.looseObject({ page: z.string().optional(), ground: z.string().optional() }).optional(),
  pictures: z.record(z.string(), z.string()).optional(),
  fonts: z.array(z.string()).optional(),
  operations: z.array(z.looseObject({ op: z.string() })),
});
type Typed = z.infer<typeof TypedSchema>;

const wrong = (file: string, why: string): GableError =>
  new GableError('bad-recipe', `The recipe “${file}” cannot be used: ${why}`, 'gable schema shows its form.', {
    file,
  });

/** The first fault that a schema finds, and where it is. */
function faultOf({ issues }: z.ZodError): string {
  const [first] = issues;
  return first ? `${first.path.join('.') || 'it'}: ${first.message}.` : 'it is not a recipe.';
}

const PLAIN = {
  ...{ kind: 'framed', turn: 0, flip: { horizontal: false, vertical: false }, opacity: 1, alt: '' },
  ...{ shape: { name: 'rectangle', knobs: {} }, seat: FULL_SEAT, outline: null, shadow: null, fill: null, text: null },
};

/** The operations with all that was left out. */
async function whole(
  typed: Typed,
  document: Document,
  folder: string,
): Promise<{ operations: unknown[]; originals: Map<string, Original> }> {
  const originals = new Map<string, Original>();
  const operations: unknown[] = [];
  let count = 0;
  const holder = document.pages[0] ? { page: document.pages[0].id } : { story: document.stories[0]?.id ?? '' };
  const first = (document.pages[0] ?? document.stories[0])?.items.length ?? 0;
  for (const operation of typed.operations) {
    const { item, slot } = operation as { item?: Record<string, unknown>; slot?: unknown };
    if (operation.op !== 'add' || !item) {
      operations.push(operation);
      continue;
    }
    const id = String(item['id'] ?? '');
    const file = typed.pictures?.[id];
    let plain: Record<string, unknown> = PLAIN;
    if (file !== undefined) {
      const { original, kept } = await readPicture(path.resolve(folder, file));
      originals.set(kept.sha256, original);
      const picture = newPicture(id, item['at'] as never, kept, '');
      plain = { ...picture, ...(item['fill'] ? { fill: { ...picture.fill, ...(item['fill'] as object) } } : {}) };
    }
    operations.push({
      ...operation,
      item: { ...plain, ...item, ...(file !== undefined && { fill: plain['fill'] }) },
      slot: slot ?? { in: holder, index: first + count },
    });
    count++;
  }
  return { operations, originals };
}

/** `gable compose`: a new file, or one that is there, with operations done on it. */
async function compose(recipe: string, { out }: { out?: string }): Promise<void> {
  if (!out) throw new GableError('bad-call', 'The name of the new file is missing.', 'Add --out FILE.');
  let json: unknown;
  try {
    json = JSON.parse((await readWhole(recipe)).toString('utf8'));
  } catch (cause) {
    if (cause instanceof GableError) throw cause;
    throw wrong(recipe, `it is not JSON (${(cause as Error).message}).`);
  }
  const typed = TypedSchema.safeParse(json);
  if (!typed.success) throw wrong(recipe, faultOf(typed.error));
  const folder = path.dirname(recipe);
  const { open, new: begun } = typed.data;
  const begin = begun ?? (open === undefined ? {} : null);
  const bytes =
    begin === null
      ? await readWhole(path.resolve(folder, open!))
      : blankFor(out, {
          ...(begin.page !== undefined && { size: parsePage(begin.page) }),
          ground: begin.ground === undefined ? null : parseColour(begin.ground),
        });
  const file = openFile(bytes);
  const { operations: all, originals } = await whole(typed.data, file.document, folder);
  const checked = RecipeSchema.safeParse({ ...typed.data, operations: all });
  if (!checked.success) throw wrong(recipe, faultOf(checked.error));
  const operations = checked.data.operations as Operation[];
  const pages = operations.find((o) => o.op === 'page-add' || o.op === 'page-remove' || o.op === 'page-move');
  if (pages) throw wrong(recipe, `“${pages.op}”: pages cannot come, go or move here yet.`);
  for (const o of operations)
    if (o.op === 'add' && !isAdded(o.item.id) && !(o.item.kind === 'framed' && o.item.fill?.kind === 'picture'))
      throw wrong(recipe, `“${o.item.id}” has no picture. Name its file in “pictures”, or call it “add-${o.item.id}”.`);
  const { document } = applyAll(file.document, operations);
  const made = await saveRasterised(file, resolveTies(document), {
    fonts: await fontsFrom(typed.data.fonts ?? [], folder),
    original: ({ source, n }) => {
      const own = source && originals.get(source.sha256);
      if (own) return own;
      if (file.pictures.some((p) => p.n === n)) return originalsOf(file)({ n });
      throw wrong(recipe, 'a picture that is added has no file in “pictures”.');
    },
  });
  await writeWhole(out, made);
  const added = operations.filter((o) => o.op === 'add').length;
  const words = operations.filter((o) => o.op === 'add' && isAdded(o.item.id)).length;
  console.log(`Did ${operations.length} operations (${added - words} pictures, ${words} others added); wrote ${out}.`);
}

export const composeCommand: Command = {
  name: 'compose',
  usage: `compose RECIPE.json --out FILE     (gable schema shows the form of a recipe)`,
  options: { out: TEXT },
  takesFile: true,
  run: (file, values) => compose(file, values as { out?: string }),
};

export const schemaCommand: Command = {
  name: 'schema',
  usage: 'schema                             the JSON schema of a recipe',
  options: {},
  takesFile: false,
  run: () =>
    console.log(JSON.stringify(z.toJSONSchema(RecipeSchema, { io: 'input', unrepresentable: 'any' }), null, 2)),
};

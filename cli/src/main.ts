import { GableError, parsePick } from '@gable/core';
import { parseArgs } from 'node:util';
import { openPath, writeWhole } from './files';
import { frame, type FrameOptions } from './frame';
import { encode, outputType } from './encode';
import { htmlPieces, joined, svgPieces } from './markup';
import { rank, type RankOptions } from './rank';
import { renderFrame } from './render';
import { listShapes } from './shapes';
import { survey, type SurveyOptions } from './survey';

const HELP = `gable puts the pictures of a document into shapes and gives the same file back.

  gable survey FILE|FOLDER [--json|--table] [--look] [--fail hint|flaw|fault]
  gable frame  FILE|FOLDER --out FILE2|FOLDER2 [--dry-run] [--fail hint|flaw|fault]
               [--finish NAME|file.json] [--mend] [--pick all|1,3-5] [--shape NAME] [--knobs name=value,…] [--ratio W:H|picture]
               [--size 50mmx50mm] [--aim u,v|subject|centre] [--zoom Z] [--fit cover|contain|stretch|tile]
               [--keep left,top,width,height] [--silhouette drawing.svg|logo.png] [--letter A [--font F.ttf]]
               [--outline "6pt #ffffff outside gap 2pt double dash"|none] [--shadow soft|none|"2pt 3pt 8pt #000000 35%"]
               [--tone brightness=0.1,warmth=0.3,blur=2pt|none]
               [--slim crop,ppi=220,private]
  gable render FILE --pick N --out x.png|webp|jpg|avif|pdf|svg|html [--ppi 300]
  gable rank   FILE --pick N [--keep left,top,width,height] [--json]
  gable shapes [--json]

Exit 0: done. 1: a file is at fault. 2: the call is. 3: findings of the severity given by --fail, or worse, remain.`;

/** Faults of the call, as against faults of the file. */
const CALL_FAULTS = new Set([
  'bad-call',
  'bad-length',
  'bad-colour',
  'bad-outline',
  'bad-ratio',
  'bad-size',
  'bad-aim',
  'unknown-shape',
  'unknown-knob',
  'bad-knob',
  'bad-shadow',
  'bad-tone',
  'bad-keep',
  'bad-letters',
  'bad-pick',
  'no-such-picture',
  'bad-zoom',
  'bad-fit',
  'bad-ppi',
  'no-such-file',
  'cannot-write-file',
  'bad-output',
  'bad-finish',
]);

async function render(
  file: string,
  values: { pick?: string | undefined; out?: string | undefined; ppi?: string | undefined },
): Promise<void> {
  if (!values.out) throw new GableError('bad-call', 'The new file is not named.', 'Add --out x.png.');
  const markup = /\.(svg|html?)$/i.exec(values.out)?.[1]?.toLowerCase();
  const type = markup ? null : outputType(values.out);
  const ppi = Number(values.ppi ?? 300);
  if (!(ppi >= 1 && ppi <= 2400))
    throw new GableError('bad-ppi', `“${values.ppi}” is not a resolution.`, 'Give pixels per inch from 1 to 2400.');
  const opened = await openPath(file);
  const picked = parsePick(
    values.pick ?? '',
    opened.pictures.map((p) => p.n),
  );
  if (picked.length !== 1)
    throw new GableError('bad-pick', 'Exactly one picture can be rendered at a time.', 'Add --pick N.');
  const picture = opened.pictures[picked[0]! - 1]!;
  if (picture.problem)
    throw new GableError(
      picture.problem.code,
      `Picture ${picture.n}: ${picture.problem.message}`,
      picture.problem.remedy,
    );
  if (type === null) {
    const bytes = opened.pictureBytes(picture.n);
    const pieces = (markup === 'svg' ? svgPieces : htmlPieces)(picture.frame, picture.size, bytes);
    await writeWhole(values.out, await joined(pieces));
    console.log(`Picture ${picture.n}; wrote ${values.out}.`);
    return;
  }
  const pixels = await renderFrame(picture.frame, picture.size, opened.pictureBytes(picture.n), ppi / 72);
  await writeWhole(values.out, await encode(pixels, type, ppi));
  console.log(`Picture ${picture.n}: ${pixels.width} × ${pixels.height} px at ${ppi} ppi; wrote ${values.out}.`);
}

async function main(argv: string[]): Promise<void> {
  const [command, ...rest] = argv;
  if (command === undefined || command === 'help' || command === '--help' || command === '-h') {
    console.log(HELP);
    if (command === undefined) process.exitCode = 2;
    return;
  }
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  const options = {
    survey: { json: flag, table: flag, look: flag, fail: text },
    shapes: { json: flag },
    rank: { json: flag, pick: text, keep: text },
    frame: {
      out: text,
      pick: text,
      shape: text,
      knobs: text,
      ratio: text,
      size: text,
      aim: text,
      zoom: text,
      fit: text,
      outline: text,
      shadow: text,
      tone: text,
      keep: text,
      silhouette: text,
      letter: text,
      font: text,
      finish: text,
      slim: text,
      fail: text,
      mend: flag,
      'dry-run': flag,
    },
    render: { out: text, pick: text, ppi: text },
  } as const;
  if (!(command in options)) throw new GableError('bad-call', `There is no command “${command}”.`, 'Try: gable help');
  let parsed;
  try {
    parsed = parseArgs({ args: rest, options: options[command as keyof typeof options], allowPositionals: true });
  } catch (cause) {
    throw new GableError('bad-call', `${(cause as Error).message.split('. ')[0]}.`, 'Try: gable help', {}, { cause });
  }
  const [file, ...more] = parsed.positionals;
  if (command === 'shapes') {
    listShapes((parsed.values as { json?: boolean }).json === true);
    return;
  }
  if (!file || more.length > 0) throw new GableError('bad-call', 'Name exactly one file.', 'Try: gable help');
  const values = parsed.values as Record<string, string | boolean | undefined>;
  if (command === 'survey') {
    if (values['json'] && values['table'])
      throw new GableError('bad-call', 'A survey has one form.', 'Give --json or --table.');
    await survey(file, values as SurveyOptions);
  } else if (command === 'rank') await rank(file, values as RankOptions);
  else if (command === 'frame') await frame(file, values as FrameOptions);
  else await render(file, values as Record<string, string | undefined>);
}

try {
  await main(process.argv.slice(2));
} catch (error) {
  if (!(error instanceof GableError)) throw error;
  console.error(`gable: ${error.full}`);
  process.exitCode = CALL_FAULTS.has(error.code) ? 2 : 1;
}

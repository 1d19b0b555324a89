import {
  formatLength,
  GableError,
  regionOnPage,
  rimOfFrame,
  SEVERITIES,
  SEVERITY,
  trimNumber,
  type Finding,
  type PictureFacts,
  type Rect,
  type Severity,
} from '@gable/core';
import { surveyFile, surveyPicture, type OpenedPicture, type Source, type SurveyPicture } from '@gable/formats';
import { wordsFacts } from '@gable/render/words-facts';
import { FLAG, TEXT, type Command } from '../command';
import { openPath } from '../files';
import { jobsIn, parseSeverity, Progress } from '../folder';
import { originalsOf } from '../originals';
import { lookAt } from '@gable/render/faces';

/** What the pixels tell of a picture; nothing where they cannot be read. The page is taken as white paper. */
export async function look(
  file: Source,
  picture: OpenedPicture,
): Promise<Pick<PictureFacts, 'subject' | 'rim' | 'page'>> {
  const { frame, size, n, problem } = picture;
  if (problem) return {};
  const seen = await lookAt(file.pictureBytes(n), size).catch((error: unknown) => {
    if (error instanceof GableError) return null;
    throw error;
  });
  return seen ? { subject: seen.subject, rim: rimOfFrame(seen.pixels, frame, size), page: '#ffffff' } : {};
}

type FileSurvey = ReturnType<typeof surveyFile>;

async function surveyOne(path: string, deep: boolean): Promise<FileSurvey> {
  const opened = await openPath(path);
  const result = surveyFile(opened);
  if (!deep) return result;
  const seen: Awaited<ReturnType<typeof look>>[] = [];
  for (const picture of opened.pictures) seen.push(await look(opened, picture));
  const facesIn = (n: number): Rect[] => {
    const { frame, size } = opened.pictures[n - 1]!;
    return (seen[n - 1]!.subject?.regions ?? []).map((region) => regionOnPage(frame, region, size));
  };
  const words = await wordsFacts(opened, originalsOf(opened), facesIn);
  for (const [i, picture] of opened.pictures.entries())
    result.pictures[i] = surveyPicture(picture, picture.frame, { ...seen[i], words: words.get(picture.n) });
  return result;
}

function printTable(pictures: readonly SurveyPicture[]): void {
  const rows = pictures.map(row);
  const head = ['n', 'where', 'size', 'shape', 'ppi', 'outline', 'findings'];
  const widths = head.map((h, i) => Math.max(h.length, ...rows.map((r) => r[i]!.length)));
  for (const r of [head, ...rows])
    console.log(r.map((c, i) => (i === r.length - 1 ? c : c.padEnd(widths[i]!))).join('  '));
}

interface SurveyOptions {
  json?: boolean;
  table?: boolean;
  look?: boolean;
  fail?: string;
}

/** What stands against files when findings count as failures. */
export const REMAIN = 3;

/** Are there findings of this severity, or a worse one? */
export const anyAtLeast = (found: readonly Finding[], severity: Severity): boolean =>
  found.some((f) => SEVERITIES.indexOf(SEVERITY[f.code]) >= SEVERITIES.indexOf(severity));

/**
 * `gable survey FILE|FOLDER [--json] [--look] [--fail hint|flaw|fault]`: `--look` decodes the pictures too, for what only
 * their pixels tell. Of a folder, a file that cannot be opened is told, and the rest is surveyed all the same.
 */
async function survey(where: string, options: SurveyOptions): Promise<void> {
  const { json = false, table = false, look: deep = false, fail } = options;
  if (json && table)
    throw new GableError('bad-call', 'A survey is written in one form only.', 'Give --json or --table.');
  const severity = parseSeverity(fail);
  const { folder, jobs } = await jobsIn(where);
  const progress = new Progress(jobs.length);
  const files: ({ file: string } & FileSurvey)[] = [];
  const failed: { file: string; code: string; message: string }[] = [];
  for (const [i, job] of jobs.entries()) {
    progress.at(i, job.name);
    try {
      files.push({ file: job.name, ...(await surveyOne(job.path, deep)) });
    } catch (error) {
      if (!folder || !(error instanceof GableError)) throw error;
      failed.push({ file: job.name, code: error.code, message: error.full });
    }
  }
  progress.end();
  for (const f of files)
    if (f.pictures.length === 0 && !folder)
      console.error(`“${f.file}” has no pictures. Put one in first, with gable put.`);
  if (json) {
    const { file, ...one } = files[0] ?? { file: '' };
    void file;
    console.log(JSON.stringify(folder ? { files, failed } : one, null, 2));
  } else
    for (const f of files) {
      if (folder) console.log(`${f.file}: ${f.pictures.length === 0 ? 'no pictures' : ''}`.trim());
      if (f.pictures.length > 0) printTable(f.pictures);
      for (const { why, count } of f.leftOut ?? [])
        console.log(`Not listed: ${count} ${count === 1 ? 'picture' : 'pictures'} ${why}.`);
      if (folder) console.log('');
    }
  for (const f of failed) console.error(`${f.file}: ${f.message}`);
  if (failed.length > 0) process.exitCode = 1;
  else if (severity && files.some((f) => f.pictures.some((p) => anyAtLeast(p.findings, severity))))
    process.exitCode = REMAIN;
}

function row(p: SurveyPicture): string[] {
  const { place, page: number } = p.where;
  const numbered = ['slide', 'sheet', 'drawing', 'page'].includes(place);
  const page = number === null ? place : numbered ? `${place} ${number}` : `${place}, about p. ${number}`;
  const outline = p.outline
    ? `${trimNumber(p.outline.weight, 2)} pt${p.outline.paint.kind === 'solid' ? ` ${p.outline.paint.colour}` : ''}`
    : 'none';
  return [
    String(p.n),
    page,
    `${formatLength(p.box.width)} × ${formatLength(p.box.height)}`,
    p.shape,
    p.ppi === null ? '–' : String(Math.round(p.ppi)),
    outline,
    [...(p.problem ? [p.problem.code] : []), ...p.findings.map(word)].join(', '),
  ];
}

function word(f: Finding): string {
  const percent = f['percent'];
  return typeof percent === 'number' ? `${f.code} ${trimNumber(percent, 1)} %` : f.code;
}

export const surveyCommand: Command = {
  name: 'survey',
  usage: 'survey FILE|FOLDER [--json|--table] [--look] [--fail hint|flaw|fault]',
  options: { json: FLAG, table: FLAG, look: FLAG, fail: TEXT },
  takesFile: true,
  run: (where, values) => survey(where, values as SurveyOptions),
};

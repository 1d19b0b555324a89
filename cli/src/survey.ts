import { findSubject, formatLength, rimOfFrame, trimNumber, type Finding, type PictureFacts } from '@gable/core';
import { surveyFile, surveyPicture, type OpenedFile, type OpenedPicture, type SurveyPicture } from '@gable/formats';
import { openPath } from './files';
import { decodeSmall } from './render';

/** What the pixels tell of a picture; nothing where they cannot be read. The page is taken as white paper. */
async function look(file: OpenedFile, picture: OpenedPicture): Promise<Pick<PictureFacts, 'subject' | 'rim' | 'page'>> {
  const { frame, size, n, problem } = picture;
  if (problem) return {};
  const pixels = await decodeSmall(file.pictureBytes(n), size).catch(() => null);
  if (!pixels) return {};
  return { subject: await findSubject(pixels), rim: rimOfFrame(pixels, frame, size), page: '#ffffff' };
}

/** `gable survey FILE [--json] [--look]`: `--look` decodes the pictures too, for what only their pixels tell. */
export async function survey(file: string, json: boolean, deep: boolean): Promise<void> {
  const opened = await openPath(file);
  const result = surveyFile(opened);
  if (deep)
    for (const [i, picture] of opened.pictures.entries())
      result.pictures[i] = surveyPicture(picture, picture.frame, await look(opened, picture));
  if (result.pictures.length === 0) console.error(`“${file}” has no pictures. Put one into the document first.`);
  if (json) {
    console.log(JSON.stringify(result, null, 2));
    return;
  }
  if (result.pictures.length === 0) return;
  const rows = result.pictures.map(row);
  const head = ['n', 'where', 'size', 'shape', 'ppi', 'outline', 'findings'];
  const widths = head.map((h, i) => Math.max(h.length, ...rows.map((r) => r[i]!.length)));
  for (const r of [head, ...rows])
    console.log(r.map((c, i) => (i === r.length - 1 ? c : c.padEnd(widths[i]!))).join('  '));
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

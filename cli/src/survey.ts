import { formatLength, trimNumber, type Finding } from '@gable/core';
import { surveyFile, type SurveyPicture } from '@gable/formats';
import { openPath } from './files';

/** `gable survey FILE [--json]` */
export async function survey(file: string, json: boolean): Promise<void> {
  const result = surveyFile(await openPath(file));
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
  const page = p.where.page === null ? p.where.place : `${p.where.place}, about p. ${p.where.page}`;
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

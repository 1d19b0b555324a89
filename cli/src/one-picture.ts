import { GableError, parsePick } from '@gable/core';
import type { OpenedPicture, Source } from '@gable/formats';

/**
 * The one picture that `--pick` names.
 * @param several what to say when it names none or more
 * @throws GableError `bad-pick`, or what is wrong with the picture
 */
export function onePicture({ pictures }: Source, pick: string | undefined, several: string): OpenedPicture {
  const picked = parsePick(
    pick ?? '',
    pictures.map((p) => p.n),
  );
  if (picked.length !== 1) throw new GableError('bad-pick', several, 'Add --pick N.');
  const picture = pictures[picked[0]! - 1]!;
  const { problem, n } = picture;
  if (problem) throw new GableError(problem.code, `Picture ${n}: ${problem.message}`, problem.remedy);
  return picture;
}

import {
  GableError,
  MOST_MARKS,
  suggestedMarks,
  textBlocks,
  type KeepMark,
  type KeepWish,
  type Size,
} from '@gable/core';
import { findFaces } from '@gable/render/faces';
import { findWords } from '@gable/render/words';

/**
 * The marks that were asked for on one picture: regions as they are, faces and words where they are found.
 * @throws GableError `broken-picture`
 */
export async function marksOf(wishes: readonly KeepWish[], bytes: () => Uint8Array, size: Size): Promise<KeepMark[]> {
  const marks: KeepMark[] = [];
  for (const wish of wishes) {
    if (typeof wish === 'object') marks.push(wish);
    else if (wish === 'faces')
      marks.push(...suggestedMarks({ faces: await findFaces(bytes(), size), blocks: [] }, marks));
    else {
      const blocks = textBlocks(await findWords(bytes(), size), size);
      marks.push(...suggestedMarks({ faces: [], blocks }, marks));
    }
  }
  if (marks.length > MOST_MARKS)
    throw new GableError('bad-keep', `${marks.length} regions are too many to keep.`, `Name up to ${MOST_MARKS}.`);
  return marks;
}

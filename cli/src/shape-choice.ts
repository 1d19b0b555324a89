import { GableError, parseKnobs, parseShape, type ShapeChoice } from '@gable/core';
import { letterOf, silhouetteOf } from './silhouette';

/** The ways in which a shape is named. */
export interface ShapeOptions {
  shape?: string | undefined;
  knobs?: string | undefined;
  silhouette?: string | undefined;
  letter?: string | undefined;
  font?: string | undefined;
  alone?: boolean | undefined;
}

/**
 * The shape that was named, or made from a file or letters, and the ratio that it insists on; null where none was.
 * @throws GableError `bad-call`, and what is wrong with the file or the letters
 */
export async function readChoice(o: ShapeOptions): Promise<{ choice: ShapeChoice; locked: number | null } | null> {
  const ways = [o.shape, o.silhouette, o.letter, o.alone].filter((w) => w !== undefined).length;
  if (ways > 1)
    throw new GableError(
      'bad-call',
      'A frame can have only one shape.',
      'Give --shape, --silhouette, --letter or --alone.',
    );
  if (o.shape !== undefined) {
    const shape = parseShape(o.shape);
    return { choice: { name: shape.name, knobs: parseKnobs(o.knobs ?? '', shape) }, locked: shape.locked };
  }
  if (o.knobs !== undefined) throw new GableError('bad-call', '--knobs needs a shape.', 'Add --shape NAME.');
  const choice =
    o.silhouette !== undefined
      ? await silhouetteOf(o.silhouette)
      : o.letter !== undefined
        ? await letterOf(o.letter, o.font)
        : null;
  return choice && { choice, locked: choice.drawn?.ratio ?? null };
}

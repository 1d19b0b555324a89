import { Injectable } from '@angular/core';
import type { KeptFont } from '@gable/contract';
import { GableError, type FramedItem, type ShapeChoice } from '@gable/core';
import type { Along, letterShape } from '@gable/core/silhouette';
import { fontUrl } from '../library/own-fonts';
import { measure } from './measure';

/** Fonts whose letters become shapes; their files lie beside the pages (`scripts/build.mjs`). */
export const LETTER_FONTS = [
  { value: 'gelasio', label: 'Serif' },
  { value: 'tinos', label: 'Narrow serif' },
  { value: 'arimo', label: 'Sans serif' },
  { value: 'bricolage-grotesque', label: 'Grotesque' },
  { value: 'cousine', label: 'Typewriter' },
] as const;
/** One of these, or one of the author's own by its id. */
export type LetterFont = (typeof LETTER_FONTS)[number]['value'] | OwnLetterFont;
type OwnLetterFont = `own:${string}`;
export const ownLetterFont = (id: string): LetterFont => `own:${id}`;

/** One to three letters, as they are used for a monogram: the capitals of a name, else its first letter. */
export function initialsOf(name: string): string {
  const words = name.match(/\p{L}[\p{L}\p{M}’'-]*/gu) ?? [];
  const capitals = words.filter((w) => /^\p{Lu}/u.test(w)).map((w) => [...w][0]!);
  return capitals.slice(0, 2).join('') || [...(words[0] ?? 'A')][0]!.toUpperCase();
}

type Look = Pick<NonNullable<FramedItem['text']>['paragraphs'][number]['runs'][number], 'font' | 'weight' | 'italic'>;
type Font = Parameters<typeof letterShape>[0];

/** Makes shapes of letters; fonts come when they are first asked for. */
@Injectable({ providedIn: 'root' })
export class LetterShapes {
  private readonly fonts = new Map<LetterFont, Promise<Font>>();

  /** @throws GableError for letters that the font does not have, or for none */
  async shape(text: string, font: LetterFont): Promise<ShapeChoice> {
    const made = await import('@gable/core/silhouette');
    return made.letterShape(await this.font(font), text);
  }

  /** Words along a circle. @throws GableError for letters that the font does not have, or for none */
  async along(text: string, font: LetterFont, along: Along): Promise<ShapeChoice> {
    const made = await import('@gable/core/silhouette');
    return made.alongShape(await this.font(font), text, along);
  }

  /**
   * The words of an item as one shape, in its box.
   * @param faces fonts of the author's own, which all its words are set in
   * @throws GableError for a weight or a slant that a font does not have, and as `outlinedWords` does
   */
  async outlines(item: FramedItem, faces: readonly KeptFont[]): Promise<ShapeChoice> {
    const made = await import('@gable/core/silhouette');
    const fonts = new Map<string, Font>();
    const keyOf = ({ font, weight, italic }: Look): string => JSON.stringify([font, weight >= 600, italic]);
    for (const run of made.runsIn(item)) {
      const face = faces.find(
        (f) => f.family === run.font && f.weight === (run.weight >= 600 ? 700 : 400) && f.italic === run.italic,
      );
      if (!face) {
        const look = [run.weight >= 600 ? 'bold' : 'regular', ...(run.italic ? ['italic'] : [])].join(' ');
        throw new GableError(
          'bad-font',
          `${run.font} is not here as ${look}.`,
          'Add its file, or choose another look.',
          {},
        );
      }
      fonts.set(keyOf(run), await this.font(ownLetterFont(face.id)));
    }
    return made.outlinedWords(measure(), item, (run) => fonts.get(keyOf(run))!);
  }

  private font(name: LetterFont): Promise<Font> {
    let known = this.fonts.get(name);
    if (!known) {
      known = this.read(name);
      known.catch(() => this.fonts.delete(name));
      this.fonts.set(name, known);
    }
    return known;
  }

  private async read(name: LetterFont): Promise<Font> {
    const { readFont } = await import('@gable/core/silhouette');
    const url = name.startsWith('own:') ? fontUrl(name.slice(4)) : `/page/letters/${name}.woff`;
    const response = await fetch(url);
    if (!response.ok) throw new Error(`The font ${name} is not there.`);
    return readFont(new Uint8Array(await response.arrayBuffer()));
  }
}

import { inject, Injectable } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import type { LibraryPicture } from '@gable/contract';
import { pictureOf } from '../video/decode';
import { isMedia, isVideo } from './files';

export interface Taken {
  pictures: LibraryPicture[];
  /** What could not be taken, in words; null when everything could. */
  problem: Problem | null;
}

/** Takes pictures in: they are kept on the server and found again by word. */
@Injectable({ providedIn: 'root' })
export class Intake {
  private readonly api = inject(Api);

  /** @param told how many of them are in */
  async keep(files: readonly File[], told: (done: number) => void = () => undefined): Promise<Taken> {
    const pictures: LibraryPicture[] = [];
    const refused: { name: string; problem: Problem }[] = [];
    const wanted = files.filter(isMedia);
    for (const [i, file] of wanted.entries()) {
      try {
        // What is pasted has no name of its own.
        const name = /^image\.\w+$/.test(file.name) ? 'Pasted picture' : file.name;
        pictures.push(await (isVideo(file) ? this.keepVideo(file) : firstValueFrom(this.api.keepPicture(file, name))));
      } catch (error) {
        refused.push({ name: file.name, problem: toProblem(error) });
      }
      told(i + 1);
    }
    const strangers = files.length - wanted.length;
    if (refused.length === 0 && (strangers === 0 || pictures.length > 0)) return { pictures, problem: null };
    if (refused.length === 0)
      return {
        pictures,
        problem: {
          code: 'not-a-picture',
          title:
            strangers === 1
              ? `“${files[0]!.name}” is neither a picture nor a video.`
              : 'There is no picture or video among these files.',
          remedy: 'Choose JPEG, PNG, WebP, AVIF, GIF, TIFF or SVG pictures, or MP4 or WebM videos.',
          facts: {},
        },
      };
    const first = refused[0]!.problem;
    const more = refused.length - 1;
    return {
      pictures,
      problem: {
        ...first,
        title: more > 0 ? `${first.title} ${more} more could not be taken either.` : first.title,
      },
    };
  }

  /** A video comes in as a picture: what is seen of it a little after its beginning. */
  private async keepVideo(file: File): Promise<LibraryPicture> {
    const address = URL.createObjectURL(file);
    try {
      const poster = await pictureOf(address, file.name);
      const name = file.name.replace(/\.\w+$/, '');
      const { sha256 } = await firstValueFrom(this.api.keepPicture(poster, name));
      return await firstValueFrom(this.api.keepVideo(sha256, file));
    } finally {
      URL.revokeObjectURL(address);
    }
  }
}

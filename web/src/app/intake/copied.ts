import { inject, Injectable } from '@angular/core';
import { ItemSchema, isPictureItem, PiecesSchema, type PictureItem, type PieceItem } from '@gable/core';
import type { LibraryPicture } from '@gable/contract';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';

/** Where a framed picture was copied. */
interface From {
  /** The work, and the number of the picture there. */
  id: string;
  n: number;
  /** The page that it was on; empty where it was on none. */
  page: string;
}

/** A framed picture that was copied: how it is framed, and what it shows. */
export interface Copied {
  item: PictureItem;
  /** What stands around it. */
  around: readonly PieceItem[];
  picture: LibraryPicture;
  from: From;
}

/** What a copied picture is known by once it comes back from the clipboard, where its data are written anew. */
interface Signature {
  width: number;
  height: number;
  /** Of small squares of it, 0 to 255. */
  tones: number[];
}
interface Kept {
  item: PictureItem;
  around: readonly PieceItem[];
  from: From;
  signature: Signature;
}

/** Where the last one is remembered: windows on other works see it, too. */
const PLACE = 'gable.copied';
/** A square of this many tones each way tells pictures apart. */
const SIDE = 12;
/** Tones of the same picture differ by so much at most: clipboards may change colours a little. */
const MOST_OFF = 6;

/**
 * Framed pictures that are copied here and pasted here again, in the same work or in another: they come with their frame and
 * with the data of their picture, and not as the pixels that other programs get.
 */
@Injectable({ providedIn: 'root' })
export class CopiedFrames {
  private readonly api = inject(Api);

  /** Remembers a framed picture. @param png as it was put on the clipboard */
  async remember(png: Blob, { item, around, from }: Omit<Copied, 'picture'>): Promise<void> {
    const kept: Kept = { item, around, from, signature: await signatureOf(png) };
    localStorage.setItem(PLACE, JSON.stringify(kept));
  }

  /** The framed picture that was copied here, if the clipboard has it still; what it shows is kept then. */
  async recall(file: Blob): Promise<Copied | null> {
    const kept = JSON.parse(localStorage.getItem(PLACE) ?? 'null') as Kept | null;
    const read = ItemSchema.safeParse(kept?.item);
    const item = read.success && isPictureItem(read.data) ? read.data : null;
    if (!kept || !item || !same(await signatureOf(file), kept.signature)) return null;
    const { from } = kept;
    const { source } = item.fill;
    const picture: LibraryPicture =
      source.from === 'kept' ? { ...source, kind: 'own' } : await firstValueFrom(this.api.keepOf(from.id, from.n));
    const around = PiecesSchema.safeParse(kept.around).data ?? [];
    return { item, around, picture, from };
  }
}

const same = (a: Signature, b: Signature): boolean =>
  a.width === b.width &&
  a.height === b.height &&
  a.tones.every((tone, i) => Math.abs(tone - (b.tones[i] ?? Infinity)) <= MOST_OFF);

async function signatureOf(file: Blob): Promise<Signature> {
  const image = await createImageBitmap(file);
  const canvas = new OffscreenCanvas(SIDE, SIDE);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(image, 0, 0, SIDE, SIDE);
  const { width, height } = image;
  image.close();
  const { data } = context.getImageData(0, 0, SIDE, SIDE);
  const tones = Array.from({ length: SIDE * SIDE }, (_, i) => {
    const [r, g, b, a] = [0, 1, 2, 3].map((c) => data[i * 4 + c]!) as [number, number, number, number];
    return Math.round((((r + g + b) / 3) * a) / 255 + (255 - a) / 2);
  });
  return { width, height, tones };
}

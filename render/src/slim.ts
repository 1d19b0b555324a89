import { GableError } from '@gable/core';
import { applySlim, LIMITS, planSlim, withoutPrivate, type SlimStep, type SlimWish } from '@gable/formats';
import sharp from 'sharp';

/** What slimming did: sizes in bytes, and how many pictures it concerned. */
export interface Slimmed {
  bytes: Uint8Array;
  before: number;
  after: number;
  /** Pictures that lost hidden parts. */
  cut: number;
  /** Pictures stored with fewer pixels. */
  fewer: number;
  /** Pictures that lost private data, and how many of them told a place. */
  bared: number;
  placed: number;
}

/** JPEG quality of what is encoded anew: the difference from the original is hard to see (common practice). */
const QUALITY = 88;

/**
 * Makes a file smaller: what no frame shows is cut off, pictures get no more pixels than they are shown with, private data
 * goes. Every frame shows what it showed. A picture that would not become smaller stays as it is.
 */
export async function slim(
  bytes: Uint8Array,
  wish: SlimWish,
  progress: (done: number, total: number) => void = () => undefined,
): Promise<Slimmed> {
  const plan = planSlim(bytes, wish);
  const made = new Map<SlimStep, Uint8Array>();
  for (const [i, step] of plan.steps.entries()) {
    progress(i, plan.steps.length);
    const data = await encode(step, wish.strip);
    const now = plan.bared.get(step.name)?.bytes.length ?? step.bytes.length;
    if (data.length < now) made.set(step, data);
  }
  progress(plan.steps.length, plan.steps.length);
  const out = applySlim(bytes, plan, made);
  const steps = [...made.keys()];
  const bared = [...plan.bared.values()];
  return {
    bytes: out,
    before: bytes.length,
    after: out.length,
    cut: steps.filter((s) => s.part.width < s.picture.width || s.part.height < s.picture.height).length,
    fewer: steps.filter((s) => s.size.width < s.part.width).length,
    bared: bared.length,
    placed: bared.filter((b) => b.placed).length,
  };
}

async function encode({ bytes, type, part, size, name }: SlimStep, strip: boolean): Promise<Uint8Array> {
  try {
    const image = sharp(bytes, { limitInputPixels: LIMITS.megapixels * 1e6 })
      .extract({ left: part.x, top: part.y, width: part.width, height: part.height })
      .resize(size.width, size.height, { fit: 'fill' })
      .keepMetadata();
    const data = await (
      type === 'png' ? image.png({ compressionLevel: 9 }) : image.jpeg({ quality: QUALITY, mozjpeg: true })
    ).toBuffer();
    return (strip && withoutPrivate(data)?.bytes) || data;
  } catch (cause) {
    throw new GableError(
      'broken-picture',
      `The picture “${name}” cannot be made smaller: it is damaged.`,
      'Hand it over without cropping and at full resolution.',
      {},
      { cause },
    );
  }
}

/** What a slimming did, in words. */
export function slimWords({ cut, fewer, bared, placed }: Omit<Slimmed, 'bytes'>): string {
  const pictures = (n: number): string => (n === 1 ? '1 picture' : `${n} pictures`);
  const words = [
    cut > 0 ? `hidden parts cut off ${pictures(cut)}` : '',
    fewer > 0 ? `fewer pixels in ${pictures(fewer)}` : '',
    bared > 0 ? `private data out of ${pictures(bared)}${placed > 0 ? ` (${placed} told a place)` : ''}` : '',
  ].filter(Boolean);
  return words.length > 0 ? words.join(', ') : 'nothing to save';
}

/** `crop,ppi=220,private` @throws GableError `bad-call` */
export function parseSlim(text: string): SlimWish {
  const wish: SlimWish = { crop: false, ppi: null, strip: false };
  for (const word of text.split(',').map((w) => w.trim())) {
    const ppi = /^ppi=(\d+)$/.exec(word)?.[1];
    if (word === 'crop') wish.crop = true;
    else if (word === 'private') wish.strip = true;
    else if (ppi && Number(ppi) >= 72 && Number(ppi) <= 1200) wish.ppi = Number(ppi);
    else
      throw new GableError(
        'bad-call',
        `“${word}” is not a way to make a file smaller.`,
        'Give --slim a list of crop, ppi=N (72 to 1200) and private, for instance crop,ppi=220.',
      );
  }
  return wish;
}

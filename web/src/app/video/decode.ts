/** Videos as the browser decodes them: what is seen of one at a time, as a picture. */
import { GableError } from '@gable/core';

/** So far into a video its picture is taken at first: many begin in black. Seconds, and a share of one that is shorter. */
const FIRST = 1;
const FIRST_SHARE = 0.25;
/** Nothing decodes this long, in milliseconds. */
const PATIENCE = 20_000;

const notVideo = (name: string): GableError =>
  new GableError('not-a-video', `“${name}” cannot be played here.`, 'Choose an MP4 or a WebM file.');

/** Waits for one of two events of a video. */
const settled = (video: HTMLVideoElement, event: string, name: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const fail = (): void => {
      reject(notVideo(name));
    };
    const late = setTimeout(fail, PATIENCE);
    video.addEventListener(
      event,
      () => {
        clearTimeout(late);
        resolve();
      },
      { once: true },
    );
    video.addEventListener('error', fail, { once: true });
  });

/**
 * What is seen of a video, as a PNG of its own size.
 * @param at in seconds; a little after its beginning where nothing is said
 * @throws GableError `not-a-video` for what the browser does not decode
 */
export async function pictureOf(address: string, name: string, at?: number): Promise<Blob> {
  const video = document.createElement('video');
  try {
    video.muted = true;
    video.preload = 'auto';
    const loaded = settled(video, 'loadeddata', name);
    video.src = address;
    await loaded;
    const time = at ?? Math.min(FIRST, video.duration * FIRST_SHARE);
    if (Number.isFinite(time) && time > 0) {
      const sought = settled(video, 'seeked', name);
      video.currentTime = time;
      await sought;
    }
    if (video.videoWidth === 0) throw notVideo(name);
    const canvas = document.createElement('canvas');
    Object.assign(canvas, { width: video.videoWidth, height: video.videoHeight });
    canvas.getContext('2d')!.drawImage(video, 0, 0);
    return await new Promise((resolve, reject) =>
      canvas.toBlob((blob) => {
        if (blob) resolve(blob);
        else reject(notVideo(name));
      }, 'image/png'),
    );
  } finally {
    // Lets go of what it holds.
    video.removeAttribute('src');
    video.load();
  }
}

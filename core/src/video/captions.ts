import { GableError } from '../errors';
import { wellFormed } from '../cut';
import { MAX_CAPTIONS } from '../model/frame';

/**
 * The text of a file of captions, as a browser takes it: WebVTT (W3C, §4.1 and §6.1).
 * @param name of the file, for the error
 * @throws GableError `not-captions`
 */
export function readCaptions(bytes: Uint8Array, name: string): string {
  const refuse = (message: string): never => {
    throw new GableError('not-captions', message, 'Choose a WebVTT file (.vtt), as captioning programs save it.', {
      name,
    });
  };
  if (bytes.length > MAX_CAPTIONS) refuse(`“${name}” has more than ${MAX_CAPTIONS / 1000} kB, too much for captions.`);
  const text = wellFormed(new TextDecoder().decode(bytes).replace(/\r\n?/g, '\n'));
  // The name of the format, alone or before a space, a tab or the end of the line.
  if (!/^WEBVTT(?:[ \t\n]|$)/.test(text)) refuse(`“${name}” is not a WebVTT file.`);
  if (cuesIn(text) === 0) refuse(`“${name}” has no captions in it.`);
  return text;
}

/** How many captions a text in WebVTT has: each has a line that says from when to when it is shown (§4.1, cue timings). */
export const cuesIn = (text: string): number => text.match(CUE)?.length ?? 0;

const TIME = String.raw`(?:\d{2,}:)?[0-5]\d:[0-5]\d\.\d{3}`;
const CUE = new RegExp(`^${TIME}[ \\t]+-->[ \\t]+${TIME}`, 'gm');

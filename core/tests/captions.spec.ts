/** What a file of captions must be: WebVTT (W3C), §4.1 (syntax), §6.1 (file parsing). Examples from there. */
import { cuesIn, readCaptions } from '../src/index';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const CUES =
  'WEBVTT\n\n00:11.000 --> 00:13.000\nWe are in New York City\n\nlast\n01:00:13.000 --> 01:00:16.000 align:start\nWe’re there\n';

test('a byte order mark and the ends of lines of other systems are those of WebVTT, too', () => {
  expect(readCaptions(bytes(`\ufeff${CUES.replaceAll('\n', '\r\n')}`), 'a.vtt')).toBe(CUES);
  expect(cuesIn(CUES)).toBe(2);
  expect(cuesIn(readCaptions(bytes(`WEBVTT - with a title\n${CUES.slice(6)}`), 'a.vtt'))).toBe(2);
});

test.each([
  ['another format', '1\n00:00:11,000 --> 00:00:13,000\nWe are in New York City\n', 'is not a WebVTT file'],
  ['another word', 'WEBVTTS\n\n00:11.000 --> 00:13.000\nA\n', 'is not a WebVTT file'],
  ['no captions', 'WEBVTT\n\nNOTE Nothing is said.\n', 'has no captions in it'],
  ['too much', `WEBVTT\n\n00:11.000 --> 00:13.000\n${'A'.repeat(200_000)}`, 'more than 200 kB'],
])('%s is refused, with what to do', (_, text, why) => {
  expect(() => readCaptions(bytes(text), 'kiln.srt')).toThrow(
    expect.objectContaining({
      code: 'not-captions',
      message: expect.stringContaining(why),
      remedy: expect.stringContaining('.vtt'),
    }),
  );
});

import fc from 'fast-check';
import path from 'node:path';
import { fileName } from '../src/http/file-name';

test.each([
  ['../../../../etc/x.docx', 'x.docx'],
  ['..\\..\\windows\\x.docx', 'x.docx'],
  ['/', 'File'],
  ['..', 'File'],
  ['', 'File'],
  ['.docx', 'docx'],
  ['con.docx', 'con_.docx'],
  ['LPT1', 'LPT1_'],
  ['a\u202excod.exe', 'axcod.exe'],
  ['nul\u0000l.pdf', 'null.pdf'],
  ['what? <this>: "x|y*".pptx', 'what this xy.pptx'],
  ['ends with dots... ', 'ends with dots'],
  ['Tag der offenen Tür.docx', 'Tag der offenen Tür.docx'],
])('%j leaves as %j', (name, safe) => {
  expect(fileName(name)).toBe(safe);
});

test('two of the same name get numbers, whatever their capitals', () => {
  const taken = new Set<string>();
  expect(['Plan.docx', 'plan.docx', 'PLAN.docx', 'Plan 2.docx'].map((n) => fileName(n, taken))).toEqual([
    'Plan.docx',
    'plan 2.docx',
    'PLAN 3.docx',
    'Plan 2 2.docx',
  ]);
});

test('a long name fits into what file systems take, whole characters of it', () => {
  const safe = fileName(`${'\u00fc\u{1f600}'.repeat(300)}.docx`);
  expect(Buffer.byteLength(safe)).toBeLessThanOrEqual(255);
  expect(safe).toMatch(/^(\u00fc\u{1f600})+\u00fc?\.docx$/u);
});

test('no name leads out of its folder, is empty, hidden or too long', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
      const safe = fileName(name);
      expect(path.basename(safe)).toBe(safe);
      expect(path.win32.basename(safe)).toBe(safe);
      expect(path.resolve('/there', safe)).toBe(`/there/${safe}`);
      expect(safe.startsWith('.')).toBe(false);
      expect(safe.length).toBeGreaterThan(0);
      // 255 bytes is what file systems take (common practice).
      expect(Buffer.byteLength(safe)).toBeLessThanOrEqual(255);
    }),
  );
});

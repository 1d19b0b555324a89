/** Fonts that ship with the program: in their families, with the look that their file says, and as many letters as are promised. */
import { readFont } from '@gable/core/silhouette';
import type { FontsSchema } from '@gable/contract';
import request from 'supertest';
import type { z } from 'zod';
import { loadStockFonts } from '../src/library/stock-fonts';
import { testServer, type TestServer } from './support/server';

let server: TestServer;
beforeAll(async () => (server = await testServer()));
afterAll(() => server.close());

const listed = async (): Promise<z.infer<typeof FontsSchema>['fonts']> =>
  ((await request(server.app).get('/api/fonts').expect(200)).body as z.infer<typeof FontsSchema>).fonts;

test('each comes once, may go into files, and has the letters of Western and Central Europe', async () => {
  await loadStockFonts(server.context);
  await loadStockFonts(server.context);
  const fonts = await listed();
  expect(fonts).toHaveLength(20);
  expect(new Set(fonts.map((f) => JSON.stringify([f.family, f.weight, f.italic]))).size).toBe(20);
  expect([...new Set(fonts.map((f) => f.family))]).toEqual([
    ...['Lora', 'Playfair Display', 'Bitter', 'Nunito', 'Oswald', 'Caveat'],
  ]);
  for (const { id, embeds, ships, family } of fonts) {
    expect([embeds, ships]).toEqual([true, true]);
    const { body } = await request(server.app).get(`/api/fonts/${id}/file`).buffer(true).expect(200);
    const font = readFont(body as Uint8Array);
    // What pangrams of German, French, Polish, Czech and Turkish need (common practice), and what office words are full of.
    for (const letter of 'AÄÖÜßéèçœŁłążęśćńřěůğışİ€„“”’–…')
      expect([family, letter, font.charToGlyphIndex(letter) > 0]).toEqual([family, letter, true]);
  }
});

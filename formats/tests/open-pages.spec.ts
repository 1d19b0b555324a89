/** Pages of OpenDocument presentations and drawings that come, go and change their places: by clauses of ODF 1.2 Part 1, by hand. */
import { targetsOf } from '@gable/core';
import { strFromU8, unzipSync } from 'fflate';
import { openFile, type PagePlan } from '../src/index';
import { buildOpen } from './support/open';

const frame = (id: string, href: string, more = ''): string =>
  `<draw:frame xml:id="${id}" draw:name="${id}" svg:x="10pt" svg:y="10pt" svg:width="30pt" svg:height="20pt"><draw:image xlink:href="${href}"/>${more}</draw:frame>`;
const ONE = `<draw:page draw:name="One" draw:style-name="dp1" draw:master-page-name="Plain">${frame('a', 'Pictures/one.png')}<draw:connector draw:start-shape="a"/></draw:page>`;
const JUMP = '<office:event-listeners><presentation:event-listener xlink:href="#One"/></office:event-listeners>';
const TWO = `<draw:page draw:name="Two" draw:master-page-name="Plain">${frame('b', 'Pictures/two.png', JUMP)}<draw:frame svg:width="9pt" svg:height="9pt"><draw:text-box><text:p>See <text:a xlink:href="#One">there</text:a>.</text:p></draw:text-box></draw:frame></draw:page>`;
const SETTINGS =
  '<presentation:settings presentation:start-page="One"><presentation:show presentation:name="Short" presentation:pages="One,Two"/></presentation:settings>';
const manifest = '<manifest:file-entry manifest:full-path="Pictures/one.png" manifest:media-type="image/png"/>';

const build = (body = ONE + TWO + SETTINGS): Promise<Uint8Array> => buildOpen({ kind: 'presentation', body, manifest });
const planned = (bytes: Uint8Array, ...plan: [page: number, as?: PagePlan['as']][]): Uint8Array =>
  openFile(bytes).withPages!(plan.map(([page, as = 'itself']) => ({ page, as }))).bytes;
const bodyOf = (bytes: Uint8Array): string =>
  /<office:presentation>(.*)<\/office:presentation>/s.exec(strFromU8(unzipSync(bytes)['content.xml']!))![1]!;

test('another order; as they are, they give the very same file', async () => {
  const file = await build();
  expect(bodyOf(planned(file, [2], [1]))).toBe(TWO + ONE + SETTINGS);
  expect(Buffer.compare(planned(file, [1], [2]), file)).toBe(0);
});

test('a copy has a name and ids of its own, by which its parts refer to each other', async () => {
  const body = bodyOf(planned(await build(), [1], [1, 'copy'], [2]));
  const copy = ONE.replace('"One"', '"One (2)"')
    .replace('xml:id="a"', 'xml:id="a-copy1"')
    .replace('start-shape="a"', 'start-shape="a-copy1"');
  expect(body).toBe(ONE + copy + TWO + SETTINGS);
  const { bytes, order } = openFile(await build()).withPages!([
    { page: 1, as: 'copy' },
    { page: 1, as: 'itself' },
    { page: 2, as: 'itself' },
  ]);
  expect(order).toEqual([null, 'p1', 'p2']);
  expect(openFile(bytes).pictures.map((p) => p.where.page)).toEqual([1, 2, 3]);
});

test('an empty one is of the same master and style', async () => {
  const body = bodyOf(planned(await build(), [1], [1, 'blank'], [2]));
  expect(body).toContain(
    `${ONE}<draw:page draw:name="One (2)" draw:style-name="dp1" draw:master-page-name="Plain"/>${TWO}`,
  );
});

test('an empty one has the rooms of its layout, empty: a title, and one for a picture', async () => {
  const title =
    '<draw:frame presentation:class="title" xml:id="t" svg:x="20pt" svg:y="5pt" svg:width="200pt" svg:height="30pt"><draw:text-box><text:p>Hello</text:p></draw:text-box></draw:frame>';
  const filled =
    '<draw:frame presentation:class="graphic" svg:x="20pt" svg:y="40pt" svg:width="90pt" svg:height="60pt"><draw:image xlink:href="Pictures/one.png"/></draw:frame>';
  const page = `<draw:page draw:name="One" draw:master-page-name="Plain">${title}${filled}${frame('a', 'Pictures/one.png')}</draw:page>`;
  const bytes = planned(await build(page), [1], [1, 'blank']);
  expect(bodyOf(bytes)).toBe(
    `${page}<draw:page draw:name="One (2)" draw:master-page-name="Plain"><draw:frame presentation:class="title" svg:x="20pt" svg:y="5pt" svg:width="200pt" svg:height="30pt" presentation:placeholder="true"><draw:text-box/></draw:frame><draw:frame presentation:class="graphic" svg:x="20pt" svg:y="40pt" svg:width="90pt" svg:height="60pt" presentation:placeholder="true"><draw:text-box/></draw:frame></draw:page>`,
  );
  const { document, pictures } = openFile(bytes);
  expect(pictures.map((p) => p.where.page)).toEqual([1, 1]);
  const awaiting = targetsOf(document, document.pages[1]!).filter(
    ({ item }) => 'awaits' in item && item.awaits === 'picture',
  );
  expect(awaiting.map((t) => t.box)).toEqual([{ x: 20, y: 40, width: 90, height: 60 }]);
});

test('with a page go its links, its place in shows, and the data that it alone has shown', async () => {
  const after = planned(await build(), [2]);
  const body = bodyOf(after);
  expect(body).not.toContain('event-listener ');
  expect(body).toContain('<text:p>See there.</text:p>');
  expect(body).toContain(
    '<presentation:settings><presentation:show presentation:name="Short" presentation:pages="Two"/>',
  );
  const parts = unzipSync(after);
  expect(parts['Pictures/one.png']).toBeUndefined();
  expect(strFromU8(parts['META-INF/manifest.xml']!)).not.toContain('one.png');
  // What a copy shows stays.
  expect(unzipSync(planned(await build(), [2], [1, 'copy']))['Pictures/one.png']).toBeDefined();
  expect(() => planned(after)).toThrow('one page at least');
});

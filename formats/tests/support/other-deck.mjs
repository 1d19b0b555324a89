// Writes a deck to standard output as another library does it: a block, a picture, an ellipse with words over it, a table and
// a chart. It runs in a process of its own, since the library loads modules in a way that the test runner does not know.
import { createRequire } from 'node:module';
import { writeSync } from 'node:fs';

const PptxGen = createRequire(import.meta.url)('pptxgenjs');
const gen = new PptxGen();
gen.layout = 'LAYOUT_16x9';
const slide = gen.addSlide();
slide.addShape('rect', { x: 1, y: 1, w: 3, h: 2, fill: { color: '2B6A73' } });
slide.addImage({ data: `image/png;base64,${process.argv[2]}`, x: 2, y: 1.5, w: 3, h: 2 });
slide.addText('Open day', {
  shape: 'ellipse',
  x: 4,
  y: 1,
  w: 2,
  h: 1,
  fill: { color: 'F4F0E7' },
  line: { color: 'B5482A', width: 3 },
  bold: true,
  italic: true,
  fontSize: 24,
  fontFace: 'Georgia',
  color: '22302F',
  align: 'right',
  valign: 'bottom',
  rotate: 15,
});
const rows = [
  ['Glaze', 'Cone'],
  ['Celadon', '9'],
].map((row) => row.map((text) => ({ text })));
slide.addTable(rows, { x: 0.5, y: 3.5, w: 4 });
slide.addChart(gen.ChartType.bar, [{ name: 'a', labels: ['x'], values: [1] }], { x: 6, y: 3, w: 3, h: 2 });
writeSync(1, await gen.write({ outputType: 'nodebuffer' }));

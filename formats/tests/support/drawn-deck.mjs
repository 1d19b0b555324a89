/** A deck of `pptxgenjs` with what is drawn and not edited: a table, lines, words in an oval, a chart. Written to the standard output. */
import pptxgen from 'pptxgenjs';

const deck = new pptxgen();
const slide = deck.addSlide();
slide.addTable(
  [
    [
      { text: 'Glaze', options: { bold: true, fill: { color: '2F4A4A' }, color: 'FFFFFF', align: 'center' } },
      { text: 'Fired at', options: { bold: true, fill: { color: '2F4A4A' }, color: 'FFFFFF' } },
    ],
    [{ text: 'Celadon' }, { text: '1280', options: { align: 'right', fontSize: 20, italic: true } }],
    [{ text: 'All of them', options: { colspan: 2, valign: 'bottom' } }],
  ],
  { x: 1, y: 0.5, colW: [2, 3], rowH: [0.5, 0.75, 1], border: { type: 'solid', pt: 2, color: 'B5482A' }, fontSize: 14 },
);
slide.addShape(deck.ShapeType.ellipse, { x: 6.5, y: 0.5, w: 2.5, h: 1.5, fill: { color: 'E9D8B8' } });
slide.addText('Words stay within the oval', {
  shape: deck.ShapeType.ellipse,
  ...{ x: 6.5, y: 2.2, w: 2.5, h: 1.5, fill: { color: 'D9E4DC' }, fontSize: 14, align: 'center', valign: 'middle' },
});
slide.addShape(deck.ShapeType.line, {
  ...{ x: 1, y: 3.5, w: 4, h: 0.5, flipV: true },
  line: { color: 'B5482A', width: 3, dashType: 'dash', endArrowType: 'triangle' },
});
slide.addChart(deck.ChartType.bar, [{ name: 'Pots', labels: ['May', 'June'], values: [3, 5] }], {
  ...{ x: 1, y: 4.1, w: 4, h: 1.4 },
});
process.stdout.write(Buffer.from(await deck.write({ outputType: 'nodebuffer' })));

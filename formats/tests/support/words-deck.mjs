// Words on a slide as `pptxgenjs` writes them, for tests: a library that Jest cannot load.
import PptxGenJs from 'pptxgenjs';

const deck = new PptxGenJs();
deck.defineLayout({ name: 'wide', width: 10, height: 5.625 });
deck.layout = 'wide';
const slide = deck.addSlide();
slide.addText(
  [
    { text: 'Open', options: { bold: true } },
    { text: ' day', options: { italic: true, underline: { style: 'sng' } } },
  ],
  {
    x: 1.25,
    y: 0.5,
    w: 4,
    h: 1.5,
    align: 'center',
    valign: 'bottom',
    fontSize: 28,
    fontFace: 'Georgia',
    color: 'B5482A',
  },
);
slide.addText(
  ['Wheels', 'Kilns'].map((text) => ({ text, options: { bullet: true, breakLine: true } })),
  { x: 1, y: 3, w: 4, h: 1, fontSize: 14 },
);
slide.addText(
  ['First', 'Second'].map((text) => ({ text, options: { bullet: { type: 'number' }, breakLine: true } })),
  { x: 6, y: 3, w: 3, h: 1, fontSize: 14 },
);
process.stdout.write(await deck.write({ outputType: 'nodebuffer' }));

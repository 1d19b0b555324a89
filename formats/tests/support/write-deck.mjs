// Writes a deck with a library of others to standard output; it needs dynamic imports, which Jest has not.
// The picture comes as base64 in the first argument.
import PptxGenJs from 'pptxgenjs';

const data = `data:image/png;base64,${process.argv[2]}`;
const deck = new PptxGenJs();
const one = deck.addSlide();
one.addImage({ data, x: 1, y: 0.5, w: 3, h: 2, altText: 'Six by four' });
one.addImage({ data, x: 5, y: 0.5, w: 2, h: 2, rounding: true });
deck.addSlide().addImage({ data, x: 1, y: 1, w: 3, h: 2, sizing: { type: 'cover', w: 2, h: 2 }, rotate: 15 });
process.stdout.write(await deck.write({ outputType: 'nodebuffer' }));

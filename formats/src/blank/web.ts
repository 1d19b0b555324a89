import { trimNumber } from '@gable/core';
import { PIXEL } from '../css/lengths';
import { XML, type BlankPage } from './parts';

const px = (points: number): string => trimNumber(points / PIXEL, 3);
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** A drawing of the page's size in pixels of CSS (SVG 2 §5.1). */
export function blankSvg({ size, ground }: BlankPage): Uint8Array {
  const [width, height] = [px(size.width), px(size.height)];
  const rect = ground ? `<rect width="${width}" height="${height}" fill="${ground}"/>` : '';
  return bytes(
    `${XML.replace(' standalone="yes"', '')}<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${rect}</svg>\n`,
  );
}

/** A page whose text is no wider than the size says. */
export function blankHtml({ size, ground }: BlankPage): Uint8Array {
  const body = `margin: 0 auto; padding: 24px; max-width: ${px(size.width)}px; font-family: sans-serif;`;
  return bytes(
    `<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<meta name="viewport" content="width=device-width">\n<title>Page</title>\n<style>\nhtml { background: ${ground ?? '#ffffff'}; }\nbody { ${body} }\nimg { max-width: 100%; }\n</style>\n</head>\n<body>\n</body>\n</html>\n`,
  );
}

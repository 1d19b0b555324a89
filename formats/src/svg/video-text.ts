/** A page in a drawing (SVG 2 §12.4, foreignObject); readers that show none take what comes behind it (§5.8.2, switch). */
export const XHTML = 'http://www.w3.org/1999/xhtml';

/** The markup of a frame without the video that stands in the place of its image: its data come in last, and are not known before. */
export const withoutVideo = (markup: string): string =>
  markup.replace(
    /<(\w+:)?switch><(?:\w+:)?foreignObject\b[^>]*><video\b[\s\S]*?<\/(?:\w+:)?foreignObject>([\s\S]*?)<\/(?:\w+:)?switch>/,
    '$2',
  );

/**
 * Shapes of the author's own: from a drawing, a picture or letters. Apart from the rest, since it needs readers of SVG and
 * of fonts that painting never does.
 */
export { type Silhouette } from './silhouette';
export { silhouetteFromSvg } from './svg';
export { silhouetteFromPixels } from './trace';
export { fontFacts, readFont, type FontFacts } from './font';
export { alongShape, type Along } from './along';
export { letterShape } from './letters';
export { outlinedWords, runsIn } from './outlines';
export { NOT_DRAWN, outlineOf, readTransform, svgLength } from './svg';

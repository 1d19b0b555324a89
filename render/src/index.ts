// Pictures decoded, painted and encoded outside a browser: sharp decodes and scales, a Skia canvas paints.
export { PNG, sharpOf, surfaceOf, toCanvas } from './canvas';
export { decode, decodeSmall, proxy, toned } from './decode';
export { encode, outputType, outputTypeOf, type OutputType } from './encode';
export { onWholePixels, renderFrame } from './frame';
export { htmlPieces, joined, svgPieces } from './markup';
export { makeSet, type SetWish } from './picture-set';
export { fontFile, plainFont, registerOwnFont, type PlainFont } from './own-font';
export type { Original } from './original';
export { fidelityOf, saveRasterised, storable, type Fidelity, type FontsOf } from './rasterise';
export { forScreens, screensWords, type ScreensWish } from './screens';
export { silhouetteFrom } from './silhouette';
export { parseSlim, slim, slimWords } from './slim';

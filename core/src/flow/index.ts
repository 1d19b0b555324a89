// What the pages of texts are laid out by, for a frame that needs nothing else of this library.
export * from './fonts';
export * from './layout';
export * from './stretches';

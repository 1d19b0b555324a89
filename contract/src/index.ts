// What server and screens agree on: every request and answer as a Zod schema, and its type.
export * from './common';
export * from './finishes';
export * from './jobs';
export * from './fonts';
export * from './palettes';
export * from './pictures';
export * from './works';

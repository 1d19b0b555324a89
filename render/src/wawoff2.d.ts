declare module 'wawoff2' {
  /** A WOFF2 file as the font that it packs. */
  export function decompress(bytes: Uint8Array): Promise<Uint8Array>;
}

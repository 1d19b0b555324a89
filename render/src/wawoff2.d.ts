declare module 'wawoff2' {
  export function compress(bytes: Uint8Array): Promise<Uint8Array>;
  /** A WOFF2 file as the font that it packs. */
  export function decompress(bytes: Uint8Array): Promise<Uint8Array>;
}

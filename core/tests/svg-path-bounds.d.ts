declare module 'svg-path-bounds' {
  /** @returns left, top, right, bottom */
  export default function bounds(path: string): [number, number, number, number];
}
declare module 'clipper-lib';

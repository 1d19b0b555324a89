let measuring: OffscreenCanvasRenderingContext2D | null = null;
/** What words are measured with. */
export const measure = (): OffscreenCanvasRenderingContext2D =>
  (measuring ??= new OffscreenCanvas(1, 1).getContext('2d')!);

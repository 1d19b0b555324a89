import type { FrameFidelity } from '@gable/contract';

/** What is painted into pixels, and what of the frame can still be edited afterwards. */
export function fidelityWords({ fidelity, reasons }: FrameFidelity): string {
  const list = reasons.length > 1 ? `${reasons.slice(0, -1).join(', ')} and ${reasons.at(-1)}` : (reasons[0] ?? '');
  return fidelity === 'rasterised-fill'
    ? `${list}. Shape, outline and shadow stay editable.`
    : `${list}. The frame becomes one plain picture.`;
}

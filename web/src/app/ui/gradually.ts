import { afterRenderEffect, signal, type Signal } from '@angular/core';

/** How many of a long row are on the page: the first at once, the rest frame by frame, so that no frame waits for them. */
export interface Gradually {
  count: Signal<number>;
  /** From the beginning, with at least so many at once. */
  again(least?: number): void;
  /** All of them, now. */
  all(): void;
}

/** @param length how many there are; 0 while they are not wanted */
export function gradually(length: () => number, first: number, more: number): Gradually {
  const count = signal(first);
  afterRenderEffect(() => {
    const most = length();
    const now = count();
    if (now < most) requestAnimationFrame(() => count.set(Math.min(most, now + more)));
  });
  return {
    count,
    again: (least = 0) => count.set(Math.max(first, least)),
    all: () => count.set(Math.max(count(), length())),
  };
}

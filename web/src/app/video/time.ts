/** A time in a video: `1:05`, or `0:04.3` where it is short. */
export function shownTime(seconds: number): string {
  const whole = Math.floor(seconds);
  const rest = `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
  return seconds < 60 ? `${rest}.${Math.floor((seconds - whole) * 10 + 1e-6)}` : rest;
}

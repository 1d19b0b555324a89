/** Lets an upright wheel move a row that runs on sideways. */
export function scrollSideways(event: WheelEvent): void {
  const row = event.currentTarget as HTMLElement;
  if (Math.abs(event.deltaX) > Math.abs(event.deltaY) || row.scrollWidth <= row.clientWidth) return;
  event.preventDefault();
  row.scrollLeft += event.deltaY;
}

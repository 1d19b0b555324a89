/** What is not shown keeps its room, and a plate says there what it is. */

const STYLE =
  'position:absolute;display:flex;align-items:center;justify-content:center;box-sizing:border-box;overflow:hidden;' +
  'background:#e9e4d8;color:#5a6560;font:13px/1.3 sans-serif;z-index:2147483000;margin:0;padding:4px;text-align:center';
/** Less wide or high than this there is no room for words, in CSS pixels. */
const LEAST = 12;

/** Lays plates over all that bears their words, anew as often as the page is measured. */
export function showPlates(): void {
  for (const old of document.querySelectorAll('[data-laid]')) old.remove();
  for (const e of document.querySelectorAll<HTMLElement>('[data-plate]')) {
    const { left, top, width, height } = e.getBoundingClientRect();
    if (width < LEAST || height < LEAST) continue;
    const plate = document.createElement('div');
    plate.style.cssText = `${STYLE};left:${left + window.scrollX}px;top:${top + window.scrollY}px;width:${width}px;height:${height}px`;
    plate.textContent = e.dataset['plate'] ?? '';
    plate.dataset['laid'] = '';
    document.documentElement.append(plate);
  }
}

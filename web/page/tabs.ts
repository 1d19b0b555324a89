/** Stops of a paragraph: how far from the edge of its column, how what follows is aligned there, and what leads to it. */
interface Stops {
  stops: readonly (readonly [at: number, align: string, leader: string])[];
  /** From one to the next behind the last of these. */
  every: number;
}

const PX = 4 / 3;
const LEADERS: Readonly<Record<string, string>> = {
  dot: 'dotted',
  middleDot: 'dotted',
  hyphen: 'dashed',
  underscore: 'solid',
};

/** Makes the tabs of a paragraph as wide as its stops ask (ISO/IEC 29500-1 §17.3.1.38): one after another, since each moves the next. */
export function layTabs(paragraph: HTMLElement): void {
  const { stops, every } = JSON.parse(paragraph.dataset['tabs']!) as Stops;
  const tabs = [...paragraph.querySelectorAll<HTMLElement>('[data-tab]')];
  const column = paragraph.parentElement!.getBoundingClientRect();
  const room = column.width / PX;
  for (const [i, tab] of tabs.entries()) {
    tab.style.width = '0';
    const from = (tab.getBoundingClientRect().left - column.left) / PX;
    const own = tab.dataset['tab'];
    // One of its own alignment counts from the margins (§17.3.3.23, ptab).
    const stop =
      own === 'right'
        ? ([room, 'right', 'none'] as const)
        : own === 'center'
          ? ([room / 2, 'center', 'none'] as const)
          : (stops.find(([at]) => at > from + 0.5) ??
            ([(Math.floor(from / every + 0.02) + 1) * every, 'left', 'none'] as const));
    const [at, align, leader] = stop;
    const behind =
      align === 'left' || align === 'start' || align === 'num' ? 0 : widthBehind(paragraph, tab, tabs[i + 1], align);
    tab.style.width = `${Math.max(1, at - from - behind)}pt`;
    const drawn = LEADERS[leader];
    if (drawn) tab.style.borderBottom = `.75pt ${drawn} currentColor`;
  }
}

/** How much of what follows a tab stands before its stop. Points. */
function widthBehind(paragraph: HTMLElement, tab: Element, next: Element | undefined, align: string): number {
  const range = document.createRange();
  range.setStartAfter(tab);
  if (next) range.setEndBefore(next);
  else range.setEndAfter(paragraph.lastChild!);
  if (align === 'decimal') {
    const text = range.toString();
    const point = text.search(/[.,]\d*\D*$/);
    const all = range.getBoundingClientRect().width / PX;
    return point < 0 ? all : (all * point) / text.length;
  }
  const width = range.getBoundingClientRect().width / PX;
  return align === 'center' ? width / 2 : width;
}

let asked = false;

/** The fonts that words of slides and sheets are set in: fetched once pages are shown, each when a word needs it. */
export function needFonts(): void {
  if (asked) return;
  asked = true;
  const link = document.createElement('link');
  link.rel = 'stylesheet';
  link.href = '/page/fonts.css';
  document.head.append(link);
}

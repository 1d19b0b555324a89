import { isTyping } from '../intake/files';

/** Keys that are typed before there is a field for them: they are kept for it. */
export class TypedAhead {
  private words = '';

  /** @param isAwaited is a field on its way? @param done the author ended typing before it came */
  constructor(
    private readonly isAwaited: () => boolean,
    private readonly done: () => void,
  ) {}

  /** @returns what ends it */
  listen(target: EventTarget): () => void {
    const heard = (event: Event): void => this.heard(event as KeyboardEvent);
    target.addEventListener('keydown', heard, true);
    return () => target.removeEventListener('keydown', heard, true);
  }

  /** What was typed until now: whoever takes it has it alone. */
  take(): string {
    const { words } = this;
    this.words = '';
    return words;
  }

  private heard(event: KeyboardEvent): void {
    const { key, target } = event;
    if (event.ctrlKey || event.metaKey || event.altKey || !this.isAwaited()) return;
    if (isTyping(target)) return;
    if (key === 'Escape') this.done();
    else if (key === 'Backspace') this.words = [...this.words].slice(0, -1).join('');
    else if (key === 'Enter') this.words += '\n';
    else if ([...key].length === 1) this.words += key;
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

import { Injectable, signal } from '@angular/core';
import { remember, remembered } from './remembered';

const NAME = 'gable.colours-recent';
const MOST = 9;

/** Colours that were chosen lately, the latest first. */
@Injectable({ providedIn: 'root' })
export class RecentColours {
  private readonly list = signal<readonly string[]>(known());
  readonly all = this.list.asReadonly();

  add(colour: string): void {
    const next = [colour, ...this.list().filter((c) => c !== colour)].slice(0, MOST);
    this.list.set(next);
    remember(NAME, next);
  }
}

function known(): string[] {
  const list = remembered(NAME);
  return Array.isArray(list) ? list.filter((c) => /^#[0-9a-f]{6}$/.test(String(c))) : [];
}

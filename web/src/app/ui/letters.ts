import { Injectable, signal } from '@angular/core';
import { remember, remembered } from './remembered';

const NAME = 'gable.letters-off';

/** Do single letters and digits do things? Those whose voice or another program types for them switch it off. */
@Injectable({ providedIn: 'root' })
export class Letters {
  private readonly are = signal(remembered(NAME) === null);
  readonly on = this.are.asReadonly();

  set(on: boolean): void {
    this.are.set(on);
    remember(NAME, on ? null : true);
  }
}

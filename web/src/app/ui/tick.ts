import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** Something that is on or off. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-tick',
  template: `<label class="flex items-center justify-between gap-3"
    ><span class="text-soft">{{ label() }}</span
    ><input type="checkbox" class="tick" [checked]="on()" (change)="changed.emit(!on())"
  /></label>`,
  host: { class: 'block' },
})
export class Tick {
  readonly label = input.required<string>();
  readonly on = input.required<boolean>();
  readonly changed = output<boolean>();
}

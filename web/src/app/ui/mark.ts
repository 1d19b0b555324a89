import { ChangeDetectionStrategy, Component } from '@angular/core';

/** The sign of the house: a gable with its round window. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-mark',
  template: `<svg
    width="30"
    height="30"
    viewBox="0 0 32 32"
    fill="none"
    stroke="currentColor"
    stroke-width="2.6"
    stroke-linejoin="round"
    stroke-linecap="round"
    aria-hidden="true"
  >
    <path d="M3.5 15.5 16 4.5l12.5 11" />
    <path d="M7 13v14h18V13" />
    <circle cx="16" cy="19.5" r="3.5" class="fill-mark" stroke="none" />
  </svg>`,
  host: { class: 'inline-flex text-ink' },
})
export class Mark {}

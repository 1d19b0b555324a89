import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Player } from './player';

/** Plays the video of the chosen picture, or what moves in it, where it stands. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-transport',
  template: `@if (player.plays()) {
    <button type="button" class="quiet shrink-0" title="Space, on the board" (click)="player.toggle()">
      {{ player.playing() ? 'Pause' : 'Play' }}
    </button>
  }`,
  host: { class: 'contents' },
})
export class Transport {
  protected readonly player = inject(Player);
}

import { CdkConnectedOverlay, CdkOverlayOrigin, type ConnectedPosition } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, signal } from '@angular/core';

/** Above the button, where there is more room than below it. */
const ABOVE: ConnectedPosition[] = [
  { originX: 'end', originY: 'top', overlayX: 'end', overlayY: 'bottom', offsetY: -6 },
  { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top', offsetY: 6 },
];

/** Settings that few people need, behind a button that says so. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-more',
  imports: [CdkConnectedOverlay, CdkOverlayOrigin],
  template: `<button
      type="button"
      class="word text-[13px]"
      cdkOverlayOrigin
      #origin="cdkOverlayOrigin"
      aria-haspopup="dialog"
      [attr.aria-expanded]="open()"
      (click)="open.set(!open())"
    >
      More …
    </button>
    <ng-template
      cdkConnectedOverlay
      [cdkConnectedOverlayOrigin]="origin"
      [cdkConnectedOverlayOpen]="open()"
      [cdkConnectedOverlayPositions]="positions"
      (overlayOutsideClick)="open.set(false)"
      (detach)="open.set(false)"
    >
      <div class="pop w-[276px]" role="dialog" aria-label="More settings"><ng-content /></div>
    </ng-template>`,
  host: { class: 'flex justify-end' },
})
export class More {
  protected readonly open = signal(false);
  protected readonly positions = ABOVE;
}

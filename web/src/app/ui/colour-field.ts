import { CdkConnectedOverlay, CdkOverlayOrigin, type ConnectedPosition } from '@angular/cdk/overlay';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  CUSTOM_ELEMENTS_SCHEMA,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { GableError, parseColour } from '@gable/core';
import { PaletteList } from '../library/palette-list';
import { Icon } from './icon';
import { RecentColours } from './recent-colours';
import { Swatches, type Swatch } from './swatches';

/** Black, white and what lies between, before all others. */
const NEUTRALS: readonly Swatch[] = [
  { name: 'White', hex: '#ffffff' },
  { name: 'Light grey', hex: '#d3d3d3' },
  { name: 'Grey', hex: '#808080' },
  { name: 'Black', hex: '#000000' },
];
/** The house's own: clays and glazes. */
const HOUSE: readonly Swatch[] = [
  { name: 'Stone', hex: '#9a958a' },
  { name: 'Ink', hex: '#22302f' },
  { name: 'Clay', hex: '#b5482a' },
  { name: 'Ochre', hex: '#c28a2c' },
  { name: 'Moss', hex: '#5c7350' },
  { name: 'Lagoon', hex: '#2b6a73' },
  { name: 'Plum', hex: '#6d3b52' },
  { name: 'Paper', hex: '#f4f0e7' },
];
const IN_ROW = 5;

const POSITIONS: ConnectedPosition[] = [
  { originX: 'end', originY: 'top', overlayX: 'end', overlayY: 'bottom', offsetY: -6 },
  { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top', offsetY: 6 },
];

/** Browsers that can take a colour from anywhere on the screen. */
interface EyeDropper {
  open(): Promise<{ sRGBHex: string }>;
}

/** A colour, wherever one is chosen: by a click, by name or number, from the picker, or from the screen. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-colour-field',
  imports: [CdkConnectedOverlay, CdkOverlayOrigin, Icon, PaletteList, Swatches],
  schemas: [CUSTOM_ELEMENTS_SCHEMA],
  template: `<div class="relative flex h-[30px] items-center gap-1.5">
      <label class="flex min-w-0 grow items-center justify-between gap-2">
        <span class="text-soft">{{ label() }}</span>
        <input
          #field
          class="entry w-[5.25rem]"
          type="text"
          autocomplete="off"
          spellcheck="false"
          [value]="value() ?? ''"
          [placeholder]="optional() ? 'none' : ''"
          [attr.aria-invalid]="note() !== null || null"
          [attr.aria-describedby]="note() ? id : null"
          (focus)="field.select()"
          (input)="note.set(null)"
          (keydown.enter)="take(field.value)"
          (change)="take(field.value)"
        />
      </label>
      @if (optional() && value()) {
        <button
          type="button"
          class="quiet px-1"
          [attr.aria-label]="'No ' + label().toLowerCase()"
          title="None"
          (click)="cleared.emit()"
        >
          <gable-icon name="close" [size]="14" />
        </button>
      }
      <button
        type="button"
        class="flex h-6 items-center gap-0.5 rounded-md border border-line bg-raised px-1"
        cdkOverlayOrigin
        #origin="cdkOverlayOrigin"
        aria-haspopup="dialog"
        [attr.aria-expanded]="open()"
        [attr.aria-label]="label() + ': more colours'"
        title="More colours"
        (click)="toggle()"
      >
        <span
          class="h-4 w-4 rounded-sm border border-ink/30"
          [class.checks]="value() === null"
          [style.background]="value()"
        ></span>
        <gable-icon name="down" [size]="13" />
      </button>
      @if (note(); as words) {
        <p role="alert" class="field-note" [id]="id">{{ words }}</p>
      }
    </div>
    @if (!compact()) {
      <gable-swatches
        class="h-[30px] flex-nowrap overflow-hidden"
        [label]="label() + 's'"
        [colours]="row()"
        [value]="value()"
        (chosen)="choose($event)"
      />
    }
    <ng-template
      cdkConnectedOverlay
      [cdkConnectedOverlayOrigin]="origin"
      [cdkConnectedOverlayOpen]="open()"
      [cdkConnectedOverlayPositions]="positions"
      (overlayOutsideClick)="close()"
      (detach)="close()"
    >
      <div
        class="pop flex max-h-[92vh] w-[290px] flex-col gap-3 overflow-y-auto"
        role="dialog"
        [attr.aria-label]="label() + ': more colours'"
      >
        <hex-color-picker
          class="w-full"
          [attr.color]="value() ?? '#808080'"
          (pointerdown)="grabbed.emit()"
          (color-changed)="picked($event)"
        ></hex-color-picker>
        @if (dropper) {
          <button type="button" class="act act-line h-8 self-start" (click)="drop()">
            <gable-icon name="dropper" [size]="15" />Take from the screen
          </button>
        }
        @for (g of groups(); track g.name) {
          <section>
            <h3 class="mb-1 font-text text-[12.5px] font-normal text-soft">{{ g.name }}</h3>
            <gable-swatches [label]="g.name" [colours]="g.colours" [value]="value()" (chosen)="choose($event)" />
          </section>
        }
        <section>
          <h3 class="mb-1 font-text text-[12.5px] font-normal text-soft">Your palettes</h3>
          <gable-palette-list [value]="value()" (chosen)="choose($event)" />
        </section>
      </div>
    </ng-template>`,
  host: { class: 'block', '[class.row-span-2]': '!compact()' },
})
export class ColourField {
  private static made = 0;
  protected readonly id = `colour-note-${ColourField.made++}`;
  private readonly recent = inject(RecentColours);
  readonly label = input.required<string>();
  readonly value = input.required<string | null>();
  /** Colours of the picture, and of what else lies on the pages. */
  readonly picture = input<readonly string[]>([]);
  readonly document = input<readonly string[]>([]);
  /** One row: the colours themselves are in the panel alone. */
  readonly compact = input(false);
  /** May there be none? */
  readonly optional = input(false);
  readonly changed = output<string>();
  readonly cleared = output();
  /** A new gesture begins: all until the next one is one entry of the history. */
  readonly grabbed = output();
  protected readonly positions = POSITIONS;
  protected readonly open = signal(false);
  protected readonly note = signal<string | null>(null);
  protected readonly dropper = 'EyeDropper' in window;
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');

  private named(list: readonly string[], where: string): Swatch[] {
    return list.map((hex) => ({ hex, name: `${where}: ${hex}` }));
  }

  protected readonly row = computed((): readonly Swatch[] => [
    ...NEUTRALS,
    ...this.named(this.picture().slice(0, IN_ROW), 'In the picture'),
  ]);
  protected readonly groups = computed(() =>
    [
      { name: 'Black to white', colours: NEUTRALS },
      { name: 'In the picture', colours: this.named(this.picture(), 'In the picture') },
      { name: 'In the document', colours: this.named(this.document(), 'In the document') },
      { name: 'Recent', colours: this.named(this.recent.all(), 'Recent') },
      { name: 'Clays and glazes', colours: HOUSE },
    ].filter((g) => g.colours.length > 0),
  );

  protected toggle(): void {
    // The picker comes when it is first wanted.
    void import('vanilla-colorful/hex-color-picker.js');
    if (this.open()) this.close();
    else this.open.set(true);
  }

  protected close(): void {
    if (!this.open()) return;
    this.open.set(false);
    const now = this.value();
    if (now) this.recent.add(now);
  }

  protected choose(colour: string): void {
    this.grabbed.emit();
    this.recent.add(colour);
    this.note.set(null);
    if (colour !== this.value()) this.changed.emit(colour);
  }

  protected picked(event: Event): void {
    const { value } = (event as CustomEvent<{ value: string }>).detail;
    if (value !== this.value()) this.changed.emit(value);
  }

  protected async drop(): Promise<void> {
    const made = new (window as unknown as { EyeDropper: new () => EyeDropper }).EyeDropper();
    const found = await made.open().catch(() => null);
    if (found) this.choose(parseColour(found.sRGBHex));
  }

  protected take(text: string): void {
    const before = this.value() ?? '';
    if (text === before) return;
    if (this.optional() && /^(none)?$/i.test(text.trim())) {
      this.cleared.emit();
      return;
    }
    try {
      const colour = parseColour(text);
      this.choose(colour);
      this.field().nativeElement.value = colour;
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      this.note.set(error.remedy);
    }
  }
}

import { Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import {
  channels,
  deriveView,
  findShape,
  freed,
  GableError,
  parseColour,
  solidOutline,
  withSize,
  type Frame,
  type Knob,
  type Outline,
} from '@gable/core';
import { FigureField } from '../ui/figure-field';
import { pictureOf, shownFrame, takenFrame } from './bench-model';
import { BenchState } from './bench-state';
import { OUTLINE_COLOURS } from './tries';

/** The knobs of the current step: every number can be read and typed. */
@Component({
  selector: 'gable-knobs',
  imports: [FigureField],
  templateUrl: './knobs.html',
  host: { class: 'block w-[264px] shrink-0 overflow-y-auto border-l border-line pl-5 pr-1' },
})
export class Knobs {
  protected readonly state = inject(BenchState);
  protected readonly colours = OUTLINE_COLOURS;
  private readonly model = toSignal(this.state.model$, { initialValue: null });
  protected readonly step = toSignal(this.state.step$, { initialValue: 'shape' as const });
  private slides = 0;

  protected readonly frame = computed(() => {
    const m = this.model();
    return m && shownFrame(m);
  });
  protected readonly size = computed(() => {
    const m = this.model();
    return m ? pictureOf(m, m.selected).size : { width: 1, height: 1 };
  });
  protected readonly changed = computed(() => {
    const m = this.model();
    return m ? String(m.selected) in m.frames : false;
  });
  protected readonly shape = computed(() => findShape(this.frame()?.shape.name ?? ''));
  protected readonly shapeLabel = computed(() => this.shape()?.label ?? 'The file’s own shape');
  protected readonly view = computed(() => {
    const f = this.frame();
    return f && deriveView(f.placement, f.box, this.size()).placement;
  });
  protected readonly solid = computed(() => {
    const paint = this.frame()?.outline?.paint;
    return paint?.kind === 'solid' ? paint.colour : null;
  });

  private taken(): Frame | null {
    const m = this.model();
    return m && takenFrame(m);
  }

  /** A new gesture for a slider: everything until it is let go is one deed. */
  protected grab(): void {
    this.slides++;
  }

  private slide(name: string, frame: Frame): void {
    this.state.take(name, frame, `slide-${name}-${this.slides}`);
  }

  protected resize(side: 'width' | 'height', value: number): void {
    const f = this.taken();
    if (!f) return;
    const locked = this.shape()?.locked;
    const next = { width: f.box.width, height: f.box.height, [side]: value };
    if (locked) next[side === 'width' ? 'height' : 'width'] = side === 'width' ? value / locked : value * locked;
    const sized = withSize(f, next, this.size(), 'zoom');
    this.state.take('size', { ...sized, shape: freed(sized.shape, sized.box) });
  }

  protected knobValue(knob: Knob): number {
    return this.frame()?.shape.knobs[knob.name] ?? knob.default;
  }

  protected turnKnob(knob: Knob, value: number): void {
    const f = this.taken();
    if (f)
      this.slide(knob.label.toLowerCase(), {
        ...f,
        shape: { ...f.shape, knobs: { ...f.shape.knobs, [knob.name]: value } },
      });
  }

  protected aim(axis: 'u' | 'v', value: number): void {
    const f = this.taken();
    if (!f) return;
    const now = deriveView(f.placement, f.box, this.size()).placement;
    this.slide('aim', { ...f, placement: { ...f.placement, aim: { ...now.aim, [axis]: value } } });
  }

  protected zoom(value: number): void {
    const f = this.taken();
    if (f) this.slide('zoom', { ...f, placement: { ...f.placement, zoom: value } });
  }

  /** Zoom feels even when a slider moves it by doubling. */
  protected zoomSlide(position: number): void {
    this.zoom(2 ** position);
  }

  protected readonly log2 = Math.log2;

  protected weigh(value: number): void {
    const f = this.taken();
    if (!f) return;
    const outline: Outline | null =
      value <= 0 ? null : { ...(f.outline ?? solidOutline(value, '#ffffff')), weight: value };
    this.slide('outline weight', { ...f, outline });
  }

  protected colour(text: string, field?: HTMLInputElement): void {
    const f = this.taken();
    if (!f) return;
    try {
      const colour = parseColour(text);
      const opacity = f.outline?.paint.kind === 'solid' ? f.outline.paint.opacity : 1;
      const outline: Outline = { ...(f.outline ?? solidOutline(4, colour)), paint: { kind: 'solid', colour, opacity } };
      this.state.take('outline colour', { ...f, outline });
      field?.removeAttribute('aria-invalid');
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      field?.setAttribute('aria-invalid', 'true');
    }
  }

  /** Ink or paper for the tick on a swatch, whichever reads. */
  protected tick(hex: string): string {
    const [r, g, b] = channels(hex);
    return r * 0.299 + g * 0.587 + b * 0.114 > 150 ? '#22302f' : '#ffffff';
  }
}

import { computed, inject, Injectable, signal } from '@angular/core';
import { deriveView, type Frame, type Placement, type Size } from '@gable/core';
import { Images } from '../work/images';
import { isChanged, keyOf, pictureOf, problemOf, shownFrame, sizeOf, takenFrame } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { STEP_LIST } from './steps/step';

/** The selected frame, and ways to change it: what the knobs of every step and the board share. */
@Injectable()
export class Edit {
  private readonly state = inject(WorkStore);
  private readonly images = inject(Images);
  private gestures = 0;

  /** The frame to show: a try that is being looked at comes first. */
  readonly shown = computed((): Frame | null => {
    const m = this.state.model();
    return m && pictureOf(m, m.selected) ? shownFrame(m) : null;
  });
  readonly taken = computed((): Frame | null => {
    const m = this.state.model();
    return m && pictureOf(m, m.selected) ? takenFrame(m) : null;
  });
  readonly picture = computed(() => {
    const m = this.state.model();
    return m ? (pictureOf(m, m.selected) ?? null) : null;
  });
  readonly size = computed((): Size => {
    const p = this.picture();
    const f = this.shown();
    return p && f ? sizeOf(p, f) : { width: 1, height: 1 };
  });
  readonly problem = computed(() => {
    const p = this.picture();
    const f = this.shown();
    return p && f ? problemOf(p, f) : null;
  });
  readonly key = computed(() => {
    const m = this.state.model();
    const f = this.shown();
    return m && f ? keyOf(m.work, f) : '';
  });
  readonly seen = computed(() => this.images.seen()[this.key()]);
  readonly palette = computed((): readonly string[] => this.seen()?.palette ?? []);
  /** The placement as it is shown. */
  readonly view = computed((): Placement | null => {
    const f = this.shown();
    return f && deriveView(f.placement, f.box, this.size()).placement;
  });
  private readonly steps = inject(STEP_LIST);
  private readonly current = signal(this.steps[0]!);
  /** The step that is being worked on. */
  readonly step = this.current.asReadonly();

  readonly changed = computed(() => {
    const m = this.state.model();
    return m !== null && isChanged(m);
  });
  readonly stepChanged = computed(() => {
    const f = this.taken();
    const p = this.picture();
    return f && p ? this.step().changed(f, p.frame) : false;
  });

  /** A new gesture begins: all until the next one is one entry. */
  grab(): void {
    this.gestures++;
  }

  /** Changes the taken frame; with the last gesture, where one is under way. */
  slide(name: string, change: (frame: Frame) => Frame): void {
    const f = this.taken();
    if (f) this.state.take(name, change(f), `slide-${name}-${this.gestures}`);
  }

  /** Changes the taken frame as an entry of its own. */
  set(name: string, change: (frame: Frame) => Frame): void {
    const f = this.taken();
    if (f) this.state.take(name, change(f));
  }

  /** Goes to a step; what is only looked at is put away. */
  go(name: string): void {
    const step = this.steps.find((s) => s.name === name);
    if (!step || step === this.step()) return;
    this.state.preview(null);
    this.current.set(step);
  }

  /** Puts one step back as it came. */
  stepBack(): void {
    const p = this.picture();
    const step = this.step();
    if (p) this.set(`${step.name} put back`, (f) => step.reset(f, p.frame));
  }
}

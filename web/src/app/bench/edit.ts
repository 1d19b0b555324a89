import { computed, inject, Injectable, linkedSignal, signal } from '@angular/core';
import {
  coloursOf,
  deriveView,
  equal,
  itemIdOf,
  oversteppingAt,
  pictureOffset,
  type Frame,
  type Placement,
  type Size,
  withOverstep,
  withPictureOffset,
} from '@gable/core';
import { Images } from '../work/images';
import { isChanged, keyOf, pictureOf, problemOf, shownFrame, sizeOf, takenFrame } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { resized } from './resize';
import { STEP_LIST } from './steps/step';

/** What says the same is the same: what is made of it is not made anew. */
const STABLE = { equal: (a: unknown, b: unknown): boolean => equal(a, b) };
const NO_COLOURS: readonly string[] = [];

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
  /** Is the chosen picture neither moved, sized nor deleted by hand? */
  readonly locked = computed(() => {
    const m = this.state.model();
    const p = this.picture();
    return !!m && !!p && m.document.items[itemIdOf(p)]?.locked === true;
  });
  readonly size = computed((): Size => {
    const p = this.picture();
    const f = this.shown();
    return p && f ? sizeOf(p, f) : { width: 1, height: 1 };
  }, STABLE);
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
  /** Outlines of subjects that were cut out here, by the painter's key: one that is taken away is known still. */
  private readonly cutOut = signal<Readonly<Record<string, string>>>({});
  /** The outline of the subject of the taken frame, in shares of its picture; null where it was not cut out. */
  readonly subject = computed(() => this.taken()?.overstep?.subject ?? this.cutOut()[this.key()] ?? null);
  readonly seen = computed(() => this.images.seen()[this.key()]);
  readonly palette = computed((): readonly string[] => this.seen()?.palette ?? NO_COLOURS);
  /** Colours of what lies on the pages, those most used first. */
  readonly colours = computed((): readonly string[] => coloursOf(this.state.model()?.file ?? { items: {} }));
  /** Do width and height keep their ratio when one is set? */
  readonly linked = signal(true);
  /** How many pages of a fixed size there are. */
  readonly pages = computed(() => this.state.model()?.work.sheets?.length ?? 0);
  /** What a page is called in this work. */
  readonly pageName = computed(() => {
    const work = this.state.model()?.work;
    if (work?.begun) return work.begun === 'slides' ? 'Slide' : 'Page';
    const format = work?.format;
    return format === 'pptx' || format === 'odp'
      ? 'Slide'
      : format === 'xlsx' || format === 'ods'
        ? 'Sheet'
        : format === 'svg' || format === 'odg'
          ? 'Drawing'
          : 'Page';
  });
  /** The page that is seen: that of the chosen picture, where it lies on one, until another is gone to. */
  private readonly seenPage = linkedSignal<number | null, number>({
    source: () => this.picture()?.where.page ?? null,
    computation: (page, before) => page ?? before?.value ?? 1,
  });
  readonly page = computed(() => Math.min(Math.max(1, this.pages()), this.seenPage()));

  /** Goes to a page, and to its first picture, where it has one. */
  goToPage(page: number): void {
    const first = this.state.model()?.work.pictures.find((p) => p.where.page === page);
    if (first && this.picture()?.where.page !== page) this.state.select(first.n);
    this.seenPage.set(page);
  }

  /** The page that the frame stays within, where it has a size of its own. */
  readonly room = computed((): Size | null => {
    const page = this.picture()?.where.page ?? null;
    const sheet = page === null ? undefined : this.state.model()?.work.sheets?.[page - 1];
    return sheet ? { width: sheet.width, height: sheet.height } : null;
  }, STABLE);
  /** The placement as it is shown. */
  readonly view = computed((): Placement | null => {
    const f = this.shown();
    return f && deriveView(f.placement, f.box, this.size()).placement;
  });
  private readonly steps = inject(STEP_LIST);
  private readonly current = signal(this.steps[0]!);
  /** The step that is being worked on; one that the chosen picture does not have is not. */
  readonly step = computed(() => {
    const [step, frame] = [this.current(), this.taken()];
    return step.applies && !(frame && step.applies(frame)) ? this.steps[0]! : step;
  });

  readonly changed = computed(() => {
    const m = this.state.model();
    return m !== null && this.picture() !== null && isChanged(m);
  });
  readonly stepChanged = computed(() => {
    const f = this.taken();
    const p = this.picture();
    return f && p ? this.step().changed(f, p.frame) : false;
  });

  /** The outline of the subject of the taken frame, which was cut out. */
  knowSubject(subject: string): void {
    this.cutOut.update((all) => ({ ...all, [this.key()]: subject }));
  }

  /** Lets the subject, cut out anew, reach over the edge: where it did before, or at the top. */
  overstep(subject: string): void {
    this.knowSubject(subject);
    this.set('subject over the edge', (f) =>
      f.overstep
        ? withOverstep(f, { ...f.overstep, subject, picture: this.size() })
        : oversteppingAt(f, subject, ['top'], this.size()),
    );
  }

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

  /** A frame with the middle of its picture so far from the middle of its box, along one axis. */
  shifted(axis: 'x' | 'y', value: number): (frame: Frame) => Frame {
    return (f) => withPictureOffset(f, { ...pictureOffset(f, this.size()), [axis]: value }, this.size());
  }

  /** One side of the frame by number; the link and shapes with a ratio of their own take the other one along. */
  resize(side: 'width' | 'height', value: number): void {
    this.set('size', (f) => resized(f, side, value, this.size(), this.linked()));
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
    if (p) this.set(`${step.name} reset`, (f) => step.reset(f, p.frame));
  }
}

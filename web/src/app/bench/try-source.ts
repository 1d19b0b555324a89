import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { bandOf, equal, subjectOf, type Band, type Frame } from '@gable/core';
import {
  asyncScheduler,
  combineLatest,
  debounceTime,
  distinctUntilChanged,
  firstValueFrom,
  map,
  merge,
  scan,
  switchMap,
  throttleTime,
} from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import { AroundEdit } from '../around/around-edit';
import { OwnShapes } from '../library/own-shapes';
import { Painter } from '../paint/painter';
import { remember, remembered } from '../ui/remembered';
import { addressOf } from '../work/images';
import { Suggestions } from '../work/suggestions';
import { WorkStore } from '../work/work-store';
import { Edit } from './edit';
import type { Step } from './steps/step';
import { ALL_SHAPES, withOneCurrent, type ShapeFilter, type Try, type TryContext } from './tries';

const RECENT = 'gable.shapes-recent';
const RECENT_MOST = 12;
/** Milliseconds between two rounds of tries. */
const PACE = 200;
const NO_SUBJECT: Problem = {
  ...{ code: 'no-subject', title: 'Nothing stands out in this picture.', facts: {} },
  remedy: 'Paint the subject yourself: “Cut out the subject”, above the picture.',
};
const NO_TRIES: readonly Try[] = [];
const differOnlyInPlace = (a: Frame | null, b: Frame | null): boolean =>
  a !== null && b !== null && equal(b, { ...a, box: { ...a.box, x: b.box.x, y: b.box.y } });

const BAND_WORDS: Readonly<Record<Band, string>> = {
  all: 'Keeps all that matters.',
  nearly: 'Keeps nearly all that matters.',
  cuts: 'Cuts some of what matters.',
};

/** What there is to choose from in the current step, and what each shape keeps. */
@Injectable()
export class TrySource {
  private readonly state = inject(WorkStore);
  private readonly edit = inject(Edit);
  private readonly around = inject(AroundEdit);
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);
  private readonly suggestions = inject(Suggestions);
  private readonly version = computed(() => this.painter.version(this.edit.key(), 1));

  readonly filter = signal<ShapeFilter>({ ...ALL_SHAPES, recent: readRecent() });
  private readonly own = inject(OwnShapes);

  /** Where keep marks must stay, every shape comes with the placement that keeps most of it. */
  private readonly ranking = toSignal(
    combineLatest([
      toObservable(computed(() => (this.edit.step().name === 'shape' ? this.edit.taken() : null))),
      toObservable(this.version),
    ]).pipe(
      map(([frame]) => frame),
      distinctUntilChanged(),
      debounceTime(60),
      switchMap(async (frame) => {
        if (!frame?.keep) return null;
        const ranked = await this.painter.rank(this.edit.key(), frame, this.edit.size(), frame.keep);
        return new Map<string, Frame>(ranked.map((r) => [r.name, r.frame]));
      }),
    ),
    { initialValue: null },
  );

  /** The frame the tries are made from: while it is dragged they follow a little slower than the hand, and not at all across its page. */
  private readonly paced = toSignal(
    toObservable(this.edit.taken).pipe((taken$) =>
      merge(
        taken$.pipe(
          throttleTime(PACE, asyncScheduler, { leading: true, trailing: true }),
          distinctUntilChanged(differOnlyInPlace),
        ),
        taken$.pipe(debounceTime(PACE)),
      ).pipe(distinctUntilChanged()),
    ),
    { initialValue: null },
  );

  readonly tries = computed((): readonly Try[] => {
    const paced = this.paced();
    const taken = untracked(this.edit.taken);
    return this.make(paced && paced.n === this.edit.picture()?.n ? paced : taken);
  });

  private make(frame: Frame | null): readonly Try[] {
    const picture = this.edit.picture();
    if (!frame || !picture) return NO_TRIES;
    const tries = this.edit.step().tries(this.context(frame), this.filter());
    const looking = this.looking();
    return withOneCurrent(tries.map((t) => (t.id === looking ? { ...t, note: 'looking for the subject …' } : t)));
  }

  private context(frame: Frame): TryContext {
    const picture = this.edit.picture();
    return {
      frame,
      original: picture?.frame ?? frame,
      size: this.edit.size(),
      subject: this.edit.seen()?.subject,
      palette: this.edit.palette(),
      ranking: this.ranking(),
      own: this.own.all(),
      freeable: picture?.freeable ?? false,
      suggested: this.suggestions.of(frame),
      outline: this.edit.subject(),
      placed: picture !== null && !equal(frame.placement, picture.frame.placement),
      room: this.edit.room(),
      // What it takes to know that is spared to the other steps.
      around: this.edit.step().name === 'around' ? this.around.context() : null,
    };
  }

  /** Does the step cut at all? Then its tries show what is cut. */
  readonly cuts = computed(() => this.edit.step().cuts);

  /** The share of what matters that each try keeps, by its name. */
  private readonly kept = toSignal(
    combineLatest([toObservable(this.tries), toObservable(this.version)]).pipe(
      debounceTime(40),
      switchMap(async ([tries]) => {
        if (!this.cuts() || tries.length === 0) return null;
        const shares = await this.painter.kept(
          this.edit.key(),
          tries.map((t) => t.frame),
        );
        return shares && new Map(tries.map((t, i) => [t.id, shares[i]!]));
      }),
      // A question that was overtaken leaves the last answer standing.
      scan((last: ReadonlyMap<string, number> | null, now) => now ?? (this.cuts() ? last : null), null),
    ),
    { initialValue: null },
  );

  /** What was taken before anybody had looked at the picture: as soon as its subject is known, it is taken about that. */
  private early: { step: Step; id: string; key: string; before: Frame; after: Frame } | null = null;

  constructor() {
    effect(() => {
      if (this.edit.seen()) untracked(() => this.takeAgain());
    });
    this.own.load();
  }

  /** What a try keeps of what matters, in bands; null while nobody has looked, or where nothing is cut. */
  band(t: Try): { band: Band; words: string } | null {
    const share = this.kept()?.get(t.id);
    if (share === undefined) return null;
    const band = bandOf(share);
    return { band, words: BAND_WORDS[band] };
  }

  narrow(change: Partial<ShapeFilter>): void {
    this.filter.update((f) => ({ ...f, ...change }));
  }

  /** Takes a try. @returns whether its picture was moved to keep its subject in */
  take(t: Try): boolean {
    if (t.add) {
      if (t.cutsOut) void this.cutOutFor(t);
      else this.around.put(t.entry, t.add, t.frame);
      return false;
    }
    // The frame may have moved on since the try was made.
    const before = this.edit.taken();
    const now = this.make(before).find((other) => other.id === t.id) ?? t;
    // Only a step that cuts asks where the subject is; a later one leaves what an earlier one waits for.
    const step = this.edit.step();
    const waits = before && this.cuts() && !this.edit.seen()?.known;
    const early = waits ? { step, id: t.id, key: this.edit.key(), before, after: now.frame } : null;
    if (this.cuts()) this.early = early;
    this.state.take(now.entry, now.frame, early && `early-${t.id}-${early.key}`);
    const moved = before !== null && now.unmoved !== undefined;
    this.unmoved = moved ? now.unmoved! : null;
    if (this.edit.step().name !== 'shape' || t.id.startsWith('own-')) return moved;
    const recent = [t.id, ...this.filter().recent.filter((n) => n !== t.id)].slice(0, RECENT_MOST);
    // The row that is being chosen from stays in its order; the next visit shows the new one.
    if (this.filter().family !== 'recent') this.narrow({ recent });
    remember(RECENT, recent);
    return moved;
  }

  /** The try whose subject is being looked for, by its name. */
  private readonly looking = signal<string | null>(null);

  /** Takes a try once the subject of its picture is cut out. */
  private async cutOutFor({ id }: Try): Promise<void> {
    const m = this.state.model$.value;
    const frame = this.edit.taken();
    if (!m || !frame || this.looking() !== null) return;
    const key = this.edit.key();
    this.looking.set(id);
    try {
      const at = addressOf(m, frame);
      const { outline } = await firstValueFrom(this.api.cutOut(at.id, at.frame, { strokes: [], fine: false }));
      // Another picture has been chosen since.
      if (key !== this.edit.key()) return;
      if (!outline) {
        this.state.problem$.next(NO_SUBJECT);
        return;
      }
      this.edit.knowSubject(subjectOf(outline.shape, outline.region));
      const now = this.make(this.edit.taken()).find((t) => t.id === id);
      if (now?.add) this.around.put(now.entry, now.add, now.frame);
    } catch (error) {
      this.state.problem$.next(toProblem(error));
    } finally {
      this.looking.set(null);
    }
  }

  /** The frame that was taken last as it would be, had its picture not been moved to keep its subject. */
  private unmoved: Frame | null = null;

  /** Puts the picture where it was before a first shape moved it. @returns false where none did */
  leaveInPlace(): boolean {
    const { unmoved } = this;
    this.unmoved = null;
    if (!unmoved || unmoved.n !== this.edit.taken()?.n) return false;
    this.edit.set('left in its place', (f) => ({ ...f, placement: unmoved.placement }));
    return true;
  }

  /** The early entry anew; if others came since that left the picture where it was, its place as an entry of its own. */
  private takeAgain(): void {
    const { early } = this;
    const taken = this.edit.taken();
    this.early = null;
    if (!early || !taken || early.key !== this.edit.key()) return;
    const lies = ({ box, shape, placement }: Frame): unknown => [box, shape, placement];
    if (!equal(lies(taken), lies(early.after))) return;
    const now = early.step.tries(this.context(early.before), this.filter()).find((other) => other.id === early.id);
    if (!now) return;
    // Faces may still come.
    if (!this.edit.seen()?.known) this.early = { ...early, after: now.frame };
    if (equal(now.frame, taken)) return;
    if (equal(taken, early.after)) this.state.take(now.entry, now.frame, `early-${early.id}-${early.key}`);
    else this.state.take('subject centred', { ...taken, placement: now.frame.placement });
  }

  /** Makes a shape of a drawing or a picture, keeps it, and shows it among the author's own. */
  async addSilhouette(file: File): Promise<void> {
    const problem = await this.own.add(file);
    if (problem) this.state.problem$.next(problem);
    else this.narrow({ family: 'own', words: '' });
  }
}

function readRecent(): string[] {
  const list = remembered(RECENT);
  return Array.isArray(list) ? list.filter((n) => typeof n === 'string') : [];
}

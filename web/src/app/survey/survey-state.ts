import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import {
  addedId,
  applyAll,
  aroundOf,
  beginningOf,
  equal,
  concernsOf,
  evened,
  familyKey,
  itemIdOf,
  layAround,
  layFinish,
  partsAround,
  resolveTies,
  takesPieces,
  unevenFamilies,
  wears,
  wearsAround,
  wordsAround,
  type AroundPart,
  type WordsFacts,
  type Uneven,
  type Finish,
  type Frame,
  type Operation,
} from '@gable/core';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { toProblem } from '../api/problem';
import type { KeptFinish, Marks } from '@gable/contract';
import { LegibilityOf } from '../around/legibility';
import { framing, keyOf, pictureOf, problemOf, shownDocument, takenFrame, type WorkModel } from '../work/work-model';
import { Images } from '../work/images';
import { WorkStore } from '../work/work-store';
import { factsOf } from '../work/facts';
import { notes } from '../work/wording';
import type { Try } from '../bench/tries';
import { Painter } from '../paint/painter';
import {
  arranged,
  counted,
  likeThisOne,
  mendedBy,
  rowOf,
  showingSame,
  type Arrangement,
  type Row,
} from './survey-model';

/** One frame of a change that is shown before it is made. */
export interface Pair {
  row: Row;
  after: Frame;
  /** What does not suit this picture, and the nearest that does. */
  concern?: { words: string; nearest: Frame | null };
}

const PAPER = '#ffffff';
/** Milliseconds of stillness. */
const JUDGED_AFTER = 400;
/** The same rows in the same order: nothing has to be drawn anew. */
const sameRows = (a: readonly Row[], b: readonly Row[]): boolean =>
  a.length === b.length && a.every((row, i) => row === b[i]);

/** What the survey knows beyond the work: figures of all frames, what is chosen, the finishes. */
@Injectable()
export class SurveyState {
  private readonly bench = inject(WorkStore);
  private readonly images = inject(Images);
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);

  readonly arrangement = signal<Arrangement>({ query: '', only: null, grouping: 'page', order: 'reading' });
  readonly chosen = signal<ReadonlySet<number>>(new Set());
  /** The frame that keys act on. */
  readonly focused = signal(1);
  readonly finishes = signal<readonly KeptFinish[]>([]);
  readonly marks = signal<Marks>({});
  /** A finish held up to be looked at on all chosen frames. */
  readonly tried = signal<KeptFinish | null>(null);
  /** Does laying a finish bring each subject to the middle? */
  readonly centred = signal(true);
  /** Colours along rims, by the frame they were looked up for. */
  private readonly rims = signal<ReadonlyMap<Frame, string>>(new Map());
  /** Said once: what has been done elsewhere. */
  readonly told = signal('');
  /** What each frame keeps of what matters. */
  private readonly shares = signal<ReadonlyMap<Frame, number>>(new Map());
  private judging = 0;
  private readonly asked = new WeakSet<Frame>();
  /** For which subject each frame was weighed. */
  private readonly weighed = new WeakMap<Frame, unknown>();
  private readonly known = new WeakMap<
    Frame,
    { subject: unknown; rim: string | undefined; kept: number | undefined; words: unknown; row: Row }
  >();
  /** How well words around pictures can be read, by the numbers of these. */
  private readonly words = signal<ReadonlyMap<number, readonly WordsFacts[]>>(new Map());
  private readonly legibility = inject(LegibilityOf);

  readonly rows = computed((): Row[] => this.readRows(), { equal: sameRows });

  private readRows(): Row[] {
    const m = this.bench.model();
    if (!m) return [];
    const seen = this.images.seen();
    const rims = this.rims();
    const shares = this.shares();
    const around = this.words();
    return m.work.pictures.map((picture) => {
      const frame = takenFrame(m, picture.n);
      const key = keyOf(m.work, frame);
      const rim = rims.get(frame);
      const kept = shares.get(frame);
      const subject = seen[key]?.subject;
      const words = around.get(picture.n);
      const now = this.known.get(frame);
      const isSame = now?.subject === subject && now?.rim === rim && now?.kept === kept && now?.words === words;
      if (now && isSame && now.row.picture === picture) return now.row;
      const page = m.work.sheets?.[(picture.where.page ?? 0) - 1]?.background ?? PAPER;
      const facts = {
        ...factsOf(picture, frame),
        subject,
        ...(rim ? { rim, page } : {}),
        ...(words && { words }),
      };
      const row = rowOf(picture, frame, key, facts, problemOf(picture, frame), kept ?? null);
      this.known.set(frame, { subject, rim, kept, words, row });
      return row;
    });
  }
  readonly groups = computed(() => arranged(this.rows(), this.arrangement()));
  /** The frames in sight, in the order they are in. */
  readonly shown = computed(() => this.groups().flatMap((g) => g.rows));
  readonly kinds = computed(() => counted(this.rows()));
  readonly chosenRows = computed(() => this.rows().filter((r) => this.chosen().has(r.n)));

  /** Uneven families of the body; headers and footers go their own way. */
  readonly families = computed((): { family: Uneven; key: string; deliberate: boolean }[] => {
    const deliberate = new Set(this.marks().deliberate ?? []);
    const frames = this.rows()
      .filter((r) => !['header', 'footer', 'layout', 'master'].includes(r.picture.where.place))
      .map((r) => r.frame);
    return unevenFamilies(frames)
      .map((family) => ({ family, key: familyKey(family) }))
      .map((f) => ({ ...f, deliberate: deliberate.has(f.key) }));
  });

  constructor() {
    this.readFinishes();
    let begun = '';
    effect(() => {
      const m = this.bench.model();
      if (!m || begun === m.work.id) return;
      begun = m.work.id;
      untracked(() => this.marks.set(m.work.marks ?? {}));
    });
    // Words around pictures are judged once nothing changes, and again when faces have been found.
    effect(() => {
      const m = this.bench.model();
      this.images.seen();
      const mine = ++this.judging;
      if (m) setTimeout(() => void this.judge(m, () => mine === this.judging), JUDGED_AFTER);
    });
    // What a frame keeps is told by its sort order, its words and on hovering: looked up in one round as pictures come in.
    effect(() => {
      const waiting = this.rows().filter(
        (r) => r.facts.subject && !r.problem && this.weighed.get(r.frame) !== r.facts.subject,
      );
      if (waiting.length === 0) return;
      for (const r of waiting) this.weighed.set(r.frame, r.facts.subject);
      void Promise.all(waiting.map(async (r) => [r.frame, await this.painter.share(r.key, r.frame)] as const)).then(
        (found) =>
          this.shares.update((now) => {
            // Frames that are no more are forgotten.
            const next = new Map<Frame, number>();
            for (const { frame } of untracked(this.rows)) if (now.has(frame)) next.set(frame, now.get(frame)!);
            for (const [frame, share] of found) if (share !== null) next.set(frame, share);
            return next;
          }),
      );
    });
    // What lies along the rim tells whether an outline can be seen: looked up one by one as pictures come in.
    effect(() => {
      const waiting = this.rows().filter((r) => r.frame.outline && r.facts.subject && !this.asked.has(r.frame));
      untracked(() => {
        for (const r of waiting) {
          this.asked.add(r.frame);
          void this.painter.rim(r.key, r.frame).then((colour) => {
            if (colour) this.rims.update((now) => new Map(now).set(r.frame, colour));
          });
        }
      });
    });
  }

  /** Judges the words that stand around pictures, as long as nothing else is to be judged. */
  private async judge(m: WorkModel, holds: () => boolean): Promise<void> {
    const found = new Map<number, readonly WordsFacts[]>();
    const document = shownDocument(m);
    for (const [n, items] of wordsAround(m.work.pictures, document)) {
      const own: WordsFacts[] = [];
      for (const item of items) {
        if (!holds()) return;
        const judged = await this.legibility.facts(m, item);
        if (judged) own.push({ words: beginningOf(item), ...judged });
      }
      found.set(n, own);
    }
    const kept = untracked(this.words);
    // What is as it was stays the same, so that nothing is drawn anew.
    if (holds() && !equal([...found], [...kept])) this.words.set(found);
  }

  /** These frames are in sight. */
  sooner(numbers: readonly number[]): void {
    this.images.sooner(new Set(numbers));
  }

  /** The frame to show: of a chosen one the finish that is looked at comes first. */
  face(row: Row): Frame {
    const tried = this.tried();
    return tried && !row.problem && this.chosen().has(row.n) ? this.laid(row, tried) : row.frame;
  }

  choose(numbers: Iterable<number>): void {
    this.told.set('');
    this.chosen.set(new Set(numbers));
  }

  toggle(n: number): void {
    const next = new Set(this.chosen());
    if (!next.delete(n)) next.add(n);
    this.chosen.set(next);
  }

  /** From the last frame that was chosen by itself up to this one. */
  chooseUpTo(from: number, to: number): void {
    const order = this.shown().map((r) => r.n);
    const [a, b] = [order.indexOf(from), order.indexOf(to)].sort((x, y) => x - y) as [number, number];
    if (a >= 0) this.choose([...this.chosen(), ...order.slice(a, b + 1)]);
  }

  chooseLike(n: number): void {
    const row = this.rows().find((r) => r.n === n);
    if (row) this.choose(likeThisOne(this.rows(), row));
  }

  chooseSame(n: number): void {
    const row = this.rows().find((r) => r.n === n);
    if (row) this.choose(showingSame(this.rows(), row));
  }

  mending(rows: readonly Row[], codes: ReadonlySet<string>): Pair[] {
    return rows.map((row) => ({ row, after: mendedBy(row, codes) })).filter((p) => p.after !== p.row.frame);
  }

  evening(family: Uneven): Pair[] {
    return this.rows()
      .filter((r) => family.members.includes(r.n))
      .map((row) => ({ row, after: evened(row.frame, family, row.size, row.facts.subject) }));
  }

  private laid(row: Row, kept: KeptFinish, centred = this.centred()): Frame {
    const f = layFinish(row.frame, kept.finish, { picture: row.size, subject: row.facts.subject, centred });
    return { ...f, finish: kept.id };
  }

  /** What laying a finish on the chosen frames comes to, with what does not suit them. */
  laying(kept: KeptFinish): Pair[] {
    return this.chosenRows()
      .filter((r) => !r.problem)
      .map((row) => {
        const after = this.laid(row, kept);
        const [concern] = concernsOf(row.frame, after, row.facts);
        if (!concern) return { row, after };
        const words = notes(after, row.facts).find((x) => x.code === concern.finding.code)?.text;
        return { row, after, concern: { words: words ?? '', nearest: concern.variant } };
      });
  }

  take(name: string, frames: readonly Frame[]): void {
    this.told.set('');
    this.tried.set(null);
    this.bench.takeAll(name, frames);
  }

  /** Frames with a finish, and what that puts around them, as one step. */
  takeFinish(name: string, { finish }: KeptFinish, frames: readonly Frame[]): void {
    const m = this.bench.model();
    this.told.set('');
    this.tried.set(null);
    if (!m) return;
    const framed = frames.flatMap((frame) => framing(m, frame));
    let document = resolveTies(applyAll(m.document, framed).document);
    const round: Operation[] = [];
    for (const picture of m.work.can.around ? frames.map(({ n }) => pictureOf(m, n)) : []) {
      if (!takesPieces(m.document, picture.where)) continue;
      const id = itemIdOf(picture);
      const own = layAround(document, id, finish.around, () => addedId(crypto.randomUUID()));
      if (own.length === 0) continue;
      round.push(...own);
      document = resolveTies(applyAll(document, own).document);
    }
    if (round.length > 0) this.bench.act(name, [...framed, ...round], null);
    else this.bench.takeAll(name, frames);
  }

  /** What a finish puts around a picture that has a frame with it; null where it puts nothing there. */
  roundFace(frame: Frame, { finish }: KeptFinish): Try['add'] | null {
    const m = this.bench.model();
    const picture = m && pictureOf(m, frame.n);
    if (!picture || !m.work.can.around || !finish.around || !takesPieces(m.document, picture.where)) return null;
    const { document } = applyAll(m.document, framing(m, frame));
    return partsAround(resolveTies(document), itemIdOf(picture), finish.around, () => addedId(crypto.randomUUID()));
  }

  /** What stands around a picture, for a finish. */
  around(n: number): AroundPart[] {
    const m = this.bench.model();
    return m ? aroundOf(shownDocument(m), itemIdOf(pictureOf(m, n))) : [];
  }

  /** Chosen frames as the file has them. */
  putBack(): void {
    const m = this.bench.model();
    if (m)
      this.take(
        'originals restored',
        this.chosenRows().map((r) => pictureOf(m, r.n).frame),
      );
  }

  setText(n: number, alt: string): void {
    const m = this.bench.model();
    if (m) this.bench.take('alternative text', { ...takenFrame(m, n), alt }, `text-${n}`);
  }

  say(marks: Marks): void {
    const m = this.bench.model();
    this.marks.set(marks);
    if (m) this.api.mark(m.work.id, marks).subscribe({ error: (e: unknown) => this.fail(e) });
  }

  toggleDeliberate(key: string): void {
    const now = this.marks().deliberate ?? [];
    this.say({ ...this.marks(), deliberate: now.includes(key) ? now.filter((k) => k !== key) : [...now, key] });
  }

  private readFinishes(): void {
    this.api.finishes().subscribe({
      next: (list) => this.finishes.set(list),
      error: (e: unknown) => this.fail(e),
    });
  }

  async keepFinish(finish: Finish): Promise<KeptFinish | null> {
    return this.tell(async () => {
      const kept = await firstValueFrom(this.api.addFinish(finish));
      this.finishes.update((all) => [...all, kept]);
      return kept;
    });
  }

  /** Changes a finish; frames that still have all of it follow, as one entry in each work. */
  async changeFinish(kept: KeptFinish, finish: Finish): Promise<KeptFinish | null> {
    return this.tell(async () => {
      const open = this.bench.model$.value?.work.id ?? '';
      const { followed, ...next } = await firstValueFrom(this.api.changeFinish(kept.id, finish, open));
      this.finishes.update((all) => all.map((f) => (f.id === kept.id ? next : f)));
      const following = this.rows().filter((r) => r.frame.finish === kept.id && this.wears(r, kept.finish));
      this.takeFinish(
        `${finish.name} followed`,
        next,
        following.map((r) => this.laid(r, next, false)),
      );
      if (followed > 0) this.told.set(`Followed in ${followed} other ${followed === 1 ? 'work' : 'works'} too.`);
      return next;
    });
  }

  private wears({ n, frame }: Row, finish: Finish): boolean {
    const m = this.bench.model();
    return !!m && wears(frame, finish) && wearsAround(shownDocument(m), itemIdOf(pictureOf(m, n)), finish.around);
  }

  async removeFinish(kept: KeptFinish): Promise<void> {
    await this.tell(async () => {
      await firstValueFrom(this.api.removeFinish(kept.id));
      this.finishes.update((all) => all.filter((f) => f.id !== kept.id));
    });
  }

  /** Chosen frames that follow a finish no longer do. */
  detach(): void {
    const free = this.chosenRows()
      .filter((r) => r.frame.finish)
      .map(({ frame }) => {
        const { finish, ...rest } = frame;
        void finish;
        return rest;
      });
    this.take('finish let go', free);
  }

  private async tell<T>(what: () => Promise<T>): Promise<T | null> {
    try {
      return await what();
    } catch (e) {
      this.fail(e);
      return null;
    }
  }

  private fail(e: unknown): void {
    this.bench.problem$.next(toProblem(e));
  }
}

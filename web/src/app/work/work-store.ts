import { inject, Injectable, signal, type OnDestroy } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import {
  applyAll,
  CENTRED,
  frameOfItem,
  isPlain,
  itemIdOf,
  likeTarget,
  newPicture,
  PLAYED,
  type Frame,
  type Item,
  uprightTurn,
  type NewEntry,
  type Operation,
  type PictureFacts,
  type PictureItem,
  type PieceItem,
  type Position,
  type Slot,
  type Source,
  type Video,
} from '@gable/core';
import {
  BehaviorSubject,
  debounceTime,
  distinctUntilChanged,
  filter,
  firstValueFrom,
  forkJoin,
  map,
  Subscription,
  switchMap,
} from 'rxjs';
import { Api } from '../api/api';
import { OwnFonts } from '../library/own-fonts';
import { toProblem, type Problem } from '../api/problem';
import type { LibraryPicture, Work, WorkPicture } from '@gable/contract';
import { Painter } from '../paint/painter';
import { duplicating, puttingAround, repeating } from './copies';
import { factsOf } from './facts';
import { Images, LARGE } from './images';
import { likeThat } from './same-again';
import { Saver, type SaveState } from './saver';
import * as model from './work-model';

/** Below this many steps at hand, earlier entries are fetched. */
const AT_HAND = 40;

/** An open work: its state, its history, and its saving. */
@Injectable()
export class WorkStore implements OnDestroy {
  private readonly api = inject(Api);
  private readonly painter = inject(Painter);
  private readonly images = inject(Images);
  private readonly fonts = inject(OwnFonts);
  private readonly subscriptions = new Subscription();
  private saver: Saver | null = null;
  private fetching = false;
  /** Others have put something in, or taken it out, since the work was read. */
  private stale = false;

  readonly model$ = new BehaviorSubject<model.WorkModel | null>(null);
  readonly problem$ = new BehaviorSubject<Problem | null>(null);
  readonly save$ = new BehaviorSubject<SaveState>({ kind: 'saved' });

  /** What is seen of it: saving alone changes nothing here. */
  readonly model = toSignal(this.model$.pipe(distinctUntilChanged(model.looksTheSame)), { requireSync: true });

  /** The pages of a text that pictures stand on, by their numbers: known once its pages are laid out. */
  readonly laidPages = signal<ReadonlyMap<number, number>>(new Map());

  open(id: string): void {
    this.subscriptions.add(
      forkJoin([this.api.work(id), this.api.history(id), this.fonts.load]).subscribe({
        next: ([work, history]) => this.start(model.openModel(work, history)),
        error: (e: unknown) => this.problem$.next(toProblem(e)),
      }),
    );
  }

  private start(opened: model.WorkModel): void {
    const { work } = opened;
    this.model$.next(opened);
    const saver = this.saverOf(work);
    this.saver = saver;
    this.subscriptions.add(saver.state$.subscribe((s) => this.save$.next(s)));
    const model$ = this.model$.pipe(filter((m) => m !== null));
    this.subscriptions.add(
      model$.pipe(distinctUntilChanged((a, b) => a.pending === b.pending && a.history === b.history)).subscribe((m) => {
        if (m.pending.length > m.sending) saver.changed();
        this.fetchEarlier(m);
      }),
    );
    const shown$ = model$.pipe(
      filter((m) => model.pictureIn(m.work, m.selected) !== undefined),
      map((m) => model.takenFrame(m)),
    );
    this.subscriptions.add(
      shown$
        .pipe(distinctUntilChanged((a, b) => a.n === b.n && a.source?.sha256 === b.source?.sha256))
        .subscribe((frame) => void this.load(frame)),
    );
    // What lies along the rim decides whether an outline can be seen; it is looked up once things are still.
    this.subscriptions.add(
      shown$
        .pipe(
          distinctUntilChanged(),
          debounceTime(150),
          switchMap(async (frame) => ({ frame, colour: await this.painter.rim(this.key(frame), frame) })),
        )
        .subscribe((r) => this.images.rim$.next(r)),
    );
    void this.images.loadAll(opened);
  }

  private saverOf(work: Work): Saver {
    return new Saver(
      {
        next: () => {
          this.update(model.sendPending);
          const { pending, sending } = this.model$.value!;
          return pending.slice(0, sending).map(({ inverse, ...entry }) => {
            void inverse;
            return entry;
          });
        },
        sent: (others) => {
          const before = this.model$.value!;
          const clash = others.length > 0 && model.disagrees(before, others);
          this.update((m) => model.sent(m, others));
          if (clash) return 'conflict';
          this.stale ||= others.some(model.isStructuralEntry);
          if (this.model$.value!.pending.length > 0) return 'more';
          // What others put in is in a file that is read anew.
          if (this.stale) this.takeTheirs();
          return 'nothing';
        },
        refused: () => this.update(model.notSent),
      },
      (save) => this.api.saveEntries(work.id, save),
      work.revision,
    );
  }

  private fetchEarlier(m: model.WorkModel): void {
    const { first, more } = m.saved;
    if (!more || first === null || m.history.past.length > AT_HAND || this.fetching) return;
    this.fetching = true;
    this.subscriptions.add(
      this.api.history(m.work.id, first).subscribe({
        next: (older) => {
          this.fetching = false;
          this.update((now) => model.remember(now, older));
        },
        error: () => {
          this.fetching = false;
        },
      }),
    );
  }

  /** What the painter knows a frame's picture by. */
  private key(frame: Frame): string {
    const m = this.model$.value;
    return m ? model.keyOf(m.work, frame) : '';
  }

  /** Fetches the large copy of a frame's picture, and looks at it. */
  private async load(frame: Frame): Promise<void> {
    const m = this.model$.value;
    if (m) await this.images.load(m, frame, LARGE);
  }

  /** Looks at the pictures of frames that have not been looked at yet. */
  async lookAt(frames: readonly Frame[]): Promise<void> {
    await Promise.all(frames.filter((f) => !this.subjectOf(f)).map((f) => this.load(f)));
  }

  /** Where the picture of a frame has its subject, as far as that is known. */
  private subjectOf(frame: Frame): { u: number; v: number } | undefined {
    return this.images.seen$.value[this.key(frame)]?.subject;
  }

  private update(change: (m: model.WorkModel) => model.WorkModel): void {
    const m = this.model$.value;
    if (!m) return;
    const next = change(m);
    if (next !== m) this.model$.next(next);
  }

  select(n: number): void {
    this.update((m) => model.select(m, n));
  }

  preview(frame: Frame | null): void {
    this.update((m) => model.preview(m, frame));
  }

  take(name: string, frame: Frame, gesture: string | null = null): void {
    this.update((m) => model.take(m, name, frame, gesture));
  }

  /** Chooses what was added round a picture; null goes back to that. */
  selectItem(id: string | null): void {
    this.update((m) => model.selectItem(m, id));
  }

  /** Chooses several items of a page; the first of them leads. */
  chooseAll(ids: readonly string[]): void {
    this.update((m) => model.chooseAll(m, ids));
  }

  /** Takes items as they are to be, as one step. */
  takeItems(name: string, items: readonly Item[], gesture: string | null = null): void {
    this.update((m) => model.takeItems(m, name, items, gesture));
  }

  /** Operations on what was added, as one step. @param item what is chosen then */
  act(name: string, operations: readonly Operation[], item: string | null): void {
    this.update((m) => model.act(m, name, operations, item));
  }

  /** Several frames as one step: one undo takes all of it back. */
  takeAll(name: string, frames: readonly Frame[]): void {
    this.update((m) => model.takeAll(m, name, frames));
  }

  undo(): void {
    const entry = this.model$.value && model.undoEntry(this.model$.value);
    if (entry && model.isStructuralEntry(entry)) void this.rearrange(entry);
    else this.update(model.undo);
  }

  redo(): void {
    const entry = this.model$.value && model.redoEntry(this.model$.value);
    if (entry && model.isStructuralEntry(entry)) void this.rearrange(entry);
    else this.update(model.redo);
  }

  /** Pictures are being put in or taken out. */
  readonly arranging = signal(false);

  /**
   * Does what puts pictures in or takes them out, and reads the work anew: its file is another one.
   * @param select the number of the picture that is chosen then
   * @returns was it done?
   */
  async rearrange(entry: NewEntry, select?: number): Promise<boolean> {
    const m = this.model$.value;
    if (!m || !this.saver || this.arranging()) return false;
    const done = this.arrangeNow(m, this.saver, entry, select);
    this.arrangement = done;
    return done;
  }

  /** What is being arranged, or was last. */
  private arrangement: Promise<unknown> = Promise.resolve();

  private async arrangeNow(
    m: model.WorkModel,
    saver: Saver,
    { id, name, operations, ...of }: NewEntry,
    select?: number,
  ): Promise<boolean> {
    this.arranging.set(true);
    try {
      if (!(await this.settled())) return false;
      const { undoes, redoes } = of;
      const entry = { id, name, operations, ...(undoes && { undoes }), ...(redoes && { redoes }) };
      await firstValueFrom(this.api.saveEntries(m.work.id, { base: saver.at, entries: [entry] }));
      await this.readAnew(select);
      return true;
    } catch (e) {
      this.problem$.next(toProblem(e));
      return false;
    } finally {
      this.arranging.set(false);
    }
  }

  /** The work as the server has it, in the place of what is here. @param select the picture that is chosen then */
  private async readAnew(select?: number): Promise<void> {
    const { id } = this.model$.value!.work;
    const [work, history] = await firstValueFrom(forkJoin([this.api.work(id), this.api.history(id)]));
    this.stale = false;
    this.update((now) => model.replaceWork(select === undefined ? now : { ...now, selected: select }, work, history));
    this.saver?.accept(work.revision);
    void this.images.loadAll(this.model$.value!);
  }

  /** Puts kept pictures into the file, one entry for all of them; the first is chosen then. @param slot of the first */
  async putIn(pictures: readonly Coming[], slot: Slot): Promise<boolean> {
    const m = this.model$.value;
    if (!m || pictures.length === 0) return false;
    const { next } = m.work;
    const plain = pictures.map(({ picture, at, alt, like }, i) => {
      const plain = newPicture(`p${next + i}`, at, sourceIn(picture), alt);
      const item = { ...plain, fill: { ...plain.fill, ...videoIn(picture, like?.fill.video) } };
      return like ? framedLike(item, like) : item;
    });
    const inShapes = plain.some(({ at }) => at.on === 'page' && at.fills);
    const items = inShapes ? await Promise.all(plain.map((item) => this.inShape(m, item, slot))) : plain;
    const operations = items.map((item, i): Operation => ({
      op: 'add',
      item,
      slot: { ...slot, index: slot.index + i },
    }));
    const around = items.flatMap((item, i) => {
      const { like, around: pieces = [] } = pictures[i]!;
      if (!like || pieces.length === 0) return [];
      return puttingAround(applyAll(m.document, operations).document, item, { of: like.id, pieces });
    });
    const words = pictures.length === 1 ? 'picture put in' : `${pictures.length} pictures put in`;
    return this.rearrange(model.putting(words, [...operations, ...around]), next);
  }

  /** A new picture with the look of the shape that it goes into, and its own subject in the middle. */
  private async inShape(m: model.WorkModel, item: PictureItem, slot: Slot): Promise<PictureItem> {
    const shaped = isPlain(item) ? likeTarget(m.file, slot.in, item) : item;
    if (shaped === item) return item;
    const frame = frameOfItem(shaped, 0);
    await this.load(frame);
    const aim = this.subjectOf(frame) ?? CENTRED.aim;
    return { ...shaped, fill: { ...shaped.fill, placement: { ...shaped.fill.placement, aim } } };
  }

  /** Puts a copy of the chosen picture, framed like it, beside it. */
  duplicate(): Promise<boolean> {
    return this.arrangeChosen('picture duplicated', duplicating);
  }

  /** Puts the chosen picture into the headers: it is seen at its place of every page then. */
  repeat(): Promise<boolean> {
    return this.arrangeChosen('picture on every page', repeating);
  }

  private async arrangeChosen(name: string, how: (m: model.WorkModel) => Operation[] | null): Promise<boolean> {
    // What is asked while the file is being arranged counts on what comes of that.
    await this.arrangement;
    const m = this.model$.value;
    const operations = m && how(m);
    return m && operations ? this.rearrange(model.putting(name, operations), m.work.next) : false;
  }

  /** A page behind another: a copy of it, or an empty one like it. @param word what a page is called @returns was it made? */
  addPage(id: string, copy: boolean, word: string): Promise<boolean> {
    const pages = this.model$.value?.file.pages ?? [];
    const at = pages.findIndex((p) => p.id === id);
    if (at < 0) return Promise.resolve(false);
    const page = { ...pages[at]!, id: `page-${crypto.randomUUID()}`, items: [] };
    const name = `${word} ${copy ? 'duplicated' : 'added'}`;
    const entry = model.putting(name, [{ op: 'page-add', page, index: at + 1, like: { page: id, copy } }]);
    const done = this.rearrange(entry);
    return copy ? done.then((ok) => ok && this.copyAround(name, id, page.id)) : done;
  }

  /** What stands round the pictures of a page comes with its copy, round theirs. */
  private copyAround(name: string, from: string, to: string): true {
    const operations = model.copyingAround(this.model$.value!, from, to);
    if (operations.length > 0) this.act(name, operations, null);
    return true;
  }

  removePage(id: string, word: string): Promise<boolean> {
    const m = this.model$.value;
    const page = 1 + (m?.file.pages.findIndex((p) => p.id === id) ?? -1);
    const left = m?.work.pictures.find((p) => p.where.page !== page);
    return this.rearrange(model.putting(`${word} deleted`, [{ op: 'page-remove', id }]), left?.n);
  }

  /** @param index among all pages, from 0 */
  movePage(id: string, index: number, word: string): Promise<boolean> {
    return this.rearrange(model.putting(`${word} moved`, [{ op: 'page-move', id, index }]));
  }

  /** Takes the chosen picture out of the file. */
  async takeOut(): Promise<boolean> {
    const m = this.model$.value;
    const picture = m && model.pictureIn(m.work, m.selected);
    if (!picture) return false;
    const beside = model.isLast(m) ? model.neighbour(m, -1) : model.neighbour(m, 1);
    const id = itemIdOf(picture);
    // What stands round it goes with it.
    const round = model.tiedTo(m, id).map((item): Operation => ({ op: 'remove', id: item.id }));
    return this.rearrange(model.putting('picture deleted', [...round, { op: 'remove', id }]), beside);
  }

  /** Puts the selected picture back as the file has it. */
  putBack(): void {
    this.update((m) => model.take(m, 'restored', model.pictureOf(m, m.selected).frame));
  }

  /** The findings' facts of a frame, as far as they are known. */
  facts(frame: Frame): PictureFacts {
    const m = this.model$.value!;
    const rim = this.images.rim$.value;
    return {
      ...factsOf(model.pictureOf(m, frame.n), frame),
      subject: this.subjectOf(frame),
      // Documents are read on white paper.
      ...(rim?.frame === frame && rim.colour ? { rim: rim.colour, page: '#ffffff' } : {}),
    };
  }

  /**
   * Frames the next picture of the run like the last one that was framed: its shape, ratio, size, edges and tone, with the
   * picture's own subject in the middle.
   * @returns the picture that was framed; null where there is none left, or none to copy from
   */
  async sameAgain(): Promise<number | null> {
    const m = this.model$.value;
    if (!m || !model.isChanged(m)) return null;
    const behind = m.work.pictures.slice(1 + m.work.pictures.findIndex((p) => p.n === m.selected));
    const next = behind.find((p) => !model.problemOf(p, model.takenFrame(m, p.n)));
    if (!next) return null;
    const like = await this.framedLike(m, m.selected, next);
    this.update((now) => model.take(model.select(now, next.n), 'same again', like));
    return next.n;
  }

  /** Pictures of a page framed like one of them, each with its own subject in the middle, as one step. */
  async frameAlike(first: number, others: readonly number[]): Promise<void> {
    const m = this.model$.value;
    if (!m) return;
    const fine = others.map((n) => model.pictureOf(m, n)).filter((p) => !model.problemOf(p, model.takenFrame(m, p.n)));
    const frames = await Promise.all(fine.map((p) => this.framedLike(m, first, p)));
    this.takeAll('framed alike', frames);
  }

  /** The frame of a picture as it is with the look of another. */
  private async framedLike(m: model.WorkModel, first: number, picture: WorkPicture): Promise<Frame> {
    const frame = model.takenFrame(m, picture.n);
    await this.load(frame);
    return likeThat(frame, model.takenFrame(m, first), model.sizeOf(picture, frame), this.subjectOf(frame));
  }

  /**
   * Puts kept pictures into frames, each with its own subject in the middle: the first into `n`, the rest into empty
   * frames.
   * @returns what is left over
   */
  async place(n: number, pictures: readonly LibraryPicture[]): Promise<readonly LibraryPicture[]> {
    const m = this.model$.value;
    if (!m) return pictures;
    const empty = m.work.pictures
      .filter((p) => p.n !== n && model.problemOf(p, model.takenFrame(m, p.n))?.code === 'empty-frame')
      .map((p) => p.n);
    const into = [n, ...empty].slice(0, pictures.length);
    const name = into.length > 1 ? 'pictures put in' : 'picture replaced';
    for (const [i, frame] of into.entries()) {
      const shown = shows(model.takenFrame(this.model$.value!, frame), pictures[i]!);
      await this.load(shown);
      const aim = this.subjectOf(shown) ?? { u: 0.5, v: 0.5 };
      this.take(name, { ...shown, placement: { ...shown.placement, aim } });
    }
    return pictures.slice(into.length);
  }

  /** One kept picture in all of these frames, as one step: same shape, same place, its own subject in the middle. */
  async replaceIn(numbers: readonly number[], picture: LibraryPicture): Promise<void> {
    const m = this.model$.value;
    const [first] = numbers;
    if (!m || first === undefined) return;
    await this.load(shows(model.takenFrame(m, first), picture));
    const frames = numbers.map((n) => {
      const shown = shows(model.takenFrame(this.model$.value!, n), picture);
      const aim = this.subjectOf(shown) ?? { u: 0.5, v: 0.5 };
      return { ...shown, placement: { ...shown.placement, aim } };
    });
    this.takeAll('picture replaced', frames);
  }

  /** Lays more pictures, or empty frames, behind those of a work that began with pictures. */
  async add(pictures: readonly (string | null)[]): Promise<void> {
    const m = this.model$.value;
    if (!m || !this.saver || (await this.saver.settled()).kind !== 'saved') return;
    try {
      const work = await firstValueFrom(this.api.addPictures(m.work.id, pictures));
      this.saver.moveTo(work.revision);
      this.update((now) => model.withPictures(now, work));
      void this.images.loadAll(this.model$.value!);
    } catch (e) {
      this.problem$.next(toProblem(e));
    }
  }

  keepMine(): void {
    this.saver?.overrule();
  }

  takeTheirs(): void {
    if (this.model$.value) this.readAnew().catch((e: unknown) => this.problem$.next(toProblem(e)));
  }

  saveAgain(): void {
    this.saver?.again();
  }

  /** Waits until everything is saved. @returns false when that has failed */
  async settled(): Promise<boolean> {
    return this.saver !== null && (await this.saver.settled()).kind === 'saved';
  }

  get unsaved(): boolean {
    return this.save$.value.kind !== 'saved';
  }

  ngOnDestroy(): void {
    // A save that is under way or due is let finish before everything ends.
    const { saver } = this;
    if (saver) void saver.settled().finally(() => saver.close());
    this.subscriptions.unsubscribe();
  }
}

/** A kept picture that comes into a file. */
interface Coming {
  picture: LibraryPicture;
  at: Position;
  alt?: string;
  /** How it is framed; plain where nothing is said. */
  like?: PictureItem;
  /** What stands around that. */
  around?: readonly PieceItem[];
}

/** A new picture, framed as it was where it was copied. A section is one where it stands. */
function framedLike({ id, at, fill }: PictureItem, like: PictureItem): PictureItem {
  const { tie, ...rest } = like;
  const { section, video, ...looks } = like.fill;
  void [tie, section, video];
  return { ...rest, id, at, fill: { ...looks, source: fill.source, ...(fill.video && { video: fill.video }) } };
}

/** A kept picture as frames name it. */
export const sourceIn = ({ sha256, name, type, size, orientation }: LibraryPicture): Source => ({
  sha256,
  name,
  type,
  size,
  orientation,
});

/** The video that a kept picture is seen of before it plays; as it plays there, where that is the same one. */
const videoIn = ({ video }: LibraryPicture, like?: Video): { video?: Video } => {
  if (!video) return {};
  const isSame = like?.source.from === 'kept' && like.source.sha256 === video.sha256;
  return { video: isSame ? like : { source: { from: 'kept', ...video }, play: PLAYED } };
};

/** The frame with another picture, true and with all else as it was; what was marked on the old one is gone. */
function shows(frame: Frame, picture: LibraryPicture): Frame {
  const fit = frame.placement.fit === 'stretch' ? ('cover' as const) : frame.placement.fit;
  const next: Frame = {
    ...frame,
    placement: {
      ...frame.placement,
      fit,
      distortion: 1,
      ...(picture.orientation > 1 && uprightTurn(picture.orientation)),
    },
    source: sourceIn(picture),
  };
  delete next.keep;
  delete next.overstep;
  delete next.video;
  return { ...next, ...videoIn(picture) };
}

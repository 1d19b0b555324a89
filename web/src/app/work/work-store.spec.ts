import { HttpErrorResponse } from '@angular/common/http';
import { TestBed } from '@angular/core/testing';
import { solidOutline, withShape, type Frame } from '@gable/core';
import { of, throwError } from 'rxjs';
import { entryOf, frameOf, pictureOf, withFrames, workOf } from '../../testing/works';
import { Api } from '../api/api';
import type { LibraryPicture, LoggedHistory, SaveEntries, Work } from '@gable/contract';
import { Painter } from '../paint/painter';
import { Images } from './images';
import { changedFrames, takenFrame } from './work-model';
import { Suggestions } from './suggestions';
import { WorkStore } from './work-store';
import { Edit } from '../bench/edit';
import { STEPS } from '../bench/steps';
import { STEP_LIST } from '../bench/steps/step';
import { AroundEdit } from '../around/around-edit';
import { TrySource } from '../bench/try-source';
import type { Try } from '../bench/tries';

// Jest cannot load a module worker; the painter is a stand-in here anyway.
jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const SUBJECT = { u: 0.4, v: 0.45 };
const POT: LibraryPicture = {
  sha256: 'c'.repeat(64),
  name: 'Pot',
  kind: 'stock',
  type: 'png',
  size: { width: 900, height: 600 },
  orientation: 1,
};

function setup(work: Work = workOf(), history: LoggedHistory = { entries: [], more: false }) {
  const sent: SaveEntries[] = [];
  const older: number[] = [];
  const answers: (() => ReturnType<Api['saveEntries']>)[] = [];
  const alt = (i: number): Frame => frameOf(1, i === 0 ? {} : { alt: `${i}` });
  const api = {
    work: () => of(work),
    history: (_: string, before?: number) => {
      if (before === undefined) return of(history);
      older.push(before);
      const count = before - 1;
      return of({
        entries: Array.from({ length: count }, (_, i) => entryOf(i + 1, 'old', alt(i), alt(i + 1))),
        more: false,
      });
    },
    saveEntries: (_: string, save: SaveEntries) => {
      sent.push(save);
      return answers.shift()?.() ?? of({ revision: save.base + save.entries.length, others: [] });
    },
    addPictures: (_: string, added: readonly (string | null)[]) =>
      of({
        ...work,
        revision: 9,
        pictures: [...work.pictures, ...added.map((_, i) => pictureOf(work.pictures.length + i + 1))],
      }),
    proxyUrl: () => '/proxy',
    contents: () => of({ faces: [] }),
    keptUrl: () => '/kept',
    silhouettes: () => of([]),
  };
  const painter = {
    load: () => Promise.resolve({ subject: SUBJECT, palette: ['#2b6a73'] }),
    rim: () => Promise.resolve('#808080'),
    kept: (_: string, frames: readonly Frame[]) => Promise.resolve(frames.map((_, i) => (i === 0 ? 1 : 0.4))),
    rank: () => Promise.resolve([]),
    version: () => 1,
  };
  TestBed.configureTestingModule({
    providers: [
      WorkStore,
      Images,
      { provide: STEP_LIST, useValue: STEPS },
      Edit,
      Suggestions,
      AroundEdit,
      TrySource,
      { provide: Api, useValue: api },
      { provide: Painter, useValue: painter },
    ],
  });
  const state = TestBed.inject(WorkStore);
  state.open('w');
  return { state, sent, older, answers };
}

/** Time goes on by so much, and all that becomes due is done. */
const wait = (ms = 0): Promise<void> => jest.advanceTimersByTimeAsync(ms);
beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());
const lined = (n: number): Frame => frameOf(n, { outline: solidOutline(6, '#ffffff') });

describe('a bench', () => {
  test('saves what is done, each thing once', async () => {
    const { state, sent } = setup();
    state.take('outline white', lined(1));
    await wait(450);
    state.select(2);
    state.take('outline white', lined(2));
    state.take('text', { ...lined(2), alt: 'x' });
    await wait(450);
    expect(sent.map((s) => [s.base, s.over, s.entries.map((e) => [e.name, e.operations.map((o) => o.op)])])).toEqual([
      [1, false, [['outline white', ['set']]]],
      [
        2,
        false,
        [
          ['outline white', ['set']],
          ['text', ['set']],
        ],
      ],
    ]);
    expect(state.unsaved).toBe(false);
  });

  test('opening saves nothing; earlier entries are fetched when few are left, and are not sent again', async () => {
    const late = entryOf(31, 'late', frameOf(1, { alt: '30' }), frameOf(1, { alt: '30', outline: lined(1).outline }));
    const now = frameOf(1, { alt: '30', outline: lined(1).outline });
    const { state, sent, older } = setup(withFrames([now]), { entries: [late], more: true });
    await wait(450);
    expect([sent, older]).toEqual([[], [31]]);
    expect(state.model$.value!.history.past).toHaveLength(31);
    state.undo();
    await wait(450);
    expect(sent[0]!.entries).toMatchObject([{ name: 'late', undoes: 'e31' }]);
    for (let i = 0; i < 30; i++) state.undo();
    expect(changedFrames(state.model$.value!)).toEqual([]);
  });

  test('the next picture is framed like the last, with its own subject; the one after the last is none', async () => {
    const { state } = setup();
    expect(await state.sameAgain()).toBeNull();
    state.take('outline white', lined(1));
    expect(await state.sameAgain()).toBe(2);
    const now = takenFrame(state.model$.value!, 2);
    expect([now.outline?.weight, now.placement.aim.u]).toEqual([6, expect.closeTo(0.5, 6)]);
    expect(state.model$.value!.history.past.at(-1)!.name).toBe('same again');
    expect(await state.sameAgain()).toBe(3);
    expect(await state.sameAgain()).toBeNull();
  });

  test('pictures go into the frame, then into empty ones; each with its subject in the middle, each one step', async () => {
    const problem = { code: 'empty-frame', message: '', remedy: '' };
    const { state } = setup(workOf([pictureOf(1), pictureOf(2, { problem }), pictureOf(3)]));
    const other = { ...POT, sha256: 'd'.repeat(64) };
    expect(await state.place(1, [POT, other, POT])).toEqual([POT]);
    const m = state.model$.value!;
    expect([takenFrame(m, 1).source?.sha256, takenFrame(m, 2).source?.sha256]).toEqual([POT.sha256, other.sha256]);
    expect(takenFrame(m, 1).source?.size).toEqual(POT.size);
    expect(takenFrame(m, 2).placement.aim).toEqual(SUBJECT);
    state.undo();
    state.undo();
    expect(changedFrames(state.model$.value!)).toEqual([]);
  });

  test('more pictures join behind once everything is saved', async () => {
    const { state, sent } = setup({ ...workOf(), format: 'pictures' });
    state.take('outline white', lined(1));
    const added = state.add(['x', null]);
    await wait(450);
    await added;
    const m = state.model$.value!;
    expect([m.work.pictures.length, m.selected, changedFrames(m).map((f) => f.n)]).toEqual([5, 4, [1]]);
    state.take('tone', frameOf(4, { alt: 'new' }));
    await wait(450);
    // The server counted the joining as a revision of its own.
    expect(sent.map((s) => s.base)).toEqual([1, 9]);
  });

  const stale = (): ReturnType<Api['saveEntries']> =>
    throwError(
      () => new HttpErrorResponse({ status: 409, error: { code: 'stale-revision', title: '', detail: '', facts: {} } }),
    );

  test('after a conflict this window’s entries go over the other’s, whose other changes come in', async () => {
    const { state, sent, answers } = setup();
    answers.push(stale, () =>
      of({ revision: 6, others: [entryOf(5, 'theirs', frameOf(2), frameOf(2, { alt: 'x' }))] }),
    );
    state.take('outline white', lined(1));
    await wait(450);
    expect(state.save$.value.kind).toBe('conflict');
    state.keepMine();
    await wait(450);
    expect(sent[1]).toMatchObject({ base: 1, over: true, entries: [{ name: 'outline white' }] });
    expect(changedFrames(state.model$.value!).map((f) => [f.n, f.alt])).toEqual([
      [1, 'A pot'],
      [2, 'x'],
    ]);
    expect(state.save$.value.kind).toBe('saved');
  });

  test('or the other’s state takes the place of this one', async () => {
    const { state, sent, answers } = setup();
    answers.push(stale);
    state.take('outline white', lined(1));
    await wait(450);
    state.takeTheirs();
    await wait(450);
    expect([changedFrames(state.model$.value!), state.save$.value.kind, sent.length]).toEqual([[], 'saved', 1]);
  });

  test('the rim is looked up once things are still, and makes the finding of a faint outline possible', async () => {
    const { state } = setup();
    await wait(250);
    const frame = takenFrame(state.model$.value!);
    expect(state.facts(frame)).toMatchObject({ rim: '#808080', page: '#ffffff', subject: SUBJECT });
    expect(state.facts(lined(1)).rim).toBeUndefined();
  });
});

describe('what there is to choose from', () => {
  test('bands in words; what was taken recent; a try made from what the frame is now', async () => {
    localStorage.clear();
    const { state } = setup();
    const source = TestBed.inject(TrySource);
    await wait(150);
    TestBed.tick();
    await wait(150);
    const tries = source.tries();
    expect(source.band(tries[0]!)).toEqual({ band: 'all', words: 'Keeps all that matters.' });
    expect(source.band(tries[1]!)).toEqual({ band: 'cuts', words: 'Cuts some of what matters.' });
    // The frame moves on before the try is taken: the outline is not lost.
    state.take('outline white', lined(1));
    source.take(tries.find((t) => t.id === 'heart')!);
    const frame = takenFrame(state.model$.value!);
    expect([frame.shape.name, frame.outline?.weight]).toEqual(['heart', 6]);
    expect(source.filter().recent).toEqual(['heart']);
    expect(JSON.parse(localStorage.getItem('gable.shapes-recent')!)).toEqual(['heart']);
    source.narrow({ family: 'own' });
    expect(source.tries()).toEqual([]);
  });

  test('a shape taken before the picture was looked at comes to lie about its subject as soon as that is known', async () => {
    const { state } = setup();
    const source = TestBed.inject(TrySource);
    const circle = { id: 'circle' } as Try;
    source.take({ ...circle, entry: 'circle', frame: lined(1) });
    const early = takenFrame(state.model$.value!);
    expect([early.shape.name, early.placement.aim.u]).toEqual(['circle', 0.5]);
    await wait(150);
    TestBed.tick();
    const late = takenFrame(state.model$.value!);
    const { size } = pictureOf(1);
    expect(late.placement).toEqual(withShape(frameOf(1), { name: 'circle', knobs: {} }, size, SUBJECT).placement);
    expect(late.placement.aim.u).not.toBeCloseTo(0.5, 3);
    // One entry, as it was one click.
    expect(state.model$.value!.history.past.map((d) => d.name)).toEqual(['circle']);
    state.undo();
    expect(takenFrame(state.model$.value!)).toEqual(frameOf(1));
  });

  test('what was done since stays: an outline beside it, and a picture that was moved by hand', async () => {
    const { state } = setup();
    const source = TestBed.inject(TrySource);
    source.take({ id: 'circle', entry: 'circle', frame: lined(1) } as Try);
    const outline = solidOutline(6, '#ffffff');
    state.take('outline white', { ...takenFrame(state.model$.value!), outline });
    await wait(150);
    TestBed.tick();
    const late = takenFrame(state.model$.value!);
    expect([late.outline, late.placement.aim.u === 0.5]).toEqual([outline, false]);
    expect(state.model$.value!.history.past.map((d) => d.name)).toEqual(['circle', 'outline white', 'subject centred']);

    TestBed.resetTestingModule();
    const other = setup();
    TestBed.inject(TrySource).take({ id: 'circle', entry: 'circle', frame: lined(1) } as Try);
    const round = takenFrame(other.state.model$.value!);
    const moved = { ...round, placement: { ...round.placement, aim: { u: 0.45, v: 0.5 } } };
    other.state.take('move', moved);
    await wait(150);
    TestBed.tick();
    expect(takenFrame(other.state.model$.value!)).toEqual(moved);
  });

  test('a gesture of the knobs is one entry, one step is put back alone', async () => {
    const { state } = setup();
    const edit = TestBed.inject(Edit);
    edit.grab();
    for (const weight of [1, 2, 3])
      edit.slide('outline weight', (f) => ({ ...f, outline: solidOutline(weight, '#000000') }));
    edit.grab();
    edit.slide('outline weight', (f) => ({ ...f, outline: solidOutline(9, '#000000') }));
    edit.set('tone', (f) => ({ ...f, tone: { softness: { blur: 1 } } }));
    expect(state.model$.value!.history.past.map((d) => d.name)).toEqual(['outline weight', 'outline weight', 'tone']);
    edit.go('outline');
    expect(edit.stepChanged()).toBe(true);
    edit.stepBack();
    expect([edit.taken()?.outline, edit.taken()?.tone?.softness?.blur, edit.stepChanged()]).toEqual([null, 1, false]);
    await wait();
  });
});

describe('what comes into the file and goes out of it', () => {
  test('is done by the server in one step, and the work is read anew', async () => {
    const { state, sent } = setup();
    state.take('outline white', lined(1));
    const put = state.putIn(
      [{ picture: POT, at: { on: 'line', box: { x: 0, y: 0, width: 9, height: 6 }, after: 2 } }],
      {
        in: { story: 'story1' },
        index: 0,
      },
    );
    expect(state.arranging()).toBe(true);
    await wait(1000);
    expect(await put).toBe(true);
    // What was done before is saved before.
    expect(sent.map((s) => [s.base, s.entries.map((e) => e.name)])).toEqual([
      [1, ['outline white']],
      [2, ['picture put in']],
    ]);
    expect(sent[1]!.entries[0]!.operations).toMatchObject([
      { op: 'add', item: { id: 'p4', fill: { source: { from: 'kept', sha256: POT.sha256 } } }, slot: { index: 0 } },
    ]);
    expect([state.arranging(), state.model()!.pending]).toEqual([false, []]);
  });

  test('is undone by the server, too; what it refuses is said', async () => {
    const operations = [{ op: 'remove', id: 'p2' }] as const;
    const item = withFrames([]).pictures[1]!;
    const entry = {
      seq: 1,
      id: 'e1',
      name: 'picture deleted',
      at: '2026-04-01T09:00:00.000Z',
      operations,
      inverse: [],
    };
    const back = { op: 'remove', id: `p${item.n}` } as const;
    const { state, sent, answers } = setup(workOf(), { entries: [{ ...entry, inverse: [back] }], more: false });
    answers.push(() =>
      throwError(
        () => new HttpErrorResponse({ status: 409, error: { code: 'cannot-write', title: 'No.', detail: '' } }),
      ),
    );
    state.undo();
    await wait(1000);
    expect(sent).toHaveLength(1);
    expect(sent[0]!.entries[0]).toMatchObject({ undoes: 'e1', operations: [back] });
    expect(state.problem$.value).toMatchObject({ code: 'cannot-write' });
    // Nothing was done here that the server has not.
    expect(state.model()!.history.past).toHaveLength(1);
  });
});

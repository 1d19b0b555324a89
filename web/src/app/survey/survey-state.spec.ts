import { TestBed } from '@angular/core/testing';
import {
  FINISHES,
  newPicture,
  PLAIN_FAULTS,
  solidOutline,
  type Finish,
  type Frame,
  type FramedItem,
  type Operation,
} from '@gable/core';
import { of } from 'rxjs';
import { frameOf, pictureOf, workOf } from '../../testing/works';
import { Api } from '../api/api';
import { LegibilityOf } from '../around/legibility';
import type { KeptFinish, Marks, SaveEntries } from '@gable/contract';
import { Images } from '../work/images';
import { takenFrame } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Painter } from '../paint/painter';
import { SurveyState } from './survey-state';

// Jest cannot load a module worker; the painter is a stand-in here anyway.
jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const SHIPPED: KeptFinish[] = FINISHES.map((f) => ({ ...f, shipped: true }));
const round = SHIPPED.find((f) => f.id === 'round-portrait')!;

function setup() {
  const work = workOf(
    [1, 2, 3].map((n) =>
      pictureOf(n, {
        frame: frameOf(n, n === 2 ? { placement: { ...frameOf(2).placement, distortion: 0.7 } } : {}),
      }),
    ),
  );
  const marked: Marks[] = [];
  const api = {
    work: () => of(work),
    history: () => of({ entries: [], more: false }),
    saveEntries: (_: string, save: SaveEntries) => of({ revision: save.base + save.entries.length, others: [] }),
    finishes: () => of(SHIPPED),
    changeFinish: (id: string, finish: Finish) => of({ id, finish, shipped: true, followed: 2 }),
    mark: (_: string, marks: Marks) => {
      marked.push(marks);
      return of({});
    },
    proxyUrl: () => '/proxy',
    contents: () => of({ faces: [] }),
    keptUrl: () => '/kept',
  };
  const painter = {
    load: () => Promise.resolve({ subject: { u: 0.4, v: 0.5 }, palette: [] }),
    rim: () => Promise.resolve('#fefefe'),
    // The farther on in the work, the less is kept.
    share: (_: string, frame: Frame) => Promise.resolve(1 - frame.n / 10),
  };
  // White words on pale ones: what the last of them has, tells.
  const judged = jest.fn((_m: unknown, item: FramedItem) =>
    Promise.resolve({ contrast: item.id.endsWith('b') ? 1.4 : 5, least: 4.5, face: 0 }),
  );
  TestBed.configureTestingModule({
    providers: [
      WorkStore,
      Images,
      SurveyState,
      { provide: Api, useValue: api },
      { provide: Painter, useValue: painter },
      { provide: LegibilityOf, useValue: { facts: judged } },
    ],
  });
  const bench = TestBed.inject(WorkStore);
  const state = TestBed.inject(SurveyState);
  bench.open('w');
  TestBed.tick();
  return { bench, state, marked, judged };
}

const weights = (b: WorkStore): (number | undefined)[] =>
  b.model()!.work.pictures.map((p) => takenFrame(b.model()!, p.n).outline?.weight);

test('what each frame keeps is looked up once, and frames can be sorted by it', async () => {
  const { state } = setup();
  // What is seen of pictures is told together, a moment later.
  for (let i = 0; i < 10; i++) {
    await new Promise((r) => setTimeout(r, 20));
    TestBed.tick();
  }
  expect(state.rows().map((r) => r.kept)).toEqual([0.9, 0.8, 0.7]);
  state.arrangement.update((a) => ({ ...a, grouping: 'none', order: 'kept' }));
  expect(state.shown().map((r) => r.n)).toEqual([3, 2, 1]);
});

test('mending shows before and after, and is one entry', () => {
  const { bench, state } = setup();
  const pairs = state.mending(state.rows(), PLAIN_FAULTS);
  expect(pairs.map((p) => p.row.n)).toEqual([2]);
  state.take(
    'mended',
    pairs.map((p) => p.after),
  );
  expect(bench.model()!.history.past.map((d) => d.name)).toEqual(['mended']);
  expect(state.mending(state.rows(), PLAIN_FAULTS)).toEqual([]);
});

test('a finish is laid on the chosen frames, which follow when it changes unless they have changed or were let go', async () => {
  const { bench, state } = setup();
  state.choose([1, 2, 3]);
  state.take(
    'laid',
    state.laying(round).map((p) => p.after),
  );
  expect(weights(bench)).toEqual([3, 3, 3]);
  expect(takenFrame(bench.model()!, 1).finish).toBe('round-portrait');
  bench.take('outline', { ...takenFrame(bench.model()!, 2), outline: solidOutline(9, '#000000') });
  state.choose([3]);
  state.detach();
  await state.changeFinish(round, { ...round.finish, outline: solidOutline(5, '#ffffff') });
  expect(weights(bench)).toEqual([5, 9, 3]);
  bench.undo();
  expect(weights(bench)).toEqual([3, 9, 3]);
});

test('what lies along the rim is looked up, and tells that a line cannot be seen', async () => {
  const { state } = setup();
  state.choose([1]);
  // Pale pictures on white paper.
  state.take(
    'laid',
    state.laying(round).map((p) => p.after),
  );
  for (let i = 0; i < 3; i++) {
    await new Promise((r) => setTimeout(r));
    TestBed.tick();
  }
  expect(state.rows()[0]!.codes).toContain('faint-outline');
  expect(state.rows()[1]!.codes).not.toContain('faint-outline');
});

test('a finish that does not suit a picture says so, with the nearest that does', () => {
  const { state } = setup();
  const finish = { name: 'Large', size: { width: 3000, height: 2000 } };
  state.choose([1]);
  const [pair] = state.laying({ id: 'large', shipped: false, finish });
  expect(pair!.concern!.words).toContain('soft');
  expect(pair!.concern!.nearest!.box.width).toBeLessThan(3000);
});

test('a range follows the order in sight', () => {
  const { state } = setup();
  state.arrangement.update((a) => ({ ...a, order: 'reading', grouping: 'none' }));
  state.chooseUpTo(3, 1);
  expect([...state.chosen()].sort()).toEqual([1, 2, 3]);
});

test('what is deliberate is told to the server, and taken back', () => {
  const { state, marked } = setup();
  state.toggleDeliberate('size:1,2');
  state.toggleDeliberate('size:1,2');
  expect(marked).toEqual([{ deliberate: ['size:1,2'] }, { deliberate: [] }]);
});

test('words that stand around a picture, and around what does, are judged once it is still, and told with that picture', async () => {
  const { bench, state, judged } = setup();
  const run = { font: '', size: 12, weight: 400, italic: false, underline: false };
  const words = (id: string, to: string, text: string): Operation => ({
    op: 'add',
    item: {
      ...newPicture(
        id,
        { on: 'page', box: { x: 0, y: 0, width: 90, height: 20 } },
        {
          ...{ sha256: '0'.repeat(64), name: '', type: 'png', size: { width: 1, height: 1 }, orientation: 1 },
        },
      ),
      fill: null,
      text: {
        paragraphs: [
          { align: 'start', runs: [{ ...run, text, paint: { kind: 'solid', colour: '#ffffff', opacity: 1 } }] },
        ],
        anchor: 'top',
        inset: { top: 0, right: 0, bottom: 0, left: 0 },
      },
      tie: { to, as: 'beside', gap: 4 },
    },
    slot: { in: { page: 's1' }, index: 0 },
  });
  const page = bench.model()!.document.pages[0] ?? bench.model()!.document.stories[0]!;
  const slot = bench.model()!.document.pages[0] ? { page: page.id } : { story: page.id };
  const put = (o: Operation): Operation => (o.op === 'add' ? { ...o, slot: { in: slot, index: 0 } } : o);
  bench.act(
    'words',
    [put(words('add-a', 'p2', 'Kiln')), put(words('add-b', 'add-a', 'Fires on Friday night, come and see'))],
    null,
  );
  TestBed.tick();
  expect(state.kinds().map((k) => k.code)).not.toContain('hard-to-read');
  await new Promise((r) => setTimeout(r, 600));
  TestBed.tick();
  expect(judged.mock.calls.map(([, item]) => item.id).sort()).toEqual(['add-a', 'add-b']);
  const hard = state.kinds().find((k) => k.code === 'hard-to-read')!;
  expect(hard.rows.map((r) => r.n)).toEqual([2]);
  expect(hard.mendable).toBe(0);
  const told = hard.rows[0]!.notes.find((n) => n.code === 'hard-to-read')!.text;
  expect(told).toBe('“Fires on Friday night,…” has a contrast of 1.4 : 1. It needs 4.5 : 1.');
});

import { TestBed } from '@angular/core/testing';
import type { Face } from '@gable/core';
import { Subject as Answers } from 'rxjs';
import { frameOf, workOf } from '../../testing/works';
import { Api } from '../api/api';
import { Painter } from '../paint/painter';
import { Images, LARGE } from './images';
import { keyOf, openModel } from './work-model';

jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const FACE: Face = { u: 0.2, v: 0.2, width: 0.2, height: 0.3, score: 0.9 };
const GUESS = { u: 0.5, v: 0.5, guessed: true };
const model = openModel(workOf());
const keys = [1, 2, 3].map((n) => keyOf(model.work, frameOf(n)));

function setup() {
  const asked: number[] = [];
  const answers = new Map<number, Answers<{ faces: Face[] }>>();
  const api = {
    proxyUrl: (_: string, n: number) => `/${n}`,
    keptUrl: () => '/kept',
    contents: (_: string, { n }: { n: number }) => {
      asked.push(n);
      const answer = new Answers<{ faces: Face[] }>();
      answers.set(n, answer);
      return answer;
    },
  };
  const painter = {
    load: () => Promise.resolve({ subject: GUESS, palette: [], clear: false }),
    know: (_: string, [face]: Face[]) =>
      Promise.resolve({ subject: { u: face!.u + 0.1, v: face!.v + 0.15 }, palette: [], clear: false }),
  };
  TestBed.configureTestingModule({
    providers: [Images, { provide: Api, useValue: api }, { provide: Painter, useValue: painter }],
  });
  const images = TestBed.inject(Images);
  const answer = async (n: number, faces: Face[]): Promise<void> => {
    answers.get(n)!.next({ faces });
    answers.get(n)!.complete();
    await wait();
  };
  return { images, asked, answer };
}

/** All that becomes due in a fifth of a second is done. */
const wait = (): Promise<void> => jest.advanceTimersByTimeAsync(200);
beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

describe('what is in pictures', () => {
  test('is asked once for each, two at a time; until the answer is here the subject may change', async () => {
    const { images, asked, answer } = setup();
    await images.loadAll(model);
    await wait();
    expect(asked).toEqual([1, 2]);
    expect(images.seen()[keys[0]!]).toMatchObject({ subject: GUESS });
    expect(images.seen()[keys[0]!]!.known).toBeUndefined();
    expect(images.looked()).toEqual({ done: 0, all: 3 });
    await answer(1, [FACE]);
    expect(images.seen()[keys[0]!]).toMatchObject({ known: true, subject: { u: 0.30000000000000004, v: 0.35 } });
    await answer(2, []);
    expect(images.seen()[keys[1]!]).toMatchObject({ known: true, subject: GUESS });
    await images.loadAll(model);
    await wait();
    expect(asked).toEqual([1, 2, 3]);
  });

  test('comes for the picture on the board before others', async () => {
    const { images, asked, answer } = setup();
    await images.load(model, frameOf(1), 256);
    await images.load(model, frameOf(2), 256);
    await images.loadAll(model);
    await images.load(model, frameOf(3), LARGE);
    await answer(1, []);
    expect(asked).toEqual([1, 2, 3]);
  });

  test('can be stopped: what waits stays as its colours say, and counts as known', async () => {
    const { images, asked, answer } = setup();
    await images.loadAll(model);
    await wait();
    images.stopLooking();
    await wait();
    expect(images.seen()[keys[2]!]).toMatchObject({ known: true, subject: GUESS });
    await answer(1, []);
    await answer(2, []);
    expect(asked).toEqual([1, 2]);
    expect(images.looked()).toEqual({ done: 2, all: 2 });
  });
});

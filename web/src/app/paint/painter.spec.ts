import { TestBed } from '@angular/core/testing';
import { frameOf } from '../../testing/works';
import { Painter } from './painter';
import type { Reply, Request } from './protocol';

/** A worker that answers when it is told to. */
class HeldWorker {
  static last: HeldWorker;
  readonly asked: (Request & { id: number })[] = [];
  private hear: (event: { data: Reply }) => void = () => undefined;
  constructor() {
    HeldWorker.last = this;
  }
  addEventListener(_: string, hear: (event: { data: Reply }) => void): void {
    this.hear = hear;
  }
  postMessage(request: Request & { id: number }): void {
    this.asked.push(request);
  }
  answer(id: number, reply: object): void {
    this.hear({ data: { id, ...reply } as Reply });
  }
}

jest.mock('./worker-of', () => ({ paintWorker: () => new HeldWorker() }));

const to = { width: 10, height: 10, margin: 1 };
const settled = (): Promise<void> => new Promise((r) => setTimeout(r));

describe('asking the painter', () => {
  let painter: Painter;
  let worker: HeldWorker;
  beforeEach(() => {
    painter = TestBed.inject(Painter);
    worker = HeldWorker.last;
  });

  test('only a few tries are under way at a time; a newer wish takes the place of one that waits', async () => {
    const owners = Array.from({ length: 6 }, () => ({}));
    const got = owners.map((o, i) => painter.paintTry(o, 'p', frameOf(1, { alt: String(i) }), to));
    expect(worker.asked).toHaveLength(4);
    const newer = painter.paintTry(owners[5]!, 'p', frameOf(1, { alt: 'newer' }), to);
    expect(await got[5]).toBeNull();
    const bitmap = {} as ImageBitmap;
    for (const { id } of worker.asked.slice()) worker.answer(id, { bitmap });
    await settled();
    expect(worker.asked.slice(4).map((r) => 'frame' in r && r.frame.alt)).toEqual(['4', 'newer']);
    for (const { id } of worker.asked.slice(4)) worker.answer(id, { bitmap });
    expect(await newer).toBe(bitmap);
    expect(await got[0]).toBe(bitmap);
  });

  test('the board does not wait behind tries', () => {
    for (let i = 0; i < 6; i++) void painter.paintTry({}, 'p', frameOf(1), to);
    painter.board({
      width: 1,
      height: 1,
      draft: false,
      ghost: 0,
      key: 'p',
      frame: frameOf(1),
      target: { x: 0, y: 0, scale: 1 },
    });
    expect(worker.asked.at(-1)!.kind).toBe('board');
  });

  test('what frames keep is asked in parts, and put together again', async () => {
    const shares = painter.kept(
      'p',
      Array.from({ length: 40 }, (_, i) => frameOf(1, { alt: String(i) })),
    );
    for (let part = 0; part < 3; part++) {
      const { id, frames } = worker.asked.at(-1) as Extract<Request, { kind: 'kept' }>;
      worker.answer(id, { shares: frames.map((f) => Number(f.alt)) });
      await settled();
    }
    expect(await shares).toEqual(Array.from({ length: 40 }, (_, i) => i));
  });

  test('a question asked anew ends the old one, and is answered itself', async () => {
    const frames = Array.from({ length: 20 }, () => frameOf(1));
    const old = painter.kept('p', frames);
    const now = painter.kept('p', frames.slice(0, 2));
    worker.answer(worker.asked[0]!.id, { shares: new Array<number>(16).fill(1) });
    expect(await old).toBeNull();
    await settled();
    for (const { id } of worker.asked.slice(1)) worker.answer(id, { shares: [0.5, 0.6] });
    expect(await now).toEqual([0.5, 0.6]);
  });

  test('a picture is fetched once for each address, and again after it failed', async () => {
    const size = { width: 3, height: 2 };
    const [a, b] = [painter.load('p', '/x', size), painter.load('p', '/x', size)];
    expect(worker.asked).toHaveLength(1);
    expect(painter.version('p')).toBe(0);
    worker.answer(worker.asked[0]!.id, { subject: { u: 0.1, v: 0.2 }, palette: ['#111111'] });
    expect(await a).toEqual({ subject: { u: 0.1, v: 0.2 }, palette: ['#111111'] });
    expect(await b).toEqual(await a);
    expect(painter.version('p')).toBe(1);
    const lost = painter.load('p', '/y', size);
    worker.answer(worker.asked[1]!.id, { failed: '404' });
    expect(await lost).toBeNull();
    void painter.load('p', '/y', size);
    expect(worker.asked).toHaveLength(3);
  });
});

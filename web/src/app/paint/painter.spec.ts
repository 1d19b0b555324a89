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

  const labels = (r: Request & { id: number }): string[] => ('tries' in r ? r.tries.map((t) => t.frame.alt) : []);

  test('tries are painted eight to a bitmap, two bitmaps at a time; a newer wish takes the place of one that waits', async () => {
    const owners = Array.from({ length: 20 }, () => ({}));
    const got = owners.map((o, i) => painter.paintTry(o, 'p', frameOf(1, { alt: String(i) }), to));
    await settled();
    expect(worker.asked.map((r) => labels(r).length)).toEqual([8, 8]);
    const newer = painter.paintTry(owners[18]!, 'p', frameOf(1, { alt: 'newer' }), to);
    expect(await got[18]).toBeNull();
    const close = jest.fn();
    const bitmap = { close } as unknown as ImageBitmap;
    worker.answer(worker.asked[0]!.id, { bitmap });
    await settled();
    expect(labels(worker.asked[2]!)).toEqual(['16', '17', 'newer', '19']);
    expect(await got[3]).toMatchObject({ bitmap, x: 30, width: 10, height: 10 });
    // The bitmap is given up with the last of its pieces, not before.
    for (const i of [0, 1, 2, 3, 4, 5, 6]) (await got[i])!.release();
    expect(close).not.toHaveBeenCalled();
    (await got[7])!.release();
    expect((await got[3])!.last).toBe(false);
    expect(close).toHaveBeenCalledTimes(1);
    worker.answer(worker.asked[2]!.id, { failed: 'no memory' });
    expect(await newer).toBeNull();
    // With the last of all that were asked for, the sheet need not wait for more.
    worker.answer(worker.asked[1]!.id, { bitmap });
    expect((await got[8])!.last).toBe(true);
  });

  test('what the smallest copy has enough for is not painted anew for a larger one', () => {
    const size = { width: 3, height: 2 };
    for (const url of ['/small', '/large']) void painter.load('q', url, size, 256);
    for (const { id } of worker.asked.slice()) worker.answer(id, { subject: { u: 0, v: 0 }, palette: [] });
    return settled().then(() => expect([painter.version('q', 256), painter.version('q', 257)]).toEqual([1, 2]));
  });

  test('only large copies wait for a pause in the painting', () => {
    for (const side of [256, 1600]) void painter.load('r', `/r${side}`, { width: 3, height: 2 }, side);
    expect(worker.asked.map((r) => 'patient' in r && r.patient)).toEqual([false, true]);
  });

  test('the board does not wait behind tries', async () => {
    for (let i = 0; i < 40; i++) void painter.paintTry({}, 'p', frameOf(1), to);
    await settled();
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
    await settled();
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
    await settled();
    const now = painter.kept('p', frames.slice(0, 2));
    worker.answer(worker.asked[0]!.id, { shares: new Array<number>(16).fill(1) });
    expect(await old).toBeNull();
    await settled();
    for (const { id } of worker.asked.slice(1)) worker.answer(id, { shares: [0.5, 0.6] });
    expect(await now).toEqual([0.5, 0.6]);
  });

  test('a picture is fetched once for each address, and again after it failed', async () => {
    const size = { width: 3, height: 2 };
    const [a, b] = [painter.load('p', '/x', size, 256), painter.load('p', '/x', size, 256)];
    expect(worker.asked).toHaveLength(1);
    expect(painter.version('p')).toBe(0);
    worker.answer(worker.asked[0]!.id, { subject: { u: 0.1, v: 0.2 }, palette: ['#111111'] });
    expect(await a).toEqual({ subject: { u: 0.1, v: 0.2 }, palette: ['#111111'] });
    expect(await b).toEqual(await a);
    expect(painter.version('p')).toBe(1);
    const lost = painter.load('p', '/y', size, 256);
    worker.answer(worker.asked[1]!.id, { failed: '404' });
    expect(await lost).toBeNull();
    void painter.load('p', '/y', size, 256);
    expect(worker.asked).toHaveLength(3);
  });
});

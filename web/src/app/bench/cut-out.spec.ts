import { TestBed } from '@angular/core/testing';
import type { CutOut as Found, CutOutWish } from '@gable/contract';
import { bounds, parseSvgPath, type Frame, type ShapeChoice } from '@gable/core';
import { of, Subject } from 'rxjs';
import { workOf } from '../../testing/works';
import { Api } from '../api/api';
import { Painter } from '../paint/painter';
import { Images } from '../work/images';
import { takenFrame } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { CutOut } from './cut-out';
import { Edit } from './edit';
import { STEPS } from './steps';
import { STEP_LIST } from './steps/step';
import { ALL_SHAPES } from './tries';

jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const SHAPE: ShapeChoice = {
  name: 'silhouette',
  knobs: {},
  drawn: { path: 'M0 0L1 0.5L0 1Z', ratio: 0.75, label: 'Subject' },
};
const found = (mask: string): Found => ({
  mask,
  outline: { shape: SHAPE, region: { u: 0.25, v: 0.25, width: 0.25, height: 0.5 } },
});

function setup() {
  const asked: { wish: CutOutWish; answer: Subject<Found> }[] = [];
  const api = {
    work: () => of(workOf()),
    history: () => of({ entries: [], more: false }),
    saveEntries: () => of({ revision: 2, others: [] }),
    proxyUrl: () => '/proxy',
    contents: () => of({ faces: [] }),
    cutOut: (_: string, __: unknown, wish: CutOutWish) => {
      const answer = new Subject<Found>();
      asked.push({ wish, answer });
      return answer;
    },
  };
  HTMLDialogElement.prototype.showModal = function () {
    this.open = true;
  };
  HTMLDialogElement.prototype.close = function () {
    this.open = false;
    this.dispatchEvent(new Event('close'));
  };
  Element.prototype.setPointerCapture = () => undefined;
  const seen = { subject: { u: 0.5, v: 0.5 }, palette: [], clear: false };
  TestBed.configureTestingModule({
    imports: [CutOut],
    providers: [
      WorkStore,
      Images,
      Edit,
      { provide: STEP_LIST, useValue: STEPS },
      { provide: Api, useValue: api },
      { provide: Painter, useValue: { load: () => Promise.resolve(seen), rim: () => Promise.resolve(null) } },
    ],
  });
  const state = TestBed.inject(WorkStore);
  state.open('w');
  const fixture = TestBed.createComponent(CutOut);
  fixture.detectChanges();
  fixture.componentInstance.open();
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const button = (label: string): HTMLButtonElement =>
    [...host.querySelectorAll('button')].find((b) => b.textContent.trim() === label)!;
  const reply = (at: number, mask: string): void => {
    asked[at]!.answer.next(found(mask));
    asked[at]!.answer.complete();
    fixture.detectChanges();
  };
  const stage = (): HTMLElement => host.querySelector<HTMLElement>('[data-stage]')!;
  const draw = (...points: [number, number][]): void => {
    stage().getBoundingClientRect = () => new DOMRect(0, 0, 200, 100);
    points.forEach(([clientX, clientY], i) => {
      const type = i === 0 ? 'pointerdown' : 'pointermove';
      stage().dispatchEvent(Object.assign(new MouseEvent(type, { clientX, clientY, bubbles: true }), { pointerId: 1 }));
    });
    stage().dispatchEvent(new MouseEvent('pointerup', { bubbles: true }));
    fixture.detectChanges();
  };
  return { asked, host, button, reply, draw, now: (): Frame => takenFrame(state.model()!), stage };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

describe('cutting out', () => {
  test('begins by itself, refines its edge when nothing is painted, and gives the frame the subject alone', () => {
    const { asked, button, reply, now, host } = setup();
    expect(asked.map((a) => a.wish)).toEqual([{ strokes: [], fine: false }]);
    expect(button('Subject alone').disabled).toBe(true);
    reply(0, 'QQ==');
    expect(host.textContent).toContain('Paint over what is missing or too much.');
    jest.advanceTimersByTime(1000);
    expect(asked[1]!.wish).toEqual({ strokes: [], fine: true });
    reply(1, 'Qg==');
    button('Subject alone').click();
    expect(now().shape).toEqual(SHAPE);
    expect(now().box.width / now().box.height).toBeCloseTo(0.75, 9);
  });

  test('it reaches over the top edge of its shape, and stays known when it is taken back', () => {
    const { button, reply, now } = setup();
    reply(0, 'QQ==');
    const edit = TestBed.inject(Edit);
    expect(edit.subject()).toBeNull();
    button('Over the edge').click();
    const { overstep } = now();
    // The triangle of the outline, in shares of the picture.
    expect(bounds(parseSvgPath(overstep!.subject))).toMatchObject({ x: 0.25, y: 0.25, width: 0.25, height: 0.5 });
    expect(Object.keys(overstep!.lines)).toEqual(['top']);
    const tries = () =>
      STEPS.find((s) => s.name === 'position')!
        .tries(
          {
            frame: now(),
            original: now(),
            size: edit.size(),
            subject: undefined,
            palette: [],
            suggested: [],
            outline: edit.subject(),
            ranking: null,
            own: [],
            freeable: true,
            placed: false,
            room: null,
            around: null,
          },
          ALL_SHAPES,
        )
        .map((t) => t.id);
    expect(tries()).toEqual(expect.arrayContaining(['within', 'over-top']));
    TestBed.inject(WorkStore).undo();
    expect(now().overstep).toBeUndefined();
    expect(edit.subject()).toBe(overstep!.subject);
    expect(tries()).toContain('over-top');
    expect(tries()).not.toContain('within');
  });

  test('each stroke is a look of its own; an answer that was overtaken is left; strokes are taken back one by one', () => {
    const { asked, button, reply, draw, host } = setup();
    reply(0, 'QQ==');
    draw([100, 50], [140, 50]);
    const [stroke] = asked[1]!.wish.strokes!;
    expect(stroke).toMatchObject({
      brush: 'subject',
      points: [
        { u: 0.5, v: 0.5 },
        { u: 0.7, v: 0.5 },
      ],
    });
    button('Background').click();
    draw([20, 20]);
    expect(asked[2]!.wish.strokes!.map((s) => s.brush)).toEqual(['subject', 'background']);
    reply(1, 'old=');
    expect(host.innerHTML).not.toContain('base64,old=');
    reply(2, 'new=');
    button('Undo stroke').click();
    expect(asked[3]!.wish.strokes).toEqual([stroke]);
    button('Start again').click();
    expect(asked[4]!.wish.strokes).toEqual([]);
    TestBed.tick();
    expect(button('Undo stroke').disabled).toBe(true);
  });

  test('what goes wrong is said, and can be tried again; closing asks nothing more', () => {
    const { asked, button, host } = setup();
    asked[0]!.answer.error(new Error('gone'));
    TestBed.tick();
    expect(host.querySelector('[role=alert]')).not.toBeNull();
    button('Try again').click();
    expect(asked).toHaveLength(2);
    button('Cancel').click();
    jest.advanceTimersByTime(5000);
    expect(asked).toHaveLength(2);
    expect(asked[1]!.answer.observed).toBe(false);
  });
});

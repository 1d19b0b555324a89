import { TestBed } from '@angular/core/testing';
import {
  deriveView,
  keptOfMark,
  ontoBox,
  sameRegion,
  type Face,
  type Frame,
  type KeepMark,
  type Region,
} from '@gable/core';
import { of, throwError } from 'rxjs';
import { frameOf, withFrames } from '../../testing/works';
import { Api } from '../api/api';
import { Painter } from '../paint/painter';
import { Images } from '../work/images';
import { Suggestions } from '../work/suggestions';
import { takenFrame } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Edit } from './edit';
import { KeepMarks, withNewMark } from './keep-marks';
import { STEPS } from './steps';
import { STEP_LIST } from './steps/step';

jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

const FACE: Face = { u: 0.2, v: 0.2, width: 0.2, height: 0.3, score: 0.9 };
const WORDS = { u: 0.6, v: 0.7, width: 0.2, height: 0.1, text: 'Open day' };
const LAYOUT = { scale: 2, x: 100, y: 50 };

/** The marks of the first picture on a board at twice its size. */
async function setup(keep: KeepMark[] = [], fails = false) {
  const sent: Region[][] = [];
  const api = {
    work: () => of(withFrames(keep.length > 0 ? [frameOf(1, { keep })] : [])),
    history: () => of({ entries: [], more: false }),
    saveEntries: () => of({ revision: 2, others: [] }),
    proxyUrl: () => '/proxy',
    contents: () => of({ faces: [FACE] }),
    suggestions: jest.fn(() => of({ words: [WORDS], refused: [] })),
    refuse: (_: string, __: unknown, refused: Region[]) => {
      sent.push(refused);
      return fails ? throwError(() => new Error('gone')) : of(undefined);
    },
  };
  const seen = { subject: { u: 0.5, v: 0.5 }, palette: [], clear: false };
  const painter = {
    load: () => Promise.resolve(seen),
    know: () => Promise.resolve(seen),
    rim: () => Promise.resolve(null),
  };
  TestBed.configureTestingModule({
    imports: [KeepMarks],
    providers: [
      WorkStore,
      Images,
      Edit,
      Suggestions,
      { provide: STEP_LIST, useValue: STEPS },
      { provide: Api, useValue: api },
      { provide: Painter, useValue: painter },
    ],
  });
  const state = TestBed.inject(WorkStore);
  state.open('w');
  const fixture = TestBed.createComponent(KeepMarks);
  for (const [name, value] of Object.entries({ layout: LAYOUT, room: { width: 900, height: 500 }, suggest: true }))
    fixture.componentRef.setInput(name, value);
  const settle = async (): Promise<void> => {
    fixture.detectChanges();
    await new Promise((resolve) => setTimeout(resolve, 90));
    fixture.detectChanges();
    await fixture.whenStable();
  };
  await settle();
  const host = fixture.nativeElement as HTMLElement;
  const button = (label: string): HTMLButtonElement =>
    [...host.querySelectorAll('button')].find((b) => (b.getAttribute('aria-label') ?? b.textContent).trim() === label)!;
  const press = (label: string, key: string, shiftKey = false): void => {
    button(label).dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true }));
    fixture.detectChanges();
  };
  return { api, sent, host, button, press, settle, now: (): Frame => takenFrame(state.model()!) };
}

describe('what is suggested', () => {
  test('is taken by one click, named, and kept in view', async () => {
    const { button, settle, now, host, api } = await setup();
    expect(host.querySelectorAll('[data-suggested]')).toHaveLength(2);
    button('Keep Face visible').click();
    await settle();
    expect(now().keep).toEqual([{ u: 0.2, v: 0.2, width: 0.2, height: 0.3, name: 'Face' }]);
    expect(keptOfMark(now(), { width: 3000, height: 2000 }, now().keep![0]!)).toBeGreaterThan(0.995);
    expect(host.querySelectorAll('[data-suggested]')).toHaveLength(1);
    expect(api.suggestions).toHaveBeenCalledTimes(1);
  });

  test('is refused by one click, for good, and can be had back', async () => {
    const { button, settle, host, sent, now } = await setup();
    button('Do not suggest “Open day”').click();
    await settle();
    expect(sent).toHaveLength(1);
    expect(sameRegion(sent[0]![0]!, WORDS)).toBe(true);
    expect(host.querySelectorAll('[data-suggested]')).toHaveLength(1);
    expect(now().keep).toBeUndefined();
    button('Suggest the dismissed area again').click();
    await settle();
    expect(sent.at(-1)).toEqual([]);
    expect(host.querySelectorAll('[data-suggested]')).toHaveLength(2);
  });

  test('comes back where the server did not hear of it', async () => {
    const { button, settle, host } = await setup([], true);
    button('Do not suggest Face').click();
    await settle();
    expect(host.querySelectorAll('[data-suggested]')).toHaveLength(2);
  });
});

describe('marks', () => {
  const jug: KeepMark = { u: 0.4, v: 0.4, width: 0.2, height: 0.2, name: 'Jug' };

  test('stand where they are in the picture', async () => {
    const { host, now } = await setup([jug]);
    const f = now();
    const at = ontoBox(deriveView(f.placement, f.box, { width: 3000, height: 2000 }).matrix, jug, {
      width: 3000,
      height: 2000,
    });
    const chip = host.querySelector<HTMLElement>('[data-mark]')!;
    expect(parseFloat(chip.style.left)).toBeCloseTo(LAYOUT.x + at.x * LAYOUT.scale, 3);
    expect(parseFloat(chip.style.top)).toBeCloseTo(LAYOUT.y + at.y * LAYOUT.scale, 3);
  });

  test('move and grow by the keyboard, stay on the picture, are renamed and removed', async () => {
    const { press, now, host, settle } = await setup([jug]);
    press('Jug, kept visible', 'ArrowRight');
    expect(now().keep![0]!.u).toBeCloseTo(0.41, 9);
    press('Jug, kept visible', 'ArrowDown', true);
    expect(now().keep![0]!.height).toBeCloseTo(0.21, 9);
    for (let i = 0; i < 60; i++) press('Jug, kept visible', 'ArrowUp');
    expect(now().keep![0]).toMatchObject({ v: 0, name: 'Jug' });
    press('Jug, kept visible', 'Enter');
    const field = host.querySelector('input')!;
    field.value = ' The big jug ';
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    await settle();
    expect(now().keep![0]!.name).toBe('The big jug');
    press('The big jug, kept visible', 'Delete');
    expect(now().keep).toBeUndefined();
  });

  test('one that cannot be in view with the others is still marked, and moves nothing', () => {
    const size = { width: 3000, height: 2000 };
    const square = frameOf(1, { box: { x: 0, y: 0, width: 100, height: 200 }, keep: [{ ...jug, u: 0.05 }] });
    const there = withNewMark(square, { ...jug, u: 0.8 }, size);
    expect(there.keep).toHaveLength(2);
    expect(keptOfMark(there, size, there.keep![0]!)).toBeGreaterThan(0.99);
    expect(keptOfMark(there, size, there.keep![1]!)).toBeLessThan(0.1);
  });
});

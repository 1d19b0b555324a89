import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { Type } from '@angular/core';
import type { Paint } from '@gable/core';
import { Choice } from './choice';
import { GradientEditor } from './gradient';
import { walk } from './roving';
import { SliderField } from './slider-field';
import { ColourField } from './colour-field';

async function make<T>(type: Type<T>, inputs: object): Promise<{ fixture: ComponentFixture<T>; host: HTMLElement }> {
  const fixture = TestBed.createComponent(type);
  for (const [k, v] of Object.entries(inputs)) fixture.componentRef.setInput(k, v);
  await fixture.whenStable();
  return { fixture, host: fixture.nativeElement as HTMLElement };
}
const press = (on: Element, key: string, more: KeyboardEventInit = {}): boolean =>
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));

describe('walking by arrow keys', () => {
  const at = (key: string, more: KeyboardEventInit = {}): number | null =>
    walk(new KeyboardEvent('keydown', { key, ...more }), 4, 10, 3);
  test('along rows and columns, to the ends and not beyond', () => {
    expect(['ArrowRight', 'ArrowLeft', 'ArrowDown', 'ArrowUp', 'Home', 'End'].map((k) => at(k))).toEqual([
      5, 3, 7, 1, 0, 9,
    ]);
    expect(walk(new KeyboardEvent('keydown', { key: 'ArrowRight' }), 9, 10)).toBe(9);
  });
  test('other keys, and those with Ctrl, belong to others', () => {
    expect([at('a'), at('ArrowRight', { ctrlKey: true })]).toEqual([null, null]);
  });
});

test('a choice is walked along, and what cannot be had is passed over', async () => {
  const { fixture, host } = await make(Choice, {
    label: 'Fit',
    value: 'b',
    options: [
      { value: 'a', label: 'A' },
      { value: 'b', label: 'B' },
      { value: 'c', label: 'C', disabled: true },
    ],
  });
  const taken: unknown[] = [];
  fixture.componentInstance.changed.subscribe((v) => taken.push(v));
  const group = host.querySelector('[role=radiogroup]')!;
  press(group, 'ArrowLeft');
  press(group, 'ArrowRight');
  expect(taken).toEqual(['a']);
  expect(host.querySelectorAll('[tabindex="0"]')).toHaveLength(1);
});

test('a slider moves by doubling where it should, and a key held down is one gesture', async () => {
  const { fixture, host } = await make(SliderField, {
    label: 'Zoom',
    kind: 'times',
    value: 4,
    min: 1,
    max: 16,
    log: true,
  });
  const told: (number | string)[] = [];
  fixture.componentInstance.changed.subscribe((v) => told.push(v));
  fixture.componentInstance.grabbed.subscribe(() => told.push('grab'));
  const slider = host.querySelector<HTMLInputElement>('input[type=range]')!;
  expect([slider.min, slider.max, slider.value]).toEqual(['0', '4', '2']);
  press(slider, 'ArrowRight');
  slider.value = '3';
  slider.dispatchEvent(new Event('input'));
  press(slider, 'ArrowRight', { repeat: true });
  slider.value = '3.5';
  slider.dispatchEvent(new Event('input'));
  expect(told).toEqual(['grab', 8, expect.closeTo(2 ** 3.5, 6)]);
});

test('colours are chosen, or typed; a word that is none is marked and not taken', async () => {
  const { fixture, host } = await make(ColourField, { label: 'Colour', value: '#ffffff', picture: ['#102030'] });
  const taken: string[] = [];
  fixture.componentInstance.changed.subscribe((v) => taken.push(v));
  host.querySelector<HTMLElement>('[aria-label="In the picture: #102030"]')!.click();
  const field = host.querySelector<HTMLInputElement>('input')!;
  for (const text of ['#ABC', 'teal-ish']) {
    field.value = text;
    field.dispatchEvent(new Event('change'));
  }
  expect(taken).toEqual(['#102030', '#aabbcc']);
  await fixture.whenStable();
  expect(field.getAttribute('aria-invalid')).toBe('true');
  expect(host.querySelector('[role=alert]')!.textContent).toContain('Type a name such as light gray');
});

describe('the stops of a gradient', () => {
  const stop = (at: number, colour: string): { at: number; colour: string; opacity: number } => ({
    at,
    colour,
    opacity: 1,
  });
  const setup = async (stops = [stop(0, '#000000'), stop(0.5, '#ff0000'), stop(1, '#ffffff')]) => {
    const paint: Paint = { kind: 'linear', angle: 90, stops };
    const { fixture, host } = await make(GradientEditor, { paint });
    const told: { at: number; colour: string }[][] = [];
    fixture.componentInstance.changed.subscribe((s) => told.push(s));
    return { host, told, handles: host.querySelectorAll('[role=slider]') };
  };

  test('are moved by keys, finely and in larger steps', async () => {
    const { told, handles } = await setup();
    press(handles[1]!, 'ArrowRight');
    press(handles[1]!, 'ArrowLeft', { shiftKey: true });
    expect(told.map((s) => s[1]!.at)).toEqual([expect.closeTo(0.51, 9), expect.closeTo(0.45, 9)]);
  });

  test('are removed down to two, added up to ten', async () => {
    const { told, handles, host } = await setup();
    press(handles[1]!, 'Delete');
    expect(told[0]).toHaveLength(2);
    const two = await setup([stop(0, '#000000'), stop(1, '#ffffff')]);
    press(two.handles[0]!, 'Delete');
    expect(two.told).toEqual([]);
    const [add] = [...host.querySelectorAll('button')].filter((b) => b.getAttribute('aria-label') === 'Add a stop');
    add!.click();
    expect(told.at(-1)).toHaveLength(4);
    const ten = await setup(Array.from({ length: 10 }, (_, i) => stop(i / 9, '#123456')));
    const [full] = [...ten.host.querySelectorAll('button')].filter(
      (b) => b.getAttribute('aria-label') === 'Add a stop',
    );
    expect(full!.disabled).toBe(true);
  });
});

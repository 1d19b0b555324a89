import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { FigureField, type FigureKind } from './figure-field';
import { Units } from './units';

async function field(
  kind: FigureKind,
  value: number,
  limits: { min?: number; max?: number; whole?: number } = {},
): Promise<{ input: HTMLInputElement; taken: number[]; fixture: ComponentFixture<FigureField> }> {
  const fixture = TestBed.createComponent(FigureField);
  const taken: number[] = [];
  fixture.componentRef.setInput('label', 'Across');
  fixture.componentRef.setInput('kind', kind);
  fixture.componentRef.setInput('value', value);
  for (const [k, v] of Object.entries(limits)) fixture.componentRef.setInput(k, v);
  fixture.componentInstance.changed.subscribe((v) => taken.push(v));
  await fixture.whenStable();
  return { input: (fixture.nativeElement as HTMLElement).querySelector('input')!, taken, fixture };
}

async function type(f: Awaited<ReturnType<typeof field>>, text: string): Promise<void> {
  f.input.value = text;
  f.input.dispatchEvent(new Event('input'));
  f.input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
  await f.fixture.whenStable();
}

describe('a typed figure', () => {
  beforeEach(() => TestBed.inject(Units).set('mm'));

  test('shows its value with its unit, and takes any unit', async () => {
    const f = await field('mm', 72);
    expect(f.input.value).toBe('25.4 mm');
    await type(f, '2 in');
    await type(f, '50');
    expect(f.taken[0]).toBe(144);
    // A bare number is in the unit that is shown: that of the last one typed.
    expect(f.taken[1]).toBe(3600);
  });

  test('percent and factors', async () => {
    const p = await field('percent', 0.5);
    expect(p.input.value).toBe('50 %');
    await type(p, '37,5 %');
    expect(p.taken).toEqual([0.375]);
    const t = await field('times', 1.25);
    expect(t.input.value).toBe('× 1.25');
    await type(t, 'x2');
    expect(t.taken).toEqual([2]);
  });

  test('what is no figure, or out of range, is marked and not taken', async () => {
    const f = await field('mm', 72, { min: 8 });
    for (const bad of ['wide', '', '1 mm', '-5']) {
      await type(f, bad);
      expect(f.input.getAttribute('aria-invalid')).toBe('true');
    }
    expect(f.taken).toEqual([]);
  });

  test('says why it refuses, and what would do', async () => {
    const f = await field('length', 72, { min: 8, max: 720 });
    const said = (): string =>
      (f.fixture.nativeElement as HTMLElement).querySelector('[role=alert]')?.textContent ?? '';
    await type(f, 'wide');
    expect(said()).toBe('Type a length such as 32mm, 1.25in or 540px.');
    await type(f, '900 pt');
    expect(said()).toBe('The most is 254 mm.');
  });

  test('shows what was typed in the unit it was typed in, and its percent of a whole', async () => {
    const f = await field('length', 72, { whole: 144 });
    await type(f, '540px');
    f.fixture.componentRef.setInput('value', f.taken[0]);
    await f.fixture.whenStable();
    expect([f.taken[0], f.input.value]).toEqual([405, '540 px']);
    await type(f, '50 %');
    f.fixture.componentRef.setInput('value', f.taken[1]);
    await f.fixture.whenStable();
    expect([f.taken[1], f.input.value]).toEqual([72, '50 %']);
    TestBed.inject(Units).set('in');
    await f.fixture.whenStable();
    expect(f.input.value).toBe('1 in');
  });

  test('a figure that was held is told so', async () => {
    const f = await field('length', 10);
    await type(f, '30 mm');
    // There is room for this much only.
    f.fixture.componentRef.setInput('value', 28.9);
    await f.fixture.whenStable();
    expect((f.fixture.nativeElement as HTMLElement).textContent).toContain('Held at 10.2 mm: there is no more room.');
  });

  test('Escape puts back what was there', async () => {
    const f = await field('pt', 6);
    f.input.value = '9';
    f.input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
    expect([f.input.value, f.taken]).toEqual(['6 pt', []]);
  });
});

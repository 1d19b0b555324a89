import { signal, type Type } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { BehaviorSubject, NEVER, of, Subject, throwError } from 'rxjs';
import { HttpErrorResponse } from '@angular/common/http';
import { frameOf, withFrames, workOf } from '../../testing/works';
import { Api } from '../api/api';
import type { ExportFormat, FrameFidelity, Job, LibraryPicture } from '@gable/contract';
import { Intake } from '../intake/intake';
import { PictureChooser } from '../library/picture-chooser';
import { openModel, type WorkModel } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Edit } from './edit';
import { GetOut } from '../handover/get-out';
import { HandOver } from '../handover/hand-over';
import { benchKeys, keyGroups } from './keys';
import { STEPS } from './steps';
import { Letters } from '../ui/letters';
import { Shortcuts } from '../ui/shortcuts';

jest.mock('../paint/worker-of', () => ({ paintWorker: () => null }));

// jsdom has no dialogs: opening and closing is all they need here.
beforeAll(() => {
  HTMLDialogElement.prototype.showModal = function () {
    this.open = true;
  };
  HTMLDialogElement.prototype.close = function () {
    this.open = false;
  };
});

const model = (): WorkModel => openModel(workOf());

async function make<T>(
  type: Type<T>,
  api: object,
  state: WorkModel,
): Promise<{ fixture: ComponentFixture<T>; host: HTMLElement }> {
  const model$ = new BehaviorSubject<WorkModel | null>(state);
  const stand = { model$, model: signal(state), settled: () => Promise.resolve(true), problem$: new Subject() };
  TestBed.configureTestingModule({
    providers: [
      { provide: Api, useValue: api },
      { provide: WorkStore, useValue: stand },
      { provide: Edit, useValue: { taken: signal(frameOf(1)), problem: signal(null), picture: signal(null) } },
    ],
  });
  const fixture = TestBed.createComponent(type);
  await fixture.whenStable();
  return { fixture, host: fixture.nativeElement as HTMLElement };
}
const settled = async (fixture: ComponentFixture<unknown>): Promise<void> => {
  await new Promise((r) => setTimeout(r, 200));
  await fixture.whenStable();
};

describe('handing over', () => {
  const jobs = (...list: Job[]): { jobs: Job[]; size: number } => ({ jobs: list, size: 4_185_283 });

  const fidelity: FrameFidelity[] = [
    { n: 1, fidelity: 'native', reasons: [] },
    { n: 2, fidelity: 'rasterised-fill', reasons: ['a changed tone'] },
  ];

  test('says before the file is written which frames are painted, and how', async () => {
    const asked: unknown[] = [];
    const api = {
      jobs: () => of(jobs()),
      fidelity: (_: string, frames: unknown) => (asked.push(frames), of(fidelity)),
    };
    const changed = [1, 2].map((n) => frameOf(n, { alt: `number ${n}` }));
    const { fixture, host } = await make(HandOver, api, openModel(withFrames(changed)));
    fixture.componentInstance.open();
    await settled(fixture);
    expect(asked).toEqual([changed]);
    expect(host.textContent).toContain('2 of 3 pictures');
    const list = [...host.querySelectorAll('li')].map((l) => l.textContent?.trim());
    expect(list).toEqual(['Picture 2: a changed tone. Shape, outline and shadow stay editable.']);
    // What is said of all does not gainsay what is said of one.
    expect(host.textContent).toContain('1 of them stays editable in any program.');
    expect(host.textContent).not.toMatch(/All of them stay editable/);
  });

  test('where all is painted, nothing is said to stay editable in any program', async () => {
    const painted = fidelity.map((f): FrameFidelity => ({ ...f, fidelity: 'rasterised', reasons: ['a changed tone'] }));
    const api = { jobs: () => of(jobs()), fidelity: () => of(painted) };
    const changed = [1, 2].map((n) => frameOf(n, { alt: `number ${n}` }));
    const { fixture, host } = await make(HandOver, api, openModel(withFrames(changed)));
    fixture.componentInstance.open();
    await settled(fixture);
    expect(host.querySelectorAll('li')).toHaveLength(2);
    expect(host.textContent).not.toContain('in any program');
  });

  test('with nothing changed it promises the very same bytes, and asks nothing', async () => {
    const { fixture, host } = await make(HandOver, { jobs: () => of(jobs()) }, model());
    fixture.componentInstance.open();
    await settled(fixture);
    expect(host.textContent).toContain('You get the same file back, byte for byte');
  });

  const job = (more: Partial<Job>): Job => ({
    id: 'j',
    kind: 'hand-over',
    work: 'w',
    createdAt: '2026-04-01T09:00:00.000Z',
    revision: 1,
    name: 'Handbook.docx',
    state: 'running',
    done: 0,
    total: 3,
    size: null,
    said: null,
    problem: null,
    ...more,
  });
  const button = (host: HTMLElement, words: string): HTMLButtonElement =>
    [...host.querySelectorAll('button')].find((b) => b.textContent?.includes(words))!;

  test('it says how far it is, can be stopped, and then made after all', async () => {
    const events = new Subject<Job>();
    const cancelled: string[] = [];
    const answered = new Subject<null>();
    const api = {
      jobs: () => of(jobs()),
      sendJob: () => of(job({ state: 'waiting' })),
      watchJob: () => events,
      cancelJob: (id: string) => (cancelled.push(id), answered),
      jobFileUrl: (id: string) => `#${id}`,
    };
    const { fixture, host } = await make(HandOver, api, model());
    const handed: string[] = [];
    fixture.componentInstance.handed.subscribe((words) => handed.push(words));
    fixture.componentInstance.open();
    await settled(fixture);
    button(host, 'Download file').click();
    await settled(fixture);
    events.next(job({ done: 2 }));
    await settled(fixture);
    expect(host.querySelector('progress')!.value).toBe(2);
    expect(host.textContent).toContain('2 of 3');
    button(host, 'Stop').click();
    await settled(fixture);
    // It has stopped when the server has said so, not before.
    expect(cancelled).toEqual(['j']);
    expect(button(host, 'Stop').disabled).toBe(true);
    expect(host.querySelector('progress')).not.toBeNull();
    answered.complete();
    await settled(fixture);
    expect(host.querySelector('progress')).toBeNull();
    button(host, 'Download file').click();
    await settled(fixture);
    events.next(job({ state: 'done', done: 3, size: 4_290_000 }));
    await settled(fixture);
    expect(host.querySelector('dialog')!.open).toBe(false);
    expect(handed).toEqual(['Handed over: Handbook.docx, 4.3 MB; before: 4.2 MB.']);
  });

  test('one that was under way when the page was left is looked at again', async () => {
    const api = { jobs: () => of(jobs(job({ done: 1 }))), watchJob: () => new Subject<Job>() };
    const { fixture, host } = await make(HandOver, api, model());
    fixture.componentInstance.open();
    await settled(fixture);
    expect(host.textContent).toContain('1 of 3');
  });

  test('making it smaller is off until it is asked for, and says what came of it', async () => {
    const events = new Subject<Job>();
    const wishes: unknown[] = [];
    const api = {
      jobs: () => of(jobs()),
      sendJob: (_: string, wish: unknown) => (wishes.push(wish), of(job({ state: 'waiting' }))),
      watchJob: () => events,
      jobFileUrl: (id: string) => `#${id}`,
    };
    const { fixture, host } = await make(HandOver, api, model());
    fixture.componentInstance.open();
    await settled(fixture);
    expect(host.textContent).toContain('4.2 MB now');
    button(host, 'Download file').click();
    await settled(fixture);
    events.next(job({ state: 'cancelled' }));
    await settled(fixture);
    for (const box of host.querySelectorAll<HTMLInputElement>('input[type=checkbox]')) box.click();
    await settled(fixture);
    button(host, 'Download file').click();
    await settled(fixture);
    expect(wishes).toEqual([{ kind: 'hand-over' }, { kind: 'hand-over', slim: { crop: true, ppi: 220, strip: true } }]);
    events.next(job({ state: 'done', size: 703_598, said: 'hidden parts cut off 3 pictures' }));
    await settled(fixture);
    expect(host.querySelector('dialog')!.open).toBe(true);
    expect(host.textContent).toMatch(/704 kB\s+instead of 4.2 MB:\s+hidden parts cut off 3 pictures/);
    button(host, 'Done').click();
    expect(host.querySelector('dialog')!.open).toBe(false);
  });

  test('a work of pictures has no file: its pictures are handed over, or one is got out', async () => {
    const wishes: unknown[] = [];
    const api = { jobs: () => of(jobs()), sendJob: (_: string, wish: unknown) => (wishes.push(wish), NEVER) };
    const { fixture, host } = await make(HandOver, api, openModel({ ...workOf(), format: 'pictures' }));
    let out = 0;
    fixture.componentInstance.getOut.subscribe(() => out++);
    fixture.componentInstance.open();
    await settled(fixture);
    expect(host.textContent).not.toContain('Download file');
    button(host, 'Export one picture').click();
    expect(out).toBe(1);
    const widths = host.querySelector<HTMLInputElement>('input')!;
    widths.value = 'wide';
    widths.dispatchEvent(new Event('input'));
    await settled(fixture);
    expect(button(host, 'Download pictures').disabled).toBe(true);
    widths.value = '200, 400';
    widths.dispatchEvent(new Event('input'));
    await settled(fixture);
    button(host, 'Download pictures').click();
    await settled(fixture);
    expect(wishes).toEqual([{ kind: 'set', format: 'png', widths: [200, 400] }]);
  });
});

describe('getting a picture out', () => {
  const setup = async (answer: () => ReturnType<Api['export']>) => {
    const asked: { format: ExportFormat; ppi?: number; width?: number }[] = [];
    const api = { export: (_: string, __: unknown, wish: (typeof asked)[number]) => (asked.push(wish), answer()) };
    const { fixture, host } = await make(GetOut, api, model());
    const written: Record<string, Blob>[] = [];
    Object.assign(globalThis, {
      ClipboardItem: class {
        constructor(readonly items: Record<string, Promise<Blob>>) {}
      },
    });
    Object.assign(navigator, {
      clipboard: {
        write: async ([item]: { items: Record<string, Promise<Blob>> }[]) => {
          const [[type, blob]] = Object.entries(item!.items) as [[string, Promise<Blob>]];
          written.push({ [type]: await blob });
        },
      },
    });
    return { asked, written, fixture, host };
  };

  test('a PNG goes to the clipboard as a picture', async () => {
    const { asked, written, fixture } = await setup(() => of(new Blob(['png'])));
    expect(await fixture.componentInstance.copy('png')).toBeInstanceOf(Blob);
    expect([asked, Object.keys(written[0]!)]).toEqual([[{ format: 'png' }], ['image/png']]);
  });

  test('what the server refuses is told, and nothing is copied', async () => {
    const error = new HttpErrorResponse({
      status: 422,
      error: new Blob([JSON.stringify({ code: 'x', title: 'Too large.', detail: 'Choose fewer pixels.', facts: {} })]),
    });
    // jsdom's Blob cannot be read as text by itself.
    Object.assign(error.error as object, {
      text: () =>
        Promise.resolve(JSON.stringify({ code: 'x', title: 'Too large.', detail: 'Choose fewer.', facts: {} })),
    });
    const { written, fixture, host } = await setup(() => throwError(() => error));
    expect(await fixture.componentInstance.copy('png')).toBeNull();
    await fixture.whenStable();
    expect(written).toEqual([]);
    expect(host.querySelector('[role=alert]')?.textContent).toContain('Too large.');
  });
});

describe('choosing pictures', () => {
  const picture = (i: number): LibraryPicture => ({
    sha256: String(i).repeat(64),
    name: `Pot ${i}`,
    kind: 'stock',
    type: 'png',
    size: { width: 9, height: 6 },
    orientation: 1,
  });

  test('several are picked and laid out in the order in which they were picked', async () => {
    const words: string[] = [];
    const api = { pictures: (q: string) => (words.push(q), of([1, 2, 3].map(picture))), keptUrl: () => '' };
    const { fixture, host } = await make(PictureChooser, api, model());
    fixture.componentRef.setInput('many', true);
    const got: string[][] = [];
    fixture.componentInstance.chosen.subscribe((p) => got.push(p.map((q) => q.name)));
    fixture.componentInstance.open();
    await settled(fixture);
    const options = [...host.querySelectorAll<HTMLElement>('[role=option]')];
    for (const i of [2, 0, 1, 0]) options[i]!.click();
    await fixture.whenStable();
    expect(options.map((o) => o.getAttribute('aria-selected'))).toEqual(['false', 'true', 'true']);
    [...host.querySelectorAll('button')].at(-1)!.click();
    expect(got).toEqual([['Pot 3', 'Pot 2']]);
    expect(words).toEqual(['']);
  });

  test('files that are refused are told by name, and those that were taken are kept', async () => {
    const api = {
      keepPicture: (_: Blob, name: string) =>
        name.startsWith('bad')
          ? throwError(
              () =>
                new HttpErrorResponse({ status: 422, error: { code: 'x', title: `“${name}” is broken.`, detail: '' } }),
            )
          : of(picture(1)),
    };
    await make(Shortcuts as unknown as Type<object>, api, model()).catch(() => undefined);
    const intake = TestBed.inject(Intake);
    const file = (name: string, type = 'image/png'): File => new File(['x'], name, { type });
    const { pictures, problem } = await intake.keep([file('bad.png'), file('good.png'), file('bad2.png')]);
    expect([pictures.length, problem?.title]).toEqual([1, '“bad.png” is broken. 1 more could not be taken either.']);
    expect((await intake.keep([file('a.txt', 'text/plain')])).problem?.title).toBe(
      '“a.txt” is neither a picture nor a video.',
    );
  });
});

test('the sheet of keys names every step, and lets single letters be switched off', async () => {
  TestBed.configureTestingModule({});
  const fixture = TestBed.createComponent(Shortcuts);
  fixture.componentRef.setInput('groups', keyGroups(benchKeys(STEPS.map((s) => s.label))));
  await fixture.whenStable();
  const host = fixture.nativeElement as HTMLElement;
  expect(host.textContent).toContain('Shape, Ratio, Position, Outline, Shadow, Tone, Place');
  host.querySelector<HTMLInputElement>('input[type=checkbox]')!.click();
  expect(TestBed.inject(Letters).on()).toBe(false);
  // It is remembered by this browser.
  expect(localStorage.getItem('gable.letters-off')).toBe('true');
  TestBed.inject(Letters).set(true);
});

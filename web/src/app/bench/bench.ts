import {
  Component,
  computed,
  effect,
  type ElementRef,
  HostListener,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { Family } from '@gable/core';
import { Title } from '@angular/platform-browser';
import { RouterLink } from '@angular/router';
import { toProblem, type Problem } from '../api/problem';
import { Icon } from '../ui/icon';
import { Mark } from '../ui/mark';
import { Notice } from '../ui/notice';
import { pictureOf, takenFrame } from './bench-model';
import { BenchState, type StepName } from './bench-state';
import { Board } from './board';
import { Knobs } from './knobs';
import { Run } from './run';
import { outlineTries, positionTries, shapeTries, type Try } from './tries';
import { Families } from './families';
import { TryStrip } from './try-strip';

const STEPS: readonly { name: StepName; label: string }[] = [
  { name: 'shape', label: 'Shape' },
  { name: 'position', label: 'Position' },
  { name: 'outline', label: 'Outline' },
];

/** The screen people work on: the run of pictures, one of them large, and the tries of a step. */
@Component({
  selector: 'gable-bench',
  imports: [Board, Icon, Knobs, Mark, Notice, RouterLink, Run, TryStrip, Families],
  providers: [BenchState],
  templateUrl: './bench.html',
  host: { class: 'flex h-full min-w-[720px] flex-col' },
})
export class Bench {
  readonly id = input.required<string>();
  protected readonly state = inject(BenchState);
  private readonly title = inject(Title);
  private readonly sheet = viewChild<ElementRef<HTMLDialogElement>>('sheet');
  protected readonly steps = STEPS;
  protected readonly model = toSignal(this.state.model$, { initialValue: null });
  protected readonly save = toSignal(this.state.save$, { requireSync: true });
  protected readonly problem = toSignal(this.state.problem$, { requireSync: true });
  protected readonly step = toSignal(this.state.step$, { requireSync: true });
  private readonly subjects = toSignal(this.state.subjects$, { requireSync: true });
  protected readonly handing = signal(false);

  protected readonly name = computed(() => this.model()?.work.name.replace(/\.(docx|docm|dotx|dotm)$/i, '') ?? '');
  protected readonly undoName = computed(() => this.model()?.past.at(-1)?.name ?? null);
  protected readonly redoName = computed(() => this.model()?.future[0]?.name ?? null);
  protected readonly changedCount = computed(() => Object.keys(this.model()?.frames ?? {}).length);
  protected readonly usable = computed(() => {
    const m = this.model();
    return m !== null && !!pictureOf(m, m.selected);
  });
  protected readonly key = computed(() => this.state.key(this.model()?.selected ?? 0));

  protected readonly saveWords = computed(() => {
    switch (this.save().kind) {
      case 'saved':
        return 'Saved';
      case 'saving':
        return 'Saving …';
      case 'waiting':
        return 'Server away; saving again soon';
      case 'conflict':
        return 'Not saved: changed elsewhere';
      case 'failed':
        return 'Not saved';
    }
  });

  /** The family of shapes on offer; null for all. */
  protected readonly family = signal<Family | null>(null);

  protected readonly tries = computed((): readonly Try[] => {
    const m = this.model();
    if (!m || !this.usable()) return [];
    const picture = pictureOf(m, m.selected);
    const context = {
      frame: takenFrame(m),
      original: picture.frame,
      size: picture.size,
      subject: this.subjects()[m.selected],
    };
    switch (this.step()) {
      case 'shape':
        return shapeTries(context, this.family());
      case 'position':
        return positionTries(context);
      case 'outline':
        return outlineTries(context);
    }
  });

  constructor() {
    effect(() => this.state.open(this.id()));
    effect(() => {
      if (this.name()) this.title.setTitle(`${this.name()} · Gable`);
    });
  }

  protected look(t: Try | null): void {
    this.state.preview(t?.frame ?? null);
  }

  protected take(t: Try): void {
    this.state.take(t.deed, t.frame);
  }

  protected go(step: StepName): void {
    this.state.preview(null);
    this.state.step$.next(step);
  }

  /** Arrow keys walk along the steps, as along tabs. */
  protected stepKey(event: KeyboardEvent): void {
    const at = STEPS.findIndex((s) => s.name === this.step());
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: STEPS.length - 1 }[event.key];
    const next = to === undefined ? undefined : STEPS[to];
    if (!next) return;
    event.preventDefault();
    this.go(next.name);
    document.getElementById(`step-${next.name}`)?.focus();
  }

  @HostListener('document:keydown', ['$event'])
  protected shortcut(event: KeyboardEvent): void {
    const typing = event.target instanceof HTMLInputElement && event.target.type === 'text';
    if (typing || !(event.ctrlKey || event.metaKey) || event.altKey) return;
    const key = event.key.toLowerCase();
    if (key === 'z' && !event.shiftKey) this.state.undo();
    else if (key === 'y' || (key === 'z' && event.shiftKey)) this.state.redo();
    else return;
    event.preventDefault();
  }

  @HostListener('window:beforeunload', ['$event'])
  protected leaving(event: BeforeUnloadEvent): void {
    if (this.state.unsaved) event.preventDefault();
  }

  protected openSheet(): void {
    this.sheet()?.nativeElement.showModal();
  }

  protected closeSheet(): void {
    this.sheet()?.nativeElement.close();
  }

  /** Fetches the file and gives it to the browser to keep. */
  protected async handOver(): Promise<void> {
    if (this.handing()) return;
    this.handing.set(true);
    try {
      const file = await this.state.handOver();
      if (!file) return;
      const link = document.createElement('a');
      link.href = URL.createObjectURL(file);
      link.download = this.model()?.work.name ?? 'document.docx';
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
      this.closeSheet();
    } catch (error) {
      this.closeSheet();
      this.state.problem$.next(await readable(error));
    } finally {
      this.handing.set(false);
    }
  }

  protected readonly failure = computed((): Problem | null => {
    const s = this.save();
    return s.kind === 'failed' ? s.problem : null;
  });
}

/** A refused file arrives as bytes, the reason too. */
async function readable(error: unknown): Promise<Problem> {
  const body = (error as { error?: unknown } | null)?.error;
  if (body instanceof Blob) {
    const text = await body.text();
    try {
      const { code, title, detail, facts } = JSON.parse(text) as Record<string, string> & { facts: Problem['facts'] };
      return {
        code: code ?? 'internal',
        title: title ?? 'The file could not be made.',
        remedy: detail ?? 'Try again.',
        facts,
      };
    } catch {
      return toProblem(null);
    }
  }
  return toProblem(error);
}

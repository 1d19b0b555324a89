import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  HostListener,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import { PLAIN_FAULTS, type Frame, type Uneven } from '@gable/core';
import type { KeptFinish, LibraryPicture } from '@gable/contract';
import { Images } from '../work/images';
import { WorkStore } from '../work/work-store';
import { pictureIn } from '../work/work-model';
import { HandOver } from '../handover/hand-over';
import { UndoRedo } from '../work/undo-redo';
import { WorkName } from '../work/work-name';
import { WorkNotices } from '../work/work-notices';
import { PictureChooser } from '../library/picture-chooser';
import { isBusy, isTyping, withoutKind } from '../intake/files';
import { Choice } from '../ui/choice';
import { Icon } from '../ui/icon';
import { actOf } from '../ui/keys';
import { Letters } from '../ui/letters';
import { Shortcuts } from '../ui/shortcuts';
import { Tabs } from '../ui/tabs';
import { ContactSheet } from './contact-sheet';
import { EvenPanel } from './even-panel';
import { familyWords } from './family-words';
import { FiguresChart } from './figures-chart';
import { FinishPanel } from './finish-panel';
import { MendPanel, type MendWish } from './mend-panel';
import { PairsSheet } from './pairs-sheet';
import { SURVEY_KEY_GROUPS, SURVEY_KEYS, type SurveyActions } from './keys';
import { KINDS, type Arrangement, type Code, type Grouping, type Order, showingSame } from './survey-model';
import { LegibilityOf } from '../around/legibility';
import { SurveyState } from './survey-state';
import { TextList } from './text-list';

const VIEWS = [
  { name: 'frames', label: 'Frames' },
  { name: 'figures', label: 'Figures' },
  { name: 'texts', label: 'Texts' },
] as const;
const TASKS = [
  { name: 'mend', label: 'Fix' },
  { name: 'even', label: 'Make alike' },
  { name: 'finish', label: 'Finish' },
] as const;
type Named<T extends readonly { name: string }[]> = T[number]['name'];

/** Of so few pictures the search for faces is over before it is read. */
const WORTH_TELLING = 3;

/** Every frame of the work at once. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-survey',
  imports: [
    Choice,
    ContactSheet,
    EvenPanel,
    FiguresChart,
    FinishPanel,
    HandOver,
    Icon,
    MendPanel,
    PairsSheet,
    PictureChooser,
    RouterLink,
    Shortcuts,
    Tabs,
    TextList,
    UndoRedo,
    WorkName,
    WorkNotices,
  ],
  providers: [WorkStore, Images, LegibilityOf, SurveyState],
  templateUrl: './survey.html',
  host: { class: 'flex h-full min-w-[720px] flex-col' },
})
export class Survey implements SurveyActions {
  readonly id = input.required<string>();
  /** The picture that was on the bench. */
  readonly picture = input<string>();
  private readonly bench = inject(WorkStore);
  protected readonly state = inject(SurveyState);
  private readonly router = inject(Router);
  private readonly title = inject(Title);
  private readonly letters = inject(Letters);
  private readonly shortcuts = viewChild.required(Shortcuts);
  protected readonly keyGroups = SURVEY_KEY_GROUPS;
  private readonly pairs = viewChild.required<PairsSheet>('pairs');
  protected readonly model = this.bench.model;
  protected readonly problem = toSignal(this.bench.problem$, { requireSync: true });
  protected readonly views = VIEWS;
  protected readonly tasks = TASKS;
  protected readonly view = signal<Named<typeof VIEWS>>('frames');
  protected readonly task = signal<Named<typeof TASKS>>('mend');
  protected readonly isFolder = computed(() => this.model()?.work.format === 'folder');
  protected readonly groupings = computed((): readonly { value: Grouping; label: string }[] => [
    { value: 'page', label: this.isFolder() ? 'file' : 'page' },
    { value: 'shape', label: 'shape' },
    { value: 'finding', label: 'finding' },
    { value: 'none', label: 'nothing' },
  ]);
  protected readonly orders: readonly { value: Order; label: string }[] = [
    { value: 'reading', label: 'reading order' },
    { value: 'size', label: 'largest' },
    { value: 'sharpness', label: 'lowest ppi' },
    { value: 'kept', label: 'most cut' },
    { value: 'ratio', label: 'tallest' },
    { value: 'bytes', label: 'largest file' },
  ];
  protected readonly plainCount = computed(
    () => this.state.rows().filter((r) => r.notes.some((x) => x.remedy && PLAIN_FAULTS.has(x.code))).length,
  );
  protected readonly oneChosen = computed(() => this.state.chosenRows()[0]?.n ?? 0);
  /** How many frames show the picture of the one that is chosen. */
  protected readonly sameCount = computed(() => {
    const chosen = this.state.chosenRows();
    return chosen.length === 1 ? showingSame(this.state.rows(), chosen[0]!).length : 0;
  });
  protected readonly anyFollows = computed(() => this.state.chosenRows().some((r) => r.frame.finish));
  protected readonly images = inject(Images);
  /** How far the search for faces is, while it is worth a word. */
  protected readonly looking = computed(() => {
    const looked = this.images.looked();
    return looked.all - looked.done > WORTH_TELLING ? looked : null;
  });
  protected readonly countWords = computed(() => {
    const [shown, all] = [this.state.shown().length, this.state.rows().length];
    return shown === all ? `${all} frames` : `${shown} of ${all} frames`;
  });
  protected readonly chosenWords = computed(() => {
    const n = this.state.chosenRows().length;
    return n === 0 ? '' : n === 1 ? `Picture ${this.oneChosen()} chosen` : `${n} chosen`;
  });

  constructor() {
    effect(() => this.bench.open(this.id()));
    let begun = false;
    effect(() => {
      const m = this.model();
      if (!m) return;
      this.title.setTitle(`${withoutKind(m.work.name)}, survey · Gable`);
      if (begun) return;
      begun = true;
      const n = Number(this.picture());
      untracked(() => this.state.focused.set(pictureIn(m.work, n) ? n : (m.work.pictures[0]?.n ?? 1)));
    });
  }

  /** Waits until all is saved, so that the next screen opens what this one has. */
  settled(): Promise<boolean> {
    return this.bench.settled();
  }

  protected arrange(change: Partial<Arrangement>): void {
    this.state.arrangement.update((a) => ({ ...a, ...change }));
  }

  protected find(event: Event): void {
    this.arrange({ query: (event.target as HTMLInputElement).value.trim() });
  }

  protected kindWords(code: Code): string {
    return KINDS[code].many;
  }

  protected replace([picture]: readonly LibraryPicture[]): void {
    if (picture)
      void this.bench.replaceIn(
        [...this.state.chosen()].sort((a, b) => a - b),
        picture,
      );
  }

  protected chooseAll(): void {
    this.state.choose(this.state.shown().map((r) => r.n));
  }

  protected open(n: number): void {
    // A file of a folder has a bench of its own.
    const m = this.model();
    const { id, n: picture } = (m && pictureIn(m.work, n)?.member) ?? { id: this.id(), n };
    void this.router.navigate(['/work', id], { queryParams: { picture } });
  }

  protected mend({ title, rows, codes }: MendWish): void {
    this.pairs().open(title, 'Fix', this.state.mending(rows, codes), (f) => this.state.take('fixed', f));
  }

  protected mendAll(): void {
    this.mend({ title: 'All that is plainly wrong', rows: this.state.rows(), codes: PLAIN_FAULTS });
  }

  protected even(family: Uneven): void {
    this.pairs().open(familyWords(family), 'Change', this.state.evening(family), (f) =>
      this.state.take('made alike', f),
    );
  }

  protected lay(finish: KeptFinish): void {
    const pairs = this.state.laying(finish);
    const entry = `${finish.finish.name} applied`;
    const take = (frames: readonly Frame[]): void => this.state.takeFinish(entry, finish, frames);
    // What suits all of them needs no second look: one undo takes it back.
    if (!pairs.some((p) => p.concern)) take(pairs.map((p) => p.after));
    else this.pairs().open(finish.finish.name, 'Apply to', pairs, take);
  }

  @HostListener('document:keydown', ['$event'])
  protected shortcut(event: KeyboardEvent): void {
    if (isTyping(event.target) || event.altKey || isBusy()) return;
    const act = actOf(SURVEY_KEYS, event);
    if (!act || (!(event.ctrlKey || event.metaKey) && !this.letters.on())) return;
    act(this, event);
    event.preventDefault();
  }

  openBench(): void {
    this.open(this.state.focused());
  }

  undo(): void {
    this.bench.undo();
  }

  redo(): void {
    this.bench.redo();
  }

  showKeys(): void {
    this.shortcuts().open();
  }

  @HostListener('window:beforeunload', ['$event'])
  protected leaving(event: BeforeUnloadEvent): void {
    if (this.bench.unsaved) event.preventDefault();
  }
}

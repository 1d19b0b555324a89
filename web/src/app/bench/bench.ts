import { CdkContextMenuTrigger } from '@angular/cdk/menu';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
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
import type { LibraryPicture } from '@gable/contract';
import { equal, isPictureItem, itemIdOf, piecesAround, restylesGround, slotsOf, spreadable } from '@gable/core';
import { AroundEdit } from '../around/around-edit';
import { ItemBand } from '../around/item-band';
import { CopiedFrames } from '../intake/copied';
import { filesOf, isBusy, isMedia, isTyping, MEDIA, pastedFiles, withoutKind } from '../intake/files';
import { Intake } from '../intake/intake';
import { PictureChooser } from '../library/picture-chooser';
import { Choice } from '../ui/choice';
import { DeedMenu, type MenuDeed } from '../ui/deed-menu';
import { Icon } from '../ui/icon';
import { MarginSheet } from '../handover/margin-sheet';
import { Tabs } from '../ui/tabs';
import { Images } from '../work/images';
import { changedFrames, chosenIn, isChanged, isLast, isOtherwise, neighbour, pictureIn } from '../work/work-model';
import { Suggestions } from '../work/suggestions';
import { BESIDE, canDuplicate } from '../work/copies';
import { WorkStore } from '../work/work-store';
import { AltText } from './alt-text';
import { CutOut } from './cut-out';
import { Board } from './board';
import { Edit } from './edit';
import { Families } from './families';
import { GetOut } from '../handover/get-out';
import { HandOver } from '../handover/hand-over';
import { Knobs } from './steps/knobs';
import { isLaidOut } from '../page/page-shots';
import { ArrangeBand } from '../page/arrange-band';
import { GroundBand } from '../page/ground-band';
import { WidthsBand } from '../page/widths-band';
import { Windows } from '../page/windows';
import { Several } from '../page/several';
import { SeveralBand } from '../page/several-band';
import { PagePair } from '../page/page-pair';
import { PageRun } from '../page/page-run';
import { type TextWay, takersOn, type Place } from '../page/place';
import { PageView } from '../page/page-view';
import { Placing } from '../page/placing';
import { Run } from './run';
import { NewSheet } from '../shelf/new-sheet';
import { Letters } from '../ui/letters';
import { hasBegunTyping } from '../ui/typing';
import { Units, UNITS } from '../ui/units';
import { Shortcuts } from '../ui/shortcuts';
import { benchKeys, keyGroups, type BenchActions } from './keys';
import { STEPS } from './steps';
import { STEP_LIST } from './steps/step';
import type { Try } from './tries';
import { TrySource } from './try-source';
import { TryStrip } from './try-strip';
import { actOf } from '../ui/keys';
import { Moving } from '../video/moving';
import { Player } from '../video/player';
import { Transport } from '../video/transport';
import { UndoRedo } from '../work/undo-redo';
import { Wall } from './wall';
import { placeWords, sentence } from '../work/wording';
import { WorkName } from '../work/work-name';
import { WorkNotices } from '../work/work-notices';

const SIDES = [
  { value: 'came', label: 'Before' },
  { value: 'now', label: 'Now' },
  { value: 'both', label: 'Side by side' },
] as const;
type Side = (typeof SIDES)[number]['value'];
type View = 'close' | 'page';

const isUndo = ({ key, ctrlKey, metaKey }: KeyboardEvent): boolean =>
  (ctrlKey || metaKey) && ['z', 'y'].includes(key.toLowerCase());

/** The screen people work on: the run of pictures, one of them large, and the tries of a step. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-bench',
  imports: [
    CutOut,
    Choice,
    AltText,
    Board,
    CdkContextMenuTrigger,
    DeedMenu,
    Families,
    GetOut,
    ArrangeBand,
    GroundBand,
    HandOver,
    Icon,
    ItemBand,
    Knobs,
    MarginSheet,
    NewSheet,
    PagePair,
    PageRun,
    PageView,
    PictureChooser,
    RouterLink,
    Run,
    SeveralBand,
    Shortcuts,
    Tabs,
    Transport,
    TryStrip,
    UndoRedo,
    Wall,
    WidthsBand,
    WorkName,
    WorkNotices,
  ],
  providers: [
    WorkStore,
    Images,
    { provide: STEP_LIST, useValue: STEPS },
    AroundEdit,
    Edit,
    Placing,
    Moving,
    Player,
    Several,
    Suggestions,
    TrySource,
    Windows,
  ],
  templateUrl: './bench.html',
  host: {
    class: 'flex h-full min-w-[720px] flex-col',
    '(dragover)': 'over($event)',
    '(dragleave)': 'left($event)',
    '(drop)': 'drop($event)',
  },
})
export class Bench implements BenchActions {
  readonly id = input.required<string>();
  /** The picture to begin with. */
  readonly picture = input<string>();
  protected readonly state = inject(WorkStore);
  protected readonly images = inject(Images);
  protected readonly edit = inject(Edit);
  protected readonly source = inject(TrySource);
  protected readonly around = inject(AroundEdit);
  protected readonly placing = inject(Placing);
  protected readonly several = inject(Several);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly intake = inject(Intake);
  private readonly title = inject(Title);
  private readonly router = inject(Router);
  private readonly board = viewChild(Board);
  private readonly pageView = viewChild(PageView);
  private readonly wall = viewChild.required(Wall);
  private readonly shortcuts = viewChild.required(Shortcuts);
  private readonly chooser = viewChild.required<PictureChooser>('chooser');
  private readonly margin = viewChild.required(MarginSheet);
  private readonly copied = inject(CopiedFrames);
  private readonly putter = viewChild.required<PictureChooser>('putter');
  private readonly getOut = viewChild.required(GetOut);
  private readonly sheet = viewChild.required<HandOver>('sheet');
  private readonly altText = viewChild.required(AltText);
  protected readonly cutOut = viewChild.required(CutOut);
  protected readonly pageSheet = viewChild.required(NewSheet);
  protected readonly saved = (): Promise<boolean> => this.settled();
  private readonly strip = viewChild<unknown, ElementRef<HTMLElement>>('strip', { read: ElementRef });
  /** Those that the chosen picture has. */
  protected readonly steps = computed(
    () => {
      const frame = this.edit.taken();
      return STEPS.filter((s) => !s.applies || (frame !== null && s.applies(frame)));
    },
    { equal },
  );
  private readonly keys = benchKeys(STEPS.map((s) => s.label));
  protected readonly keyGroups = keyGroups(this.keys);
  protected readonly accept = MEDIA;
  protected readonly model = this.state.model;
  protected readonly problem = toSignal(this.state.problem$, { requireSync: true });
  protected readonly step = computed(() => this.edit.step().name);
  /** What the author went to; until then a page of its own size is seen whole, and a text from close by. */
  private readonly wentTo = signal<View | null>(null);
  protected readonly view = computed((): View => {
    if (!this.usable()) return 'page';
    return this.wentTo() ?? ((this.model()?.work.sheets ?? []).length > 0 ? 'page' : 'close');
  });
  protected readonly views = computed(() => {
    const label = this.edit.pages() > 1 ? `${this.edit.pageName()} ${this.edit.page()}` : this.edit.pageName();
    return [
      { value: 'page', label: this.isFile() ? label : 'All pictures' },
      { value: 'close', label: 'Close-up' },
    ] as const;
  });
  protected readonly units = inject(Units);
  protected readonly unitNames = UNITS;
  /** Are the pages shown as they came, as they are, or both? */
  protected readonly side = signal<Side>('now');
  /** What was seen when the pages were asked for by the hand-over: it can be gone back to. */
  protected readonly comesFrom = signal<{ view: View | null } | null>(null);
  protected readonly sides = SIDES;
  protected readonly dropping = signal(false);
  /** Said once, for a moment: what a key has done. */
  protected readonly told = signal('');
  private readonly letters = inject(Letters);
  /** The side that was shown before O was held. */
  private looking: Side | null = null;

  protected readonly name = computed(() => withoutKind(this.model()?.work.name ?? ''));
  /** Can pictures be put into its file? */
  protected readonly canPut = computed(() => (this.model()?.work.can.insert ?? null) !== null);
  /** How it goes into a text, or into a web page; none elsewhere. */
  protected readonly wayChoices = computed((): readonly { value: TextWay; label: string }[] => {
    const insert = this.model()?.work.can.insert;
    if (insert === 'web')
      return [
        { value: 'between', label: 'Before or after' },
        { value: 'inside', label: 'Inside' },
      ];
    return insert !== 'text'
      ? []
      : [
          { value: 'between', label: 'Between paragraphs' },
          { value: 'among', label: 'In a line' },
          { value: 'beside', label: 'Beside the text' },
        ];
  });
  protected readonly spreads = [
    { value: 'grid', label: 'Grid' },
    { value: 'row', label: 'Row' },
    { value: 'column', label: 'Column' },
  ] as const;
  /** Are several about to be put on a page of a fixed size? */
  protected readonly canSpread = computed(() => {
    const insert = this.model()?.work.can.insert;
    return this.placing.pictures().length > 1 && insert === 'page';
  });
  protected readonly frontChoices = [
    { value: 'into', label: 'Into shapes' },
    { value: 'front', label: 'In front' },
  ] as const;
  /** Are there shapes on the page that take pictures? */
  protected readonly hasTakers = computed(() => {
    const m = this.model();
    const page = this.edit.page();
    return !!m?.file.pages[page - 1] && takersOn(m.file, page).length > 0;
  });
  /** Lies the chosen picture freely on a page? */
  protected readonly canDuplicate = computed(() => {
    const m = this.model();
    return m !== null && canDuplicate(m);
  });
  /** What of the page itself is being chosen, in place of the steps: the colour behind it, or how its pictures lie. */
  protected readonly band = signal<'ground' | 'arrange' | 'widths' | null>(null);
  protected showBand(name: 'ground' | 'arrange' | 'widths'): void {
    this.band.update((now) => (now === name ? null : name));
  }
  /** Lie pictures on the page that is seen that can be arranged? */
  protected readonly canArrange = computed(() => {
    const m = this.model();
    const page = m?.document.pages[this.edit.page() - 1];
    return !!m && !!page && spreadable(m.document, page).length > 1;
  });
  /** Are several chosen, on the page that is seen? */
  protected readonly severalShown = computed(() => this.several.active() && this.view() === 'page');
  /** Can what lies on its page come forward and go back? */
  protected readonly canOrder = computed(() => {
    const m = this.model();
    const picture = this.edit.picture();
    return !!m && !!picture && m.work.can.order && picture.where.page !== null && !picture.where.group;
  });
  /** Is the page seen in windows of any width? */
  protected readonly isWeb = computed(() => this.model()?.work.can.pages === 'web');
  protected readonly canGround = computed(() => restylesGround(this.model()?.work.can.restyles ?? null));
  /** Has it pages with headers and footers that take a picture? */
  protected readonly hasMargins = computed(() => this.model()?.work.can.margin ?? false);
  /** Can frames be seen among what stands round them? */
  protected readonly hasPages = computed(() => {
    const work = this.model()?.work;
    return work !== undefined && (isLaidOut(work) || work.can.pages === 'row' || (work.sheets ?? []).length > 0);
  });
  protected readonly anyChanged = computed(() => {
    const m = this.model();
    return m !== null && isOtherwise(m);
  });
  protected readonly isFile = computed(() => this.model()?.work.format !== 'pictures');
  protected readonly usable = computed(() => {
    const m = this.model();
    return m !== null && pictureIn(m.work, m.selected) !== undefined;
  });
  protected readonly where = computed(() => {
    const p = this.edit.picture();
    return p && this.isFile()
      ? sentence(placeWords(p.where, this.state.laidPages().get(p.n)))
      : p
        ? `Picture ${p.n}`
        : '';
  });
  protected readonly canRepeat = computed(() => {
    const m = this.model();
    return m !== null && this.usable() && isChanged(m) && !isLast(m);
  });

  private readonly ungrouping = (): readonly MenuDeed[] =>
    this.several.canUngroup() ? [{ label: 'Ungroup', key: 'Ctrl+Shift+G', act: () => this.ungroup() }] : [];

  /** What the context menu offers. */
  protected readonly deeds = computed((): readonly MenuDeed[] => {
    if (this.severalShown())
      return [
        { label: 'Choose everything', key: 'Ctrl+A', act: () => this.chooseEverything() },
        { label: 'Choose only one', key: 'Esc', act: () => this.several.end() },
        ...(this.several.takesGroups() && !this.several.isGroup()
          ? [
              {
                label: 'Group',
                key: 'Ctrl+G',
                disabled: !this.several.canGroup(),
                apart: true,
                act: () => this.group(),
              },
            ]
          : []),
        ...this.ungrouping(),
        ...(this.several.takesLocks() ? [{ label: 'Lock in place', act: () => this.several.lock(true) }] : []),
        {
          ...{ label: `Delete ${this.several.chosen().length} items`, key: 'Del', apart: true },
          act: () => this.takeOut(),
        },
      ];
    const away = this.edit.problem() !== null;
    return [
      {
        label: 'Cut picture',
        key: 'Ctrl+X',
        disabled: away || !this.canPut() || this.edit.locked(),
        act: () => this.cut(),
      },
      { label: 'Copy picture', key: 'Ctrl+C', disabled: away, act: () => this.copy() },
      { label: 'Paste picture', key: 'Ctrl+V', act: () => void this.pasteOver() },
      { label: 'Replace picture …', key: 'R', act: () => this.replace() },
      { label: 'Export picture …', key: 'G', disabled: away, act: () => this.getOutPicture() },
      { label: 'Alt text …', act: () => this.altText().open() },
      { label: 'Keep this visible', key: 'K', disabled: away, apart: true, act: () => this.mark() },
      { label: 'Cut out the subject …', disabled: away, act: () => this.cutOut().open() },
      {
        label: 'Frame the next one like this',
        key: 'N',
        disabled: !this.canRepeat(),
        act: () => this.sameAgain(),
      },
      ...(this.canOrder()
        ? [
            { label: 'Bring forward', apart: true, act: () => this.around.raisePicture(1) },
            { label: 'Send back', act: () => this.around.raisePicture(-1) },
          ]
        : []),
      ...(this.view() === 'page' && this.several.groupOfOne()
        ? [{ label: 'Choose its group', apart: true, act: () => this.several.chooseGroup() }, ...this.ungrouping()]
        : []),
      ...(this.several.takesLocks() && this.edit.picture()?.where.page !== null
        ? [
            {
              label: this.edit.locked() ? 'Unlock' : 'Lock in place',
              act: () => this.several.lock(!this.edit.locked()),
            },
          ]
        : []),
      {
        label: 'Duplicate picture',
        key: 'Ctrl+D',
        disabled: !this.canDuplicate(),
        apart: true,
        act: () => this.duplicate(),
      },
      {
        label: 'Delete picture',
        key: 'Del',
        disabled: !this.canPut() || this.edit.locked(),
        act: () => this.takeOut(),
      },
      {
        label: 'Restore the original',
        disabled: !this.edit.changed(),
        act: () => this.state.putBack(),
      },
    ];
  });

  constructor() {
    // A folder has no bench: its files have.
    effect(() => {
      if (this.model()?.work.format === 'folder')
        void this.router.navigate(['/work', this.id(), 'survey'], { replaceUrl: true });
    });
    // What is done now is to be seen.
    const document = computed(() => this.model()?.document);
    effect(() => {
      document();
      untracked(() => this.side.update((side) => (side === 'came' ? 'now' : side)));
    });
    // Something else is chosen.
    const chosen = computed(() => {
      const m = this.model();
      return m ? chosenIn(m).join(' ') : '';
    });
    effect(() => {
      chosen();
      untracked(() => this.band.set(null));
    });
    effect(() => this.state.open(this.id()));
    let begun = false;
    effect(() => {
      const n = Number(this.picture());
      if (begun || !this.model()) return;
      begun = true;
      if (n >= 1) untracked(() => this.state.select(n));
    });
    effect(() => {
      if (this.name()) this.title.setTitle(`${this.name()} · Gable`);
    });
    effect(() => {
      const work = this.model()?.work;
      if (work) untracked(() => this.units.open(work.id, work.format));
    });
  }

  /** Waits until all is saved, so that the next screen opens what this one has. */
  settled(): Promise<boolean> {
    return this.state.settled();
  }

  survey(): void {
    void this.router.navigate(['/work', this.id(), 'survey'], { queryParams: { picture: this.model()?.selected } });
  }

  protected take(t: Try): void {
    // What is put round a picture is seen on its page.
    if (t.add) this.show('page');
    const before = this.source.take(t);
    if (before) this.tell('The picture moved to keep its subject. Press L to leave it where it was.');
  }

  /** Takes back that a first shape moved the picture. */
  leaveInPlace(): void {
    if (this.source.leaveInPlace()) this.tell('The picture is where it was.');
  }

  protected look(t: Try | null): void {
    this.state.preview(t?.frame ?? null);
  }

  @HostListener('document:keydown', ['$event'])
  protected shortcut(event: KeyboardEvent): void {
    if (event.altKey || event.defaultPrevented || isBusy()) return;
    const act = actOf(this.keys, event);
    // Undo is the work's wherever the focus is, but in a field with unsaved typing.
    if (isTyping(event.target) && (!isUndo(event) || hasBegunTyping(event.target))) return;
    if (!act || this.placing.waiting()) return;
    const { key } = event;
    // A work without pictures can get its first one.
    const answers = this.letters.on() && (this.usable() || key.toLowerCase() === 'a');
    if (!(event.ctrlKey || event.metaKey) && !answers) return;
    // Words that are marked are copied as words.
    if (event.key.toLowerCase() === 'c' && window.getSelection()?.toString()) return;
    act(this, event);
    event.preventDefault();
  }

  goTo(step: number): void {
    const name = this.steps()[step]?.name;
    if (name === undefined) return;
    this.edit.go(name);
  }

  focusTries(): void {
    this.strip()?.nativeElement.querySelector<HTMLElement>('[role=option][tabindex="0"]')?.focus();
  }

  focusBoard(): void {
    this.board()?.focus();
  }

  choose(by: number): void {
    this.state.select(neighbour(this.model()!, by));
  }

  openWall(): void {
    this.wall().open();
  }

  replace(): void {
    this.chooser().open();
  }

  getOutPicture(): void {
    this.getOut().open();
  }

  /** Asks for pictures to put in. */
  addPicture(): void {
    this.gap = null;
    if (this.canPut()) this.putter().open();
  }

  /** The empty frame that pictures are asked for. */
  private gap: Place | null = null;

  /** Asks for pictures for an empty frame of the page. */
  protected fillGap(place: Place): void {
    this.addPicture();
    this.gap = place;
  }

  /** Copies the chosen picture on its page; in texts and at cells a place has to be shown. */
  duplicate(): void {
    if (this.several.active()) void this.several.duplicate();
    else if (this.canDuplicate()) void this.state.duplicate();
  }

  /** On a page of a fixed size. */
  chooseEverything(): void {
    if (this.view() === 'page') this.several.chooseEverything();
  }

  /** On a page of a fixed size: puts what is chosen together. */
  group(): void {
    if (this.severalShown()) this.several.group();
  }

  /** Takes the groups of what is chosen apart. */
  ungroup(): void {
    if (this.view() === 'page') this.several.ungroup();
  }

  /** Takes what is chosen out of its file. */
  takeOut(): void {
    if (this.several.active()) {
      void this.several
        .remove()
        .then((count) => count > 0 && this.tell(`${count} items deleted. Undo brings them back.`));
      return;
    }
    if (this.several.locked()) {
      this.tell('It is locked. Unlock it, then delete it.');
      return;
    }
    if (this.around.item()) {
      this.around.remove();
      return;
    }
    const n = this.model()?.selected;
    if (this.canPut() && this.usable())
      void this.state.takeOut().then((done) => done && this.tell(`Picture ${n} deleted. Undo brings it back.`));
  }

  /** The picture that waits for a place goes into the margin of the pages. */
  protected intoMargin(): void {
    const [picture] = this.placing.pictures();
    if (picture) this.margin().open(picture);
  }

  /** The first of those that wait is in: the others wait on. */
  protected nextWaiting(): void {
    const [, ...others] = this.placing.pictures();
    if (others.length > 0) this.placing.begin(others);
    else this.placing.end();
  }

  /** Pictures are to be put in: a place is shown to them on the page. */
  protected place(pictures: readonly LibraryPicture[]): void {
    if (pictures.length === 0) return;
    this.show('page');
    if (this.gap) void this.placing.put(pictures, this.gap);
    else this.placing.begin(pictures);
    this.gap = null;
  }

  undo(): void {
    this.state.undo();
  }

  redo(): void {
    this.state.redo();
  }

  showKeys(): void {
    this.shortcuts().open();
  }

  /** While O is held, the picture is seen as it came. */
  compare(event: KeyboardEvent): void {
    if (event.repeat || this.looking !== null) return;
    const picture = this.edit.picture();
    if (!picture) return;
    this.looking = this.side();
    if (this.view() === 'page') this.showSide('came');
    else this.state.preview(picture.frame);
    this.told.set('Before');
  }

  @HostListener('document:keyup', ['$event'])
  protected released(event: KeyboardEvent): void {
    if (event.key.toLowerCase() === 'o') this.endCompare();
  }

  @HostListener('window:blur')
  protected endCompare(): void {
    if (this.looking === null) return;
    this.side.set(this.looking);
    this.looking = null;
    this.state.preview(null);
    this.told.set('');
  }

  mark(): void {
    const begin = (): void => {
      this.board()?.marking.update((on) => !on);
      this.board()?.focus();
    };
    if (this.view() === 'close') begin();
    else {
      // The close-up has to come up first.
      this.wentTo.set('close');
      setTimeout(begin);
    }
  }

  protected showSide(side: Side): void {
    this.side.set(side);
    const m = this.model();
    if (side !== 'now' && m) void this.images.loadAsCame(m);
  }

  /** The pages before and now, from the first that has changed on. */
  protected seePages(): void {
    const m = this.model();
    if (!m) return;
    const from = { view: this.wentTo() };
    const [first] = changedFrames(m);
    if (!isChanged(m) && first) this.state.select(first.n);
    this.show('page');
    this.showSide('both');
    this.comesFrom.set(from);
  }

  protected showAlone(): void {
    this.pageView()
      ?.showAlone()
      .catch(() => this.tell('This browser does not allow full screen here.'));
  }

  protected backToHandOver(): void {
    const from = this.comesFrom();
    if (!from) return;
    this.comesFrom.set(null);
    this.side.set('now');
    this.wentTo.set(from.view);
    this.sheet().again();
  }

  protected show(view: View): void {
    this.comesFrom.set(null);
    this.side.set('now');
    this.state.preview(null);
    this.wentTo.set(view);
  }

  backToPage(): void {
    if (this.severalShown()) {
      this.several.end();
      return;
    }
    if (this.comesFrom()) {
      this.backToHandOver();
      return;
    }
    const onBoard = document.activeElement?.getAttribute('role') === 'application';
    if (onBoard && this.view() === 'close' && this.hasPages()) this.show('page');
  }

  toggleView(): void {
    if (this.hasPages()) this.show(this.view() === 'close' ? 'page' : 'close');
  }

  sameAgain(): void {
    void this.frameNext();
  }

  private async frameNext(): Promise<void> {
    const n = await this.state.sameAgain();
    this.tell(
      n === null ? 'There is no next picture to frame like this one.' : `Picture ${n} framed like the last one.`,
    );
  }

  copy(): void {
    void this.copyPicture();
  }

  private async copyPicture(): Promise<boolean> {
    this.told.set('Copying …');
    const png = await this.getOut().copy('png', 'picture');
    if (!png) {
      this.told.set('');
      this.getOut().open();
      return false;
    }
    await this.rememberCopy(png);
    this.tell('Copied. Paste it where you need it.');
    return true;
  }

  /** Pasted here again, it comes with its frame. */
  private async rememberCopy(png: Blob): Promise<void> {
    const m = this.model();
    const picture = this.edit.picture();
    const item = picture && m?.document.items[itemIdOf(picture)];
    if (!m || !item || !isPictureItem(item)) return;
    const holder = slotsOf(m.document).get(item.id)?.in;
    const page = holder && 'page' in holder ? holder.page : '';
    // Without it, what is pasted is a picture like any other.
    const around = piecesAround(m.document, item.id);
    const from = { id: m.work.id, n: m.selected, page };
    await this.copied.remember(png, { item, around, from }).catch(() => undefined);
  }

  /** Copies the chosen picture, and takes it out. */
  cut(): void {
    if (this.canPut() && this.usable() && !this.edit.locked())
      void this.copyPicture().then((done) => done && this.takeOut());
  }

  protected tell(words: string): void {
    this.told.set(words);
    setTimeout(() => {
      if (this.told() === words) this.told.set('');
    }, 4000);
  }

  // Pictures coming in.

  protected async replaced(pictures: readonly LibraryPicture[]): Promise<void> {
    const m = this.model();
    if (!m) return;
    const left = await this.state.place(m.selected, pictures);
    if (left.length === 0) return;
    if (this.isFile()) this.tell(`One picture to a frame: ${left.length} more were kept among your pictures.`);
    else void this.state.add(left.map((p) => p.sha256));
  }

  protected added(pictures: readonly LibraryPicture[]): void {
    void this.state.add(pictures.map((p) => p.sha256));
  }

  protected addEmpty(): void {
    void this.state.add([null]);
  }

  @HostListener('document:paste', ['$event'])
  protected pasted(event: ClipboardEvent): void {
    const files = pastedFiles(event).filter(isMedia);
    if (files.length === 0) return;
    event.preventDefault();
    // Among pictures another one joins the row; on a page it gets a place, close by it takes that of the old one.
    const joins = !this.isFile() && this.edit.problem() === null;
    const placed = this.canPut() && this.view() === 'page';
    void this.pasteFrame(files, placed).then((done) => {
      if (!done)
        void this.takeIn(files, (all) => (placed ? this.place(all) : joins ? this.added(all) : this.replaced(all)));
    });
  }

  /** What was copied here comes with its frame: on a page of a fixed size where it was, with what stands around it, elsewhere at a place that is shown. */
  private async pasteFrame(files: readonly File[], placed: boolean): Promise<boolean> {
    const [file] = files;
    const m = this.model();
    const mine = placed && m && files.length === 1 && file ? await this.copied.recall(file).catch(() => null) : null;
    if (!m || !mine) return false;
    const page = m.file.pages[this.edit.page() - 1];
    if (page && m.work.can.insert === 'page') {
      const { width, height, ...at } = mine.item.at.box;
      const off = mine.from.id === m.work.id && mine.from.page === page.id ? BESIDE : 0;
      const room = (v: number, size: number, most: number): number => Math.max(0, Math.min(v + off, most - size));
      const box = { x: room(at.x, width, page.size.width), y: room(at.y, height, page.size.height), width, height };
      const slot = { in: { page: page.id }, index: page.items.length };
      void this.state.putIn(
        [{ picture: mine.picture, at: { on: 'page', box }, like: mine.item, around: mine.around }],
        slot,
      );
    } else this.placing.begin([mine.picture], mine.item);
    return true;
  }

  /** A picture from the clipboard, asked for by the menu. */
  private async pasteOver(): Promise<void> {
    try {
      const [item] = await navigator.clipboard.read();
      const type = item?.types.find((t) => t.startsWith('image/'));
      if (!type) {
        this.tell('There is no picture on the clipboard.');
        return;
      }
      const blob = await item!.getType(type);
      const file = new File([blob], `Pasted picture.${type.slice(6)}`, { type });
      await this.takeIn([file], (pictures) => this.replaced(pictures));
    } catch {
      this.tell('Press Ctrl+V to paste: the browser gives the clipboard to keys only.');
    }
  }

  protected over(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    this.dropping.set(true);
    this.placing.dragging.set(this.canPut() && this.view() === 'page');
  }

  protected left({ relatedTarget }: DragEvent): void {
    if (relatedTarget instanceof Node && this.host.nativeElement.contains(relatedTarget)) return;
    this.dropping.set(false);
    this.placing.end();
  }

  /** What happens to a picture that is dropped here, in words. */
  protected readonly dropWords = computed(() => {
    if (!this.placing.dragging()) return 'Drop it here to replace this picture';
    const n = this.placing.over();
    return n === null ? null : `Drop it to replace picture ${n}`;
  });

  protected async drop(event: DragEvent): Promise<void> {
    event.preventDefault();
    this.dropping.set(false);
    const [place, over] = [this.placing.mark()?.place, this.placing.over()];
    const onPage = this.placing.dragging();
    this.placing.end();
    if (!event.dataTransfer) return;
    const shape = this.step() === 'shape' && (event.target as HTMLElement).closest('[data-shapes]') !== null;
    const files = await filesOf(event.dataTransfer);
    if (files.length === 0) return;
    // Dropped among the shapes, a drawing becomes one.
    if (shape && files.length === 1) void this.source.addSilhouette(files[0]!);
    else if (onPage && over === null) await this.takeIn(files, (pictures) => this.dropped(pictures, place));
    else {
      if (onPage && over !== null) this.state.select(over);
      await this.takeIn(files, (pictures) => this.replaced(pictures));
    }
  }

  private dropped(pictures: readonly LibraryPicture[], place: Place | undefined): void {
    this.show('page');
    if (place) void this.placing.put(pictures, place);
    else this.place(pictures);
  }

  private async takeIn(files: File[], use: (pictures: readonly LibraryPicture[]) => unknown): Promise<void> {
    this.told.set(files.length > 1 ? `Taking ${files.length} pictures …` : 'Taking the picture …');
    const { pictures, problem } = await this.intake.keep(files);
    this.told.set('');
    if (problem) this.state.problem$.next(problem);
    if (pictures.length === 0) return;
    await use(pictures);
  }

  protected ownShape(input: HTMLInputElement): void {
    const file = input.files?.[0];
    input.value = '';
    if (file) void this.source.addSilhouette(file);
  }

  @HostListener('window:beforeunload', ['$event'])
  protected leaving(event: BeforeUnloadEvent): void {
    if (this.state.unsaved) event.preventDefault();
  }
}

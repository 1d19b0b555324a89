import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import type { KeptFont } from '@gable/contract';
import type { Along } from '@gable/core/silhouette';
import {
  FACE_COVERED,
  fittedWords,
  GableError,
  isAdded,
  retyped,
  USUAL_SHARE,
  wordsIn,
  WORDS_OUT,
  type FramedItem,
  type Paint,
  type Text,
  type Tie,
} from '@gable/core';
import { Edit } from '../bench/edit';
import { OwnFonts } from '../library/own-fonts';
import { Choice } from '../ui/choice';
import { ColourField } from '../ui/colour-field';
import { FigureField } from '../ui/figure-field';
import { Pick } from '../ui/pick';
import { SliderField } from '../ui/slider-field';
import { Tick } from '../ui/tick';
import { shownNumber } from '../ui/numbers';
import { shownDocument } from '../work/work-model';
import { WorkStore } from '../work/work-store';
import { Several } from '../page/several';
import { SHOWN, Windows } from '../page/windows';
import { AroundEdit } from './around-edit';
import { linesIn, nameOf, withRoom, withRuns } from './items';
import { LETTER_FONTS, LetterShapes, ownLetterFont, type LetterFont } from './letter-shapes';
import { LegibilityOf, type Legibility } from './legibility';
import { measure } from './measure';

type Align = Text['paragraphs'][number]['align'];

/** Fonts that are offered beside those of the file: they are the same on other machines, or stood in for by their like. */
const FONTS = ['Calibri', 'Cambria', 'Arial', 'Times New Roman', 'Georgia', 'Courier New'];

/** What the list of fonts does beside choosing one. */
const ADD = '+';
const REMOVE = '-';

const labelOf = ({ family, weight, italic }: KeptFont): string =>
  [family, ...(weight > 400 ? ['bold'] : []), ...(italic ? ['italic'] : [])].join(', ');

/** What was put round a picture, and is chosen: its words, its colours, its edge, and how it follows. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-item-band',
  imports: [Choice, ColourField, FigureField, Pick, SliderField, Tick],
  templateUrl: './item-band.html',
  providers: [LegibilityOf],
  host: {
    class: 'block min-w-0 grow',
    role: 'region',
    'aria-label': 'Settings',
    'data-with-words': '',
    '(focusout)': 'left($event)',
  },
})
export class ItemBand {
  protected readonly state = inject(WorkStore);
  protected readonly edit = inject(Edit);
  protected readonly around = inject(AroundEdit);
  protected readonly several = inject(Several);
  private readonly legibility = inject(LegibilityOf);
  private readonly windows = inject(Windows);

  protected readonly title = computed(() => {
    const item = this.around.item();
    return item ? (item.text ? 'Words' : nameOf(item)) : '';
  });
  protected readonly run = computed(() => {
    const first = this.around.words()?.paragraphs[0]?.runs[0];
    return first ? { ...first, ...this.around.marked() } : null;
  });
  protected readonly lines = computed(() => {
    const words = this.around.words();
    return words ? linesIn(words).join('\n') : '';
  });
  protected readonly fonts = computed(() => {
    const own = this.run()?.font ?? '';
    const families = (ships: boolean): string[] =>
      this.ownFonts.all().flatMap((f) => ((f.ships === true) === ships ? [f.family] : []));
    const brought = families(false);
    const all = new Set([...(own ? [own] : []), ...brought, ...this.fontsOfFile(), ...FONTS, ...families(true)]);
    // Only on a web page its own can be meant without a name.
    const onWeb =
      this.around.item()?.at.on === 'element' && !this.around.isOfWebPage()
        ? [{ value: '', label: 'The page’s own' }]
        : [];
    const remove = brought.includes(own) ? [{ value: REMOVE, label: `Remove ${own} from your fonts` }] : [];
    const more = [{ value: ADD, label: 'Add a font …' }, ...remove];
    return [...onWeb, ...[...all].map((value) => ({ value, label: value })), ...more];
  });
  /** Fonts that words of the file's own pages are set in, the most used first. */
  private readonly fontsOfFile = computed((): string[] => {
    const uses = new Map<string, number>();
    for (const item of Object.values(this.state.model()?.file.items ?? {}))
      if (item.kind === 'framed')
        for (const { font, text } of item.text?.paragraphs.flatMap((p) => p.runs) ?? [])
          if (font) uses.set(font, (uses.get(font) ?? 0) + text.length);
    return [...uses].sort((a, b) => b[1] - a[1]).map(([font]) => font);
  });
  protected readonly ownFonts = inject(OwnFonts);

  /** @param font of the list, or what is to be done with it @param file the field that a font is chosen with */
  protected fontChosen(font: string, file: HTMLInputElement): void {
    if (font === ADD) file.click();
    else if (font === REMOVE) void this.ownFonts.remove(this.run()?.font ?? '');
    else {
      this.around.grab();
      this.around.runs('font', { font });
    }
  }

  /** A font of the author's own, for the words or the letters that are chosen. */
  protected async fontBrought(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    const font = file && (await this.ownFonts.add(file));
    if (!font) return;
    const letters = this.letters();
    if (letters !== null) await this.spell(letters, ownLetterFont(font.id));
    else this.fontChosen(font.family, input);
  }
  protected readonly aligns = [
    { value: 'start', label: 'Left' },
    { value: 'centre', label: 'Centre' },
    { value: 'end', label: 'Right' },
  ] as const;
  protected readonly align = computed((): Align | null => this.around.words()?.paragraphs[0]?.align ?? null);
  protected readonly ink = computed(() => {
    const paint = this.run()?.paint;
    return paint?.kind === 'solid' ? paint.colour : null;
  });
  protected readonly fill = computed(() => {
    const fill = this.around.item()?.fill;
    return fill?.kind === 'paint' && fill.paint.kind === 'solid' ? fill.paint : null;
  });
  /** How much what lies beneath it is blurred, in points; null where nothing shows through. */
  protected readonly blur = computed(() => {
    const fill = this.around.item()?.fill;
    return fill?.kind === 'paint' && (fill.blur !== undefined || seenThrough(fill.paint)) ? (fill.blur ?? 0) : null;
  });
  protected readonly outline = computed(() => this.around.item()?.outline ?? null);
  protected readonly lineColour = computed(() => {
    const paint = this.outline()?.paint;
    return paint?.kind === 'solid' ? paint.colour : null;
  });
  /** The letters of a shape that is made of them; null for anything else. */
  protected readonly letters = computed(() => {
    const item = this.around.item();
    return item?.shape.name === 'letter' ? (item.shape.drawn?.label ?? null) : null;
  });
  protected readonly letterFonts = computed((): readonly { value: LetterFont | typeof ADD; label: string }[] => [
    ...LETTER_FONTS,
    ...this.ownFonts
      .all()
      .filter((f) => !f.ships || !f.italic)
      .map((f) => ({ value: ownLetterFont(f.id), label: labelOf(f) })),
    { value: ADD, label: 'Add a font …' },
  ]);
  protected readonly letterFont = signal<LetterFont>('gelasio');
  /** Why letters cannot be had; null where they can. */
  protected readonly noLetters = signal<string | null>(null);
  private readonly shapes = inject(LetterShapes);

  /** Do the letters stand along a circle? */
  protected readonly isAlong = computed(() => this.around.item()?.tie?.as === 'along');

  /** Other letters, or the same in another font, as large as those that were there; along a circle as its rule has them. */
  protected async spell(text: string, font: LetterFont, rule: Partial<Along> = {}): Promise<void> {
    const item = this.around.item();
    if (!item) return;
    const { id } = item;
    const before = this.asked?.id === id ? this.asked : null;
    const isSame = text === (before?.text ?? this.letters()) && font === (before?.font ?? this.letterFont());
    if (isSame && Object.keys(rule).length === 0) return;
    // What is asked for while letters are made counts with what was asked for before.
    const asked = { id, text, font, rule: { ...before?.rule, ...rule } };
    this.asked = asked;
    this.letterFont.set(font);
    const isAlong = item.tie?.as === 'along';
    const along = { ...alongOf(item.tie ?? null), ...asked.rule };
    try {
      const shape = await (isAlong ? this.shapes.along(text, font, along) : this.shapes.shape(text, font));
      if (this.asked !== asked) return;
      this.noLetters.set(null);
      const spelt = (i: FramedItem): FramedItem => {
        if (i.tie?.as === 'along') return { ...i, shape, alt: shape.drawn?.label ?? '', tie: { ...i.tie, ...along } };
        const { box } = i.at;
        const width = box.height * (shape.drawn?.ratio ?? 1);
        return { ...i, shape, at: { ...i.at, box: { ...box, width } } as FramedItem['at'] };
      };
      if (rule.share === undefined) this.around.set('letters', spelt, id);
      else this.around.slide('size of the letters', spelt, id);
    } catch (error) {
      if (this.asked === asked)
        this.noLetters.set(
          error instanceof GableError ? `${error.message} ${error.remedy}` : 'The font could not be loaded.',
        );
    }
    if (this.asked === asked) this.asked = null;
  }
  private asked: { id: string; text: string; font: LetterFont; rule: Partial<Along> } | null = null;

  /** Fonts that files cannot take along keep their look as outlines: are the words in such? */
  protected readonly canOutline = computed(() => {
    const item = this.around.item();
    const words = this.around.words();
    const brought = new Set(this.ownFonts.all().map((f) => f.family));
    return (
      !!item && !!words && isAdded(item.id) && words.paragraphs.every((p) => p.runs.every((r) => brought.has(r.font)))
    );
  });

  protected async intoOutlines(): Promise<void> {
    const item = this.around.item();
    if (!item) return;
    try {
      const shape = await this.shapes.outlines(item, this.ownFonts.all());
      // Another was chosen meanwhile: it is left as it is.
      if (this.around.item()?.id !== item.id) return;
      this.around.outline(shape);
      this.noLetters.set(null);
    } catch (error) {
      this.noLetters.set(
        error instanceof GableError ? `${error.message} ${error.remedy}` : 'The font could not be loaded.',
      );
    }
  }

  /** Why a cell cannot be shown; null where it can. */
  protected readonly noCell = signal<string | null>(null);

  protected showCell(typed: string): void {
    const cell = typed.trim();
    if (cell === (this.around.words()?.cell ?? '')) return;
    try {
      this.around.showCell(cell === '' ? null : cell);
      this.noCell.set(null);
    } catch (error) {
      if (!(error instanceof GableError)) throw error;
      this.noCell.set(`${error.message} ${error.remedy}`);
    }
  }

  /** The letters that are there, or that are being made. */
  private askedLetters(): string | null {
    return this.asked && this.asked.id === this.around.item()?.id ? this.asked.text : this.letters();
  }

  protected share(share: number): void {
    const words = this.askedLetters();
    if (this.isAlong() && words !== null) return void this.spell(words, this.letterFont(), { share });
    this.around.slide('size of the letters', (i) => (i.tie ? { ...i, tie: { ...i.tie, share } } : i));
  }

  protected readonly tie = computed(() => this.around.item()?.tie ?? null);
  protected readonly sides = computed((): readonly { value: string; label: string }[] => {
    const all = [
      { value: 'top', label: 'Above' },
      { value: 'right', label: 'Right' },
      { value: 'bottom', label: 'Below' },
      { value: 'left', label: 'Left' },
    ];
    switch (this.tie()?.as) {
      case 'beside':
        return all;
      case 'over':
        return [
          { value: 'top', label: 'Top' },
          { value: 'middle', label: 'Middle' },
          { value: 'bottom', label: 'Bottom' },
        ];
      case 'along':
        return this.letters() === null ? [] : ALONG_SIDES;
      case 'behind':
        return [{ value: 'middle', label: 'Around it' }, ...all.map((s) => ({ ...s, label: BAND[s.value]! }))];
      default:
        return [];
    }
  });
  protected readonly along = computed((): readonly { value: NonNullable<Tie['align']>; label: string }[] => {
    const side = this.tie()?.side ?? 'bottom';
    const upright = side === 'left' || side === 'right';
    return [
      { value: 'start', label: upright ? 'Top' : 'Left' },
      { value: 'centre', label: 'Middle' },
      { value: 'end', label: upright ? 'Bottom' : 'Right' },
    ];
  });
  /** How well the words can be read; null while that is not known. */
  protected readonly judged = signal<Legibility | null>(null);
  protected readonly contrast = computed(() => {
    const j = this.judged();
    return (
      j && {
        words: `${shownNumber(j.contrast, 1)} : 1${j.window === undefined ? '' : ` at ${j.window} px`}`,
        enough: j.contrast >= j.least,
        least: shownNumber(j.least, 1),
        face: j.face > FACE_COVERED,
        out: j.outside > WORDS_OUT,
      }
    );
  });

  private readonly spelt = viewChild<ElementRef<HTMLInputElement>>('spelt');

  constructor() {
    effect(() => {
      const field = this.spelt()?.nativeElement;
      if (!field || !this.around.spelling()) return;
      this.around.spelling.set(false);
      field.focus();
    });
    // What was told of one item is no word about another.
    const chosen = computed(() => this.around.item()?.id);
    effect(() => {
      chosen();
      this.noLetters.set(null);
      this.noCell.set(null);
    });
    // Words on a web page are judged in windows of all widths.
    effect(() => {
      const isWeb = this.around.item()?.at.on === 'element' && this.around.words() !== null;
      if (isWeb && this.windows.wanted() !== null) untracked(() => void this.windows.measure());
    });
    let round = 0;
    effect(() => {
      const m = this.state.model();
      const item = this.around.item();
      this.legibility.known();
      const boxes = this.windows.boxes()?.filter((b) => SHOWN.includes(b.window));
      const mine = ++round;
      untracked(() => {
        if (!m || !item?.text) {
          this.judged.set(null);
          return;
        }
        // Once things are still.
        setTimeout(() => {
          if (mine !== round) return;
          const palette = [...this.edit.colours(), ...this.edit.palette()];
          const ground = this.around.groundOf(item);
          const judged =
            item.at.on === 'element' && boxes
              ? this.legibility.atWorst(m, item, palette, { ground, boxes })
              : this.legibility.of(m, item, palette, ground);
          void judged.then((j) => mine === round && this.judged.set(j));
        }, 200);
      });
    });
  }

  /** Of what is chosen, where its rule has it. */
  private width(): number {
    return this.around.item()?.at.box.width ?? Infinity;
  }

  /** Who goes from here to something else, and not back to the words, is done with typing. */
  protected left(event: FocusEvent): void {
    const to = event.relatedTarget;
    if (to instanceof Element && !to.closest('[role=textbox][aria-multiline]')) this.around.leave(event);
  }

  protected type(words: string): void {
    this.around.slide('words', (i) => (i.text ? withRoom({ ...i, text: retyped(i.text, words) }, this.width()) : i));
  }

  /** Of the letters that are marked, or of all runs in the same relation to the first one. */
  protected size(size: number): void {
    if (this.around.marked()) return this.around.runs('size of the words', { size });
    const first = this.run()?.size ?? size;
    const resized = (text: Text): Text =>
      withRuns(text, (r) => ({ ...r, size: Math.max(1, Math.round(r.size * (size / first) * 10) / 10) }));
    this.around.slide('size of the words', (i) =>
      i.text ? withRoom({ ...i, text: resized(i.text) }, this.width()) : i,
    );
  }

  protected aligned(align: Align): void {
    this.around.set('alignment', (i) =>
      i.text ? { ...i, text: { ...i.text, paragraphs: i.text.paragraphs.map((p) => ({ ...p, align })) } } : i,
    );
  }

  /** The first line of words on a web page can be a heading, which readers and search engines find their way by. */
  protected readonly canHead = computed(
    () => !!this.run() && this.around.item()?.at.on === 'element' && !this.around.isOfWebPage(),
  );
  protected readonly levels = [
    { value: '', label: 'None' },
    ...[1, 2, 3].map((n) => ({ value: String(n), label: `Level ${n}` })),
  ];
  protected readonly level = computed(() => String(this.around.words()?.paragraphs[0]?.level ?? ''));
  protected head(level: string): void {
    this.around.set('heading', (i) => {
      const [first, ...others] = i.text?.paragraphs ?? [];
      if (!i.text || !first) return i;
      const { level: was, ...plain } = first;
      void was;
      const next = level === '' ? plain : { ...plain, level: Number(level) };
      return { ...i, text: { ...i.text, paragraphs: [next, ...others] } };
    });
  }

  protected inked(colour: string): void {
    const paint = this.run()?.paint;
    // Words of a web page that are faded stay so in another colour.
    const opacity = this.around.isOfWebPage() && paint?.kind === 'solid' ? paint.opacity : 1;
    this.around.runs('colour of the words', { paint: { kind: 'solid', colour, opacity } });
  }

  protected faded(opacity: number): void {
    const colour = this.ink();
    if (colour !== null) this.around.runs('opacity of the words', { paint: { kind: 'solid', colour, opacity } });
  }

  protected filled(colour: string | null, opacity = this.fill()?.opacity ?? 1): void {
    this.around.slide('fill', (i) => ({
      ...i,
      fill: colour === null ? null : paintedWith(i.fill, { kind: 'solid', colour, opacity }),
    }));
  }

  protected blurred(blur: number): void {
    this.around.slide('blur', (i) => {
      if (i.fill?.kind !== 'paint') return i;
      const { kind, paint } = i.fill;
      return { ...i, fill: { kind, paint, ...(blur > 0 && { blur }) } };
    });
  }

  protected lined(colour: string | null): void {
    this.around.slide('outline', (i) => ({
      ...i,
      outline:
        colour === null
          ? null
          : {
              ...(i.outline ?? { weight: 2, side: 'on', dash: 'solid', join: 'round', cap: 'butt' }),
              paint: { kind: 'solid', colour, opacity: 1 },
            },
    }));
  }

  protected weight(weight: number): void {
    this.around.slide('outline weight', (i) => (i.outline ? { ...i, outline: { ...i.outline, weight } } : i));
  }

  protected side(side: string): void {
    const words = this.askedLetters();
    if (this.isAlong() && words !== null)
      return void this.spell(words, this.letterFont(), { side: side === 'bottom' ? side : 'top' });
    this.around.set('side', (i) => {
      if (!i.tie) return i;
      const { side: was, along, ...rest } = i.tie;
      void [was, along];
      return { ...i, tie: side === 'middle' ? rest : { ...rest, side: side as NonNullable<Tie['side']> } };
    });
  }

  /** A side of its box; what its tie makes as wide as a share of its picture gets another share. */
  protected sized(side: 'width' | 'height', value: number): void {
    const shown = this.around.item();
    this.around.set('size', (i) => {
      const { tie } = i;
      if (side === 'width' && tie?.share !== undefined && shown)
        return { ...i, tie: { ...tie, share: Math.min(10, (tie.share * value) / shown.at.box.width) } };
      return { ...i, at: { ...i.at, box: { ...i.at.box, [side]: value } } as FramedItem['at'] };
    });
  }

  /** Is a side of its box its own, or does its rule say it? */
  protected readonly hasOwn = computed(() => {
    const as = this.tie()?.as;
    return as === undefined || as === 'beside' || as === 'over';
  });

  /** Makes the words as large as they fit in their box, where its rule has it. */
  protected fit(): void {
    const shown = this.around.item();
    if (!shown?.text) return;
    const { box } = shown.at;
    const { paragraphs } = fittedWords(measure(), wordsIn(box, shown, shown.text), box);
    this.around.set('words that fit', (i) => (i.text ? { ...i, text: { ...i.text, paragraphs } } : i));
  }

  /** Lets the words lie where the picture beneath is calm. */
  protected calmed(tie: Tie): void {
    this.around.set('words in a calm place', (i) => ({ ...i, tie }));
  }

  /** Gives the words a ground on which they can be read: their own, or that which lies beneath them round the same picture. */
  protected darken(): void {
    const judged = this.judged();
    const m = this.state.model$.value;
    const item = this.around.item();
    if (!judged?.veil || !m || !item) return;
    const { colour, opacity } = judged.veil;
    const beneath = Object.values(shownDocument(m).items).find(
      (i) => i.kind === 'framed' && i.tie?.to === item.tie?.to && i.tie?.as === 'around' && i.fill?.kind === 'paint',
    );
    const paint = { kind: 'solid' as const, colour, opacity };
    if (!item.fill && beneath?.kind === 'framed') {
      // It darkens already: what is missing comes on top of that.
      const has = beneath.fill?.kind === 'paint' && beneath.fill.paint.kind === 'solid' ? beneath.fill.paint : null;
      const more = has?.colour === colour ? 1 - (1 - has.opacity) * (1 - opacity) : opacity;
      const veiled = { ...beneath, fill: paintedWith(beneath.fill, { ...paint, opacity: more }) };
      this.state.takeItems('words made readable', [veiled]);
    } else this.around.set('words made readable', (i) => ({ ...i, fill: paintedWith(i.fill, paint) }));
  }
}

/** A fill in another paint: what it blurs, it blurs still. */
const paintedWith = (fill: FramedItem['fill'], paint: Paint): FramedItem['fill'] & { kind: 'paint' } =>
  fill?.kind === 'paint' ? { ...fill, paint } : { kind: 'paint', paint };

/** Does what lies beneath a paint show through? */
const seenThrough = (paint: Paint): boolean =>
  paint.kind === 'solid' ? paint.opacity < 1 : paint.stops.some((s) => s.opacity < 1);

const ALONG_SIDES = [
  { value: 'top', label: 'Top' },
  { value: 'bottom', label: 'Bottom' },
] as const;
const alongOf = (tie: Tie | null): Along => ({
  share: tie?.share ?? USUAL_SHARE,
  side: tie?.side === 'bottom' ? 'bottom' : 'top',
});

const BAND: Readonly<Record<string, string>> = {
  top: 'From the top',
  right: 'From the right',
  bottom: 'From the bottom',
  left: 'From the left',
};

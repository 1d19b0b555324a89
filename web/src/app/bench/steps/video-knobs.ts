import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { cuesIn, readCaptions, type Frame, type Play, type Video } from '@gable/core';
import { toProblem } from '../../api/problem';
import { Intake } from '../../intake/intake';
import { FigureField } from '../../ui/figure-field';
import { Tick } from '../../ui/tick';
import { pictureOf } from '../../video/decode';
import { Player } from '../../video/player';
import { shownTime } from '../../video/time';
import { sourceIn, WorkStore } from '../../work/work-store';
import { Edit } from '../edit';

/** Languages that captions can be in; a file can have others. */
const LANGUAGES = [
  'ar',
  'cs',
  'da',
  'de',
  'el',
  'en',
  'es',
  'fi',
  'fr',
  'he',
  'hi',
  'hu',
  'it',
  'ja',
  'ko',
  'nl',
  'no',
  'pl',
  'pt',
  'ro',
  'ru',
  'sv',
  'tr',
  'uk',
  'vi',
  'zh',
];
/** The shortest that is left of a video, in seconds. */
const SHORTEST = 0.1;

/** What is seen of a video before it plays, from where and up to where, and how it plays. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-video-knobs',
  imports: [FigureField, Tick],
  template: `@if (video(); as v) {
    @if (player.video()) {
      <label class="flex items-center gap-2"
        ><span class="w-[84px] shrink-0 text-soft">Time</span
        ><input
          type="range"
          class="slide min-w-0 flex-1"
          aria-label="Time"
          [attr.aria-valuetext]="time(player.at() ?? player.start())"
          min="0"
          [max]="player.seconds()"
          step="0.05"
          [value]="player.at() ?? player.start()"
          (input)="look($event)"
        /><span class="figure w-12 text-right text-[13px]">{{ time(player.at() ?? player.start()) }}</span></label
      >
      <div class="flex items-center gap-3">
        <button
          type="button"
          class="act act-line"
          [disabled]="player.at() === null || busy()"
          title="Readers see this moment before the video plays"
          (click)="usePoster()"
        >
          {{ busy() ? 'Taking the picture …' : 'Use as poster' }}
        </button>
        @if (player.at() !== null && !busy()) {
          <button type="button" class="word text-[13px]" (click)="player.stop()">Show the poster</button>
        }
      </div>
      <gable-figure-field
        label="Start"
        kind="seconds"
        [value]="v.start ?? 0"
        [min]="0"
        [max]="player.end() - shortest"
        (changed)="edit.set('video start', from($event))"
      />
      @if (ends()) {
        <gable-figure-field
          label="End"
          kind="seconds"
          [value]="player.end()"
          [min]="player.start() + shortest"
          [max]="player.seconds()"
          (changed)="edit.set('video end', upTo($event, player.seconds()))"
        />
      }
    } @else {
      <p class="text-[13px] leading-tight text-soft">
        This video stands elsewhere. Replace the picture to use another one.
      </p>
    }
    @for (t of ticks(); track t.key) {
      <gable-tick
        [label]="t.label"
        [on]="v.play[t.key]"
        [title]="t.title"
        (changed)="edit.set(t.entry, played(t.key))"
      />
    }
    @if (isWeb()) {
      @if (v.captions; as c) {
        <label class="flex items-baseline gap-2 text-[13px]"
          ><span class="w-[84px] shrink-0 text-soft">Captions</span
          ><select
            class="field min-w-0 flex-1"
            aria-label="Language of the captions"
            [value]="c.language"
            (change)="edit.set('captions', spoken($event))"
          >
            @for (l of languages(); track l.code) {
              <option [value]="l.code" [selected]="l.code === c.language">{{ l.name }}</option>
            }</select
          ><span class="shrink-0 text-soft">{{ cues(c.text) }}</span></label
        >
        <button
          type="button"
          class="word justify-self-start text-[13px]"
          (click)="edit.set('captions removed', silent)"
        >
          Remove the captions
        </button>
      } @else {
        <button
          type="button"
          class="word justify-self-start text-[13px]"
          title="A WebVTT file (.vtt): readers who do not hear the video can have it shown"
          (click)="chooser.click()"
        >
          Add captions
        </button>
      }
      <input
        #chooser
        type="file"
        class="hidden"
        tabindex="-1"
        accept=".vtt,text/vtt"
        aria-label="File of captions"
        (change)="caption($event)"
      />
    }
    <button type="button" class="word justify-self-start text-[13px]" (click)="edit.set('video removed', still)">
      Remove the video, keep its poster
    </button>
  }`,
  host: { class: 'contents' },
})
export class VideoKnobs {
  protected readonly edit = inject(Edit);
  protected readonly player = inject(Player);
  private readonly state = inject(WorkStore);
  private readonly intake = inject(Intake);
  protected readonly time = shownTime;
  protected readonly shortest = SHORTEST;
  protected readonly busy = signal(false);
  protected readonly video = computed(() => this.edit.shown()?.video ?? null);
  /** A slide says what is left off at the end, and not how long its own video is. */
  protected readonly ends = computed(
    () => this.video()?.source.from === 'kept' || this.state.model()?.work.format !== 'pptx',
  );
  protected readonly isWeb = computed(() => this.state.model()?.work.can.pages === 'web');
  /** Those that many readers of pages have, and the one that is said. */
  protected readonly languages = computed(() => {
    const named = new Intl.DisplayNames(navigator.language, { type: 'language' });
    const said = this.video()?.captions?.language;
    const codes = new Set([...LANGUAGES, ...(said ? [said] : [])]);
    return [...codes]
      .map((code) => ({ code, name: named.of(code) ?? code }))
      .sort((a, b) => a.name.localeCompare(b.name));
  });
  protected readonly cues = (text: string): string => {
    const n = cuesIn(text);
    return n === 1 ? '1 line' : `${n} lines`;
  };
  protected readonly ticks = computed(() => {
    const isWeb = this.isWeb();
    const all: { key: keyof Play; label: string; entry: string; title: string }[] = [
      {
        ...{ key: 'automatic', label: 'Starts by itself', entry: 'video start by itself' },
        title: isWeb ? 'Browsers allow that only while it is muted' : 'Once its slide is there',
      },
      { key: 'loop', label: 'Loops', entry: 'video loop', title: 'At its end it begins again' },
      { key: 'muted', label: 'Muted', entry: 'video sound', title: 'It plays without sound' },
    ];
    const controls = { key: 'controls', label: 'Show controls', entry: 'video controls' } as const;
    return isWeb ? [...all, { ...controls, title: 'Readers can pause it; needed for one that starts by itself' }] : all;
  });

  protected readonly still = ({ video, ...f }: Frame): Frame => {
    void video;
    return f;
  };
  protected readonly played = (key: keyof Play): ((f: Frame) => Frame) =>
    this.changed((v) => ({ ...v, play: { ...v.play, [key]: !v.play[key] } }));
  protected readonly from = (start: number): ((f: Frame) => Frame) =>
    this.changed(({ start: was, ...v }) => {
      void was;
      return start > 0 ? { ...v, start } : v;
    });
  protected readonly upTo = (end: number, seconds: number): ((f: Frame) => Frame) =>
    this.changed(({ end: was, ...v }) => {
      void was;
      return end < seconds - 1e-3 ? { ...v, end } : v;
    });
  private readonly changed =
    (next: (video: Video) => Video) =>
    (f: Frame): Frame =>
      f.video ? { ...f, video: next(f.video) } : f;

  protected readonly silent = this.changed(({ captions, ...v }) => {
    void captions;
    return v;
  });
  protected readonly spoken = (event: Event): ((f: Frame) => Frame) => {
    const language = (event.target as HTMLSelectElement).value;
    return this.changed((v) => (v.captions ? { ...v, captions: { ...v.captions, language } } : v));
  };

  /** The captions of a file that was chosen, in the language of the one who chose it until another is said. */
  protected async caption(event: Event): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    if (!file) return;
    try {
      const text = readCaptions(new Uint8Array(await file.arrayBuffer()), file.name);
      const language = new Intl.Locale(navigator.language).language;
      this.edit.set(
        'captions',
        this.changed((v) => ({ ...v, captions: { language, text } })),
      );
      this.state.problem$.next(null);
    } catch (error) {
      this.state.problem$.next(toProblem(error));
    } finally {
      input.value = '';
    }
  }

  /** A moment is looked at in the frame. */
  protected look(event: Event): void {
    this.player.pause();
    this.player.seek(Number((event.target as HTMLInputElement).value));
  }

  /** What is seen now is seen before it plays. */
  protected async usePoster(): Promise<void> {
    const [address, name, at] = [this.player.address(), this.player.name(), this.player.at()];
    if (address === null || at === null) return;
    this.busy.set(true);
    try {
      const picture = await pictureOf(address, name, at);
      const called = `${name.replace(/\.\w+$/, '')}, ${shownTime(at)}.png`;
      const { pictures, problem } = await this.intake.keep([new File([picture], called, { type: 'image/png' })]);
      const [poster] = pictures;
      if (problem) this.state.problem$.next(problem);
      // Its own size is the same: it lies as the one before it.
      if (poster) this.edit.set('poster', (f) => ({ ...f, source: sourceIn(poster) }));
      this.player.stop();
    } catch (error) {
      this.state.problem$.next(toProblem(error));
    } finally {
      this.busy.set(false);
    }
  }
}

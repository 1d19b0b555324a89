import { CdkContextMenuTrigger, CdkMenuTrigger } from '@angular/cdk/menu';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  viewChild,
  afterNextRender,
  Injector,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { debounce, of, tap, timer } from 'rxjs';
import { groundOf, type Placed, type Size } from '@gable/core';
import { Edit } from '../bench/edit';
import { DeedMenu, type MenuDeed } from '../ui/deed-menu';
import { scrollSideways } from '../ui/scroll-sideways';
import { SmallPage } from './small-page';
import { shownDocument, type WorkModel } from '../work/work-model';
import { stackOnSheet } from '../work/on-sheet';
import { WorkStore } from '../work/work-store';

/** What has not changed for so long rests, in milliseconds. */
const REST_MS = 250;
/** Height of a small page, in CSS pixels. */
const HEIGHT = 36;

interface Small {
  number: number;
  label: string;
  width: number;
  size: Size;
  background: string;
  placed: readonly Placed[];
}

/** The pages of a work side by side, small: what lies on them as plain shapes. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-page-run',
  imports: [CdkContextMenuTrigger, CdkMenuTrigger, DeedMenu, SmallPage],
  template: `<div
      #list
      role="listbox"
      aria-label="Pages of the work"
      aria-orientation="horizontal"
      class="runs-on flex h-full min-w-0 items-stretch"
      (keydown)="move($event)"
      (wheel)="scrollSideways($event)"
      [cdkContextMenuTriggerFor]="turns() ? menu : null"
      [cdkContextMenuDisabled]="!turns()"
    >
      @for (p of pages(); track p.number) {
        <div
          role="option"
          [id]="'page-run-' + p.number"
          [attr.aria-selected]="p.number === edit.page()"
          [attr.aria-label]="p.label"
          [tabindex]="p.number === edit.page() ? 0 : -1"
          [title]="p.label"
          class="group flex shrink-0 cursor-pointer items-center gap-1.5 border-l border-line px-2"
          (click)="edit.goToPage(p.number)"
          (contextmenu)="edit.goToPage(p.number)"
        >
          <span class="figure self-end pb-2 text-[11px] text-soft" aria-hidden="true">{{ p.number }}</span>
          <span class="border-b-[3px] border-transparent pb-[3px] pt-[6px] group-aria-selected:border-mark">
            <gable-small-page
              class="block rounded-[2px] shadow-[0_0_0_1px_var(--line)]"
              [placed]="p.placed"
              [size]="p.size"
              [width]="p.width"
              [height]="height"
              [ground]="p.background"
            />
          </span>
        </div>
      }
    </div>
    @if (turns()) {
      <button type="button" class="quiet shrink-0 self-center" [cdkMenuTriggerFor]="menu">Edit {{ word() }}s</button>
    }
    <ng-template #menu><gable-deed-menu [label]="'This ' + word()" [deeds]="deeds()" /></ng-template>`,
  host: { class: 'flex min-w-0 grow select-none' },
})
export class PageRun {
  protected readonly scrollSideways = scrollSideways;
  protected readonly edit = inject(Edit);
  private readonly state = inject(WorkStore);
  protected readonly height = HEIGHT;
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');

  private drawn: WorkModel['work'] | undefined;
  /** The work as it last rested: small pages are not drawn anew while something moves. Pages come and go at once. */
  private readonly resting = toSignal(
    this.state.model$.pipe(
      debounce((m) => (m?.work === this.drawn ? timer(REST_MS) : of(0))),
      tap((m) => (this.drawn = m?.work)),
    ),
    { initialValue: this.state.model$.value },
  );

  protected readonly pages = computed((): Small[] => {
    const m = this.resting();
    const document = m && shownDocument(m);
    return (m?.work.sheets ?? []).map((s, i) => ({
      number: i + 1,
      label: `${this.edit.pageName()} ${i + 1}`,
      width: Math.max(20, Math.min(80, (HEIGHT * s.width) / s.height)),
      size: { width: s.width, height: s.height },
      background: groundOf(document!.pages[i]!),
      placed: stackOnSheet(m!.work, document!, document!.pages[i]!),
    }));
  });

  /** Can pages come, go and move? */
  protected readonly turns = computed(() => this.state.model()?.work.can.turns ?? false);
  protected readonly word = computed(() => this.edit.pageName().toLowerCase());
  protected readonly deeds = computed((): readonly MenuDeed[] => {
    const [at, last, word] = [this.edit.page(), this.pages().length, this.word()];
    return [
      { label: `Add a ${word}`, act: () => this.come(false) },
      { label: `Duplicate this ${word}`, act: () => this.come(true) },
      { label: 'Move it earlier', key: 'Alt+←', disabled: at === 1, apart: true, act: () => this.moveBy(-1) },
      { label: 'Move it later', key: 'Alt+→', disabled: at === last, act: () => this.moveBy(1) },
      { label: `Delete this ${word}`, key: 'Del', disabled: last === 1, apart: true, act: () => this.remove() },
    ];
  });

  private id(): string {
    return this.state.model$.value!.file.pages[this.edit.page() - 1]!.id;
  }

  private come(copy: boolean): void {
    const at = this.edit.page();
    void this.state.addPage(this.id(), copy, this.word()).then((done) => done && this.show(at + 1));
  }

  private moveBy(step: number): void {
    const to = this.edit.page() + step;
    if (to < 1 || to > this.pages().length) return;
    void this.state.movePage(this.id(), to - 1, this.word()).then((done) => done && this.show(to));
  }

  private remove(): void {
    const at = this.edit.page();
    if (this.pages().length === 1) return;
    void this.state
      .removePage(this.id(), this.word())
      .then((done) => done && this.show(Math.min(at, this.pages().length)));
  }

  /** Goes to a page, and stays among the pages with the keyboard. */
  private show(page: number): void {
    this.edit.goToPage(page);
    afterNextRender(() => this.list().nativeElement.querySelector<HTMLElement>(`#page-run-${page}`)?.focus(), {
      injector: this.injector,
    });
  }
  private readonly injector = inject(Injector);

  constructor() {
    afterRenderEffect(() => {
      const at = this.edit.page();
      this.list()
        .nativeElement.querySelector(`#page-run-${at}`)
        ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    });
  }

  protected move(event: KeyboardEvent): void {
    if (this.turns() && this.turned(event)) {
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const [now, last] = [this.edit.page(), this.pages().length];
    const to = { ArrowRight: Math.min(last, now + 1), ArrowLeft: Math.max(1, now - 1), Home: 1, End: last }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    this.show(to);
  }

  /** Keys that move a page, or take it away. */
  private turned({ key, altKey, ctrlKey, metaKey, shiftKey }: KeyboardEvent): boolean {
    if (ctrlKey || metaKey || shiftKey) return false;
    if (altKey && (key === 'ArrowLeft' || key === 'ArrowRight')) this.moveBy(key === 'ArrowLeft' ? -1 : 1);
    else if (!altKey && key === 'Delete') this.remove();
    else return false;
    return true;
  }
}

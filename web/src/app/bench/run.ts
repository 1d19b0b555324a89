import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  viewChild,
  afterRenderEffect,
} from '@angular/core';
import { scrollSideways } from '../ui/scroll-sideways';
import { TryCanvas } from '../paint/try-canvas';
import { keyOf, neighbour, problemOf, takenFrame } from '../work/work-model';
import { factsOf } from '../work/facts';
import { WorkStore } from '../work/work-store';
import { notes, pageMark, placeWords } from '../work/wording';

/** All pictures of the work in reading order, on a ruler with page marks. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-run',
  imports: [TryCanvas],
  template: `<div
    #list
    role="listbox"
    aria-label="Pictures of the work"
    aria-orientation="horizontal"
    class="runs-on flex h-full items-stretch"
    (keydown)="move($event)"
    (wheel)="scrollSideways($event)"
  >
    @for (group of groups(); track group.mark + $index) {
      <div role="group" [attr.aria-label]="group.mark" class="flex items-end border-l border-line pb-1.5 pl-2 pr-3">
        <span class="figure mr-2 self-end text-[11px] text-soft" aria-hidden="true">{{ group.mark }}</span>
        @for (item of group.items; track item.n) {
          <div
            role="option"
            [id]="'run-' + item.n"
            [attr.data-n]="item.n"
            [attr.aria-selected]="item.n === selected()"
            [attr.aria-label]="item.label"
            [tabindex]="item.n === selected() ? 0 : -1"
            [title]="item.label"
            class="relative mx-0.5 h-[50px] w-[50px] shrink-0 cursor-pointer rounded-sm border-b-[3px] border-transparent p-[3px] aria-selected:border-mark"
            (click)="state.select(item.n)"
          >
            <gable-try-canvas [key]="item.key" [frame]="item.frame" [width]="44" [height]="42" />
            @if (item.marked) {
              <span class="absolute right-0 top-0 h-2.5 w-2.5 rounded-full border-2 border-paper bg-warn"></span>
            }
          </div>
        }
      </div>
    }
  </div>`,
  host: { class: 'block min-w-0 grow select-none' },
})
export class Run {
  protected readonly scrollSideways = scrollSideways;
  protected readonly state = inject(WorkStore);
  private readonly model = this.state.model;
  private readonly list = viewChild.required<ElementRef<HTMLElement>>('list');
  protected readonly selected = computed(() => this.model()?.selected ?? 0);

  protected readonly groups = computed(() => {
    const m = this.model();
    const groups: {
      mark: string;
      items: { n: number; key: string; frame: ReturnType<typeof takenFrame>; label: string; marked: boolean }[];
    }[] = [];
    for (const p of m?.work.pictures ?? []) {
      const laid = this.state.laidPages().get(p.n);
      const mark = pageMark(p.where, laid);
      if (groups[groups.length - 1]?.mark !== mark) groups.push({ mark, items: [] });
      const frame = takenFrame(m!, p.n);
      const problem = problemOf(p, frame);
      const marked = problem !== null || notes(frame, factsOf(p, frame)).length > 0;
      const label = `Picture ${p.n}, ${placeWords(p.where, laid)}${frame.alt ? `: ${frame.alt}` : ''}${problem ? `. ${problem.message}` : marked ? '. Has a finding' : ''}`;
      groups[groups.length - 1]!.items.push({ n: p.n, key: keyOf(m!.work, frame), frame, label, marked });
    }
    return groups;
  });

  constructor() {
    afterRenderEffect(() => {
      const n = this.selected();
      this.list().nativeElement.querySelector(`#run-${n}`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    });
  }

  protected move(event: KeyboardEvent): void {
    const m = this.model();
    if (!m || event.ctrlKey || event.metaKey || event.altKey) return;
    const to = {
      ArrowRight: neighbour(m, 1),
      ArrowLeft: neighbour(m, -1),
      Home: neighbour(m, -Infinity),
      End: neighbour(m, Infinity),
    }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    this.state.select(to);
    queueMicrotask(() => this.list().nativeElement.querySelector<HTMLElement>(`#run-${to}`)?.focus());
  }
}

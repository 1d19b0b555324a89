import {
  ChangeDetectionStrategy,
  afterNextRender,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { equal, GOOD_PPI, LEAST_PPI, POINTS } from '@gable/core';
import type { EChartsCoreOption, EChartsType } from 'echarts/core';
import { Choice } from '../ui/choice';
import type { Row } from './survey-model';
import { SurveyState } from './survey-state';
import { shownLength } from '../ui/numbers';

/** More pixels than this to the inch are told as this many: they make no difference to the eye. */
const MOST_PPI = 600;

const VIEWS = [
  { value: 'ppi', label: 'Sharpness' },
  { value: 'sizes', label: 'Sizes and ratios' },
] as const;

/** Figures among their neighbours: a mark is a frame, and clicking it chooses it; dragging round marks chooses them. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-figures-chart',
  imports: [Choice],
  template: `<div class="flex items-baseline gap-6 pb-1">
      <gable-choice label="Figures" [quiet]="true" [options]="views" [value]="view()" (changed)="view.set($event)" />
      <p class="text-[13px] text-soft">
        {{
          view() === 'ppi'
            ? 'Each dot is a picture at the size it has here. Below 150 it looks soft in print; 300 is good.'
            : 'Each dot is a frame. Dots close together are almost alike.'
        }}
      </p>
    </div>
    <div #chart class="min-h-0 grow" role="img" [attr.aria-label]="spoken()"></div>`,
  host: { class: 'flex min-h-0 flex-col' },
})
export class FiguresChart {
  protected readonly state = inject(SurveyState);
  readonly opened = output<number>();
  protected readonly views = VIEWS;
  protected readonly view = signal<(typeof VIEWS)[number]['value']>('ppi');
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('chart');
  private readonly chart = signal<EChartsType | null>(null);
  private readonly sharp = computed(() => this.state.shown().filter((r) => r.ppi !== null));
  /** Frames whose size or ratio differs from that of others like them, without being meant to. */
  private readonly uneven = computed(() =>
    this.state
      .families()
      .filter((f) => !f.deliberate && ['size', 'ratio'].includes(f.family.kind))
      .flatMap((f) => f.family.members),
  );
  /** What the marks are drawn from. */
  private readonly drawn = computed(
    () => ({
      view: this.view(),
      chosen: [...this.state.chosen()],
      uneven: this.uneven(),
      rows: this.state.shown().map((r) => ({ n: r.n, ppi: r.ppi, box: r.frame.box })),
    }),
    { equal },
  );
  protected readonly spoken = computed(() =>
    this.view() === 'ppi'
      ? `Sharpness: ${this.sharp().filter((r) => r.ppi! < LEAST_PPI).length} of ${this.sharp().length} pictures below ${LEAST_PPI} ppi. The list of frames holds every figure.`
      : `Widths and ratios of ${this.state.shown().length} frames. The list of frames holds every figure.`,
  );

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(async () => {
      const [{ init, use }, { ScatterChart }, parts, { SVGRenderer }] = await Promise.all([
        import('echarts/core'),
        import('echarts/charts'),
        import('echarts/components'),
        import('echarts/renderers'),
      ]);
      if (destroyed.destroyed) return;
      use([
        ScatterChart,
        parts.GridComponent,
        parts.TooltipComponent,
        parts.MarkLineComponent,
        parts.MarkAreaComponent,
        parts.BrushComponent,
        SVGRenderer,
      ]);
      const chart = init(this.place().nativeElement, null, { renderer: 'svg' });
      chart.on('click', (e) => {
        const n = (e.data as { n?: number } | undefined)?.n;
        if (n) this.state.toggle(n);
      });
      chart.on('brushEnd', (e) =>
        this.brushed(e as { areas?: { coordRange?: [[number, number], [number, number]] }[] }),
      );
      const watch = new ResizeObserver(() => chart.resize());
      watch.observe(this.place().nativeElement);
      destroyed.onDestroy(() => {
        watch.disconnect();
        chart.dispose();
      });
      this.chart.set(chart);
    });
    effect(() => {
      const chart = this.chart();
      if (!chart) return;
      // Marks that are drawn anew under the pointer lose its click.
      const { view } = this.drawn();
      chart.setOption(
        untracked(() => (view === 'ppi' ? this.sharpness() : this.sizes())),
        { notMerge: true },
      );
      // Dragging across the marks chooses them, without a tool to pick first.
      if (view === 'sizes')
        chart.dispatchAction({
          type: 'takeGlobalCursor',
          key: 'brush',
          brushOption: { brushType: 'rect', brushMode: 'single' },
        });
    });
  }

  private brushed({ areas }: { areas?: { coordRange?: [[number, number], [number, number]] }[] }): void {
    const range = areas?.[0]?.coordRange;
    if (!range) return;
    const [[x0, x1], [y0, y1]] = range;
    const within = this.state.shown().filter((r) => {
      const [x, y] = at(r);
      return x >= x0 && x <= x1 && y >= y0 && y <= y1;
    });
    this.state.choose(within.map((r) => r.n));
    this.chart()?.dispatchAction({ type: 'brush', areas: [] });
  }

  private ink(name: string): string {
    return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  }

  private common(): EChartsCoreOption {
    return {
      animation: false,
      textStyle: { fontFamily: 'Instrument Sans Variable, sans-serif', color: this.ink('--soft') },
      grid: { left: 64, right: 90, top: 26, bottom: 44 },
      tooltip: {
        confine: true,
        backgroundColor: this.ink('--raised'),
        borderColor: this.ink('--line'),
        textStyle: { color: this.ink('--ink'), fontSize: 13 },
        formatter: (p: { data: { n: number } }) => this.tip(p.data.n),
      },
    };
  }

  private tip(n: number): string {
    const r = this.state.rows().find((x) => x.n === n);
    if (!r) return '';
    const { width, height } = r.frame.box;
    return `Picture ${n}: ${shownLength(width)} × ${shownLength(height)}${r.ppi === null ? '' : `, ${Math.round(r.ppi)} ppi`}`;
  }

  private axis(name: string, more: object): object {
    return {
      name,
      nameLocation: 'middle',
      nameGap: 30,
      nameTextStyle: { color: this.ink('--soft'), fontSize: 13 },
      axisLine: { show: true, lineStyle: { color: this.ink('--line') } },
      axisTick: { show: false },
      axisLabel: { color: this.ink('--soft'), fontFamily: 'Spline Sans Mono Variable, monospace', fontSize: 11.5 },
      splitLine: { show: false },
      ...more,
    };
  }

  /** A dot for each picture on a linear scale, in three bands that say how many there are of each. */
  private sharpness(): EChartsCoreOption {
    const rows = this.sharp();
    const chosen = this.state.chosen();
    const [mark, good, soft, warn] = ['--mark', '--good', '--soft', '--warn'].map((n) => this.ink(n)) as [
      string,
      string,
      string,
      string,
    ];
    const colourOf = (ppi: number): string => (ppi < LEAST_PPI ? warn : ppi < GOOD_PPI ? soft : good);
    const count = (from: number, to: number): number => rows.filter((r) => r.ppi! >= from && r.ppi! < to).length;
    const band = (name: string, from: number, to: number, colour: string): object[] => [
      { name, xAxis: from, itemStyle: { color: colour, opacity: 0.1 }, label: { color: colour } },
      { xAxis: to },
    ];
    return {
      ...this.common(),
      xAxis: this.axis('pixels per inch', {
        type: 'value',
        min: 0,
        max: MOST_PPI,
        interval: 150,
        axisLabel: {
          color: soft,
          fontFamily: 'Spline Sans Mono Variable, monospace',
          fontSize: 11.5,
          formatter: (v: number) => (v === MOST_PPI ? `${v} and more` : String(v)),
        },
      }),
      yAxis: this.axis('picture', {
        type: 'value',
        inverse: true,
        min: 0,
        max: Math.max(...rows.map((r) => r.n), 1) + 1,
        minInterval: 1,
        nameGap: 42,
      }),
      series: [
        {
          type: 'scatter',
          symbolSize: rows.length > 200 ? 6 : 11,
          data: rows.map((r) => ({
            n: r.n,
            value: [Math.min(MOST_PPI, Math.round(r.ppi!)), r.n],
            itemStyle: {
              color: chosen.has(r.n) ? mark : colourOf(r.ppi!),
              borderColor: this.ink('--paper'),
              borderWidth: 1,
            },
          })),
          markArea: {
            silent: true,
            label: { position: 'insideTop', fontSize: 13, fontFamily: 'Instrument Sans Variable, sans-serif' },
            data: [
              band(`${count(0, LEAST_PPI)} below ${LEAST_PPI}`, 0, LEAST_PPI, warn),
              band(`${count(LEAST_PPI, GOOD_PPI)} between`, LEAST_PPI, GOOD_PPI, soft),
              band(`${count(GOOD_PPI, Infinity)} above ${GOOD_PPI}`, GOOD_PPI, MOST_PPI, good),
            ],
          },
        },
      ],
    };
  }

  private sizes(): EChartsCoreOption {
    const chosen = this.state.chosen();
    const uneven = new Set(this.uneven());
    const [mark, ink, warn] = [this.ink('--mark'), this.ink('--soft'), this.ink('--warn')];
    return {
      ...this.common(),
      brush: { brushStyle: { color: `${mark}22`, borderColor: mark, borderWidth: 1 }, xAxisIndex: 0, yAxisIndex: 0 },
      xAxis: this.axis('width, mm', { type: 'value', min: 0 }),
      yAxis: this.axis('width : height', { type: 'log', nameGap: 42, min: 0.25, max: 4 }),
      series: [
        {
          type: 'scatter',
          symbolSize: 13,
          data: this.state.shown().map((r) => ({
            n: r.n,
            value: at(r),
            itemStyle: {
              color: chosen.has(r.n) ? mark : uneven.has(r.n) ? warn : ink,
              opacity: 0.8,
              borderColor: this.ink('--paper'),
            },
          })),
          markLine: {
            z: 1,
            silent: true,
            symbol: 'none',
            lineStyle: { color: this.ink('--line'), width: 1 },
            label: { color: this.ink('--soft'), position: 'end', formatter: (p: { name: string }) => p.name },
            data: [
              { yAxis: 2 / 3, name: '2:3' },
              { yAxis: 1, name: 'square' },
              { yAxis: 1.5, name: '3:2' },
              { yAxis: 16 / 9, name: '16:9' },
            ],
          },
        },
      ],
    };
  }
}

/** Width in millimetres and ratio, held where the axes end. */
const at = ({ frame: { box } }: Row): [number, number] => [
  Math.round((box.width / POINTS.mm) * 10) / 10,
  Math.min(4, Math.max(0.25, box.width / box.height)),
];

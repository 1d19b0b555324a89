import { Injectable, signal } from '@angular/core';
import { POINTS, type Unit } from '@gable/core';
import { remember, remembered } from './remembered';

export const UNITS: readonly Unit[] = ['mm', 'cm', 'in', 'pt', 'px'];
const LATEST = 'gable.units';
/** So many works' units are remembered. */
const MOST = 200;

/** Countries that measure paper in inches (common practice: those of the United States' customary units). */
const INCHES = new Set(['US', 'LR', 'MM']);

const region = (): string | undefined => {
  try {
    return new Intl.Locale(navigator.language).maximize().region;
  } catch {
    return undefined;
  }
};

/** The unit to begin with: pixels for pictures and the web, what paper is measured in for the rest. */
export const firstUnit = (format: string): Unit =>
  ['html', 'pictures', 'svg'].includes(format) ? 'px' : INCHES.has(region() ?? '') ? 'in' : 'mm';

/** In which unit lengths are shown: that of the work, and for a field the one that was typed in it last. */
@Injectable({ providedIn: 'root' })
export class Units {
  private work = '';
  private readonly chosen = signal<Unit>('mm');
  private readonly typed = signal<Readonly<Record<string, Unit | '%'>>>({});
  readonly unit = this.chosen.asReadonly();

  /** A work is open. */
  open(work: string, format: string): void {
    if (work === this.work) return;
    this.work = work;
    const known = knownUnits()[work];
    this.chosen.set(known && known in POINTS ? known : firstUnit(format));
    this.typed.set({});
  }

  /** The unit of the work: every field shows it from now on. */
  set(unit: Unit): void {
    this.chosen.set(unit);
    this.typed.set({});
    if (!this.work) return;
    const all = Object.entries({ ...knownUnits(), [this.work]: unit });
    remember(LATEST, Object.fromEntries(all.slice(-MOST)));
  }

  /** What a field shows, if it was typed in a unit of its own. */
  of(field: string): Unit | '%' | undefined {
    return this.typed()[field];
  }

  keep(field: string, unit: Unit | '%'): void {
    if (this.typed()[field] !== unit) this.typed.update((all) => ({ ...all, [field]: unit }));
  }
}

function knownUnits(): Record<string, Unit> {
  const all = remembered(LATEST);
  return typeof all === 'object' && all !== null ? (all as Record<string, Unit>) : {};
}

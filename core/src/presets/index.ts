import { ARROWS } from './arrows';
import { BASIC } from './basic';
import { FLOW } from './flow';
import { readCompact, type Geometry } from './geometry';
import { LINES } from './lines';
import { STARS } from './stars';

const COMPACT: Readonly<Record<string, string>> = { ...BASIC, ...ARROWS, ...STARS, ...FLOW, ...LINES };

/** Names of the preset shapes Gable can draw, ISO/IEC 29500-1 §20.1.10.56 (ST_ShapeType). */
export const PRESET_NAMES: readonly string[] = Object.keys(COMPACT);

const read = new Map<string, Geometry>();

/** The definition of a preset; undefined for a name that is not known. Read from its compact form when first asked for. */
export function presetGeometry(name: string): Geometry | undefined {
  const known = read.get(name);
  if (known) return known;
  const text = Object.hasOwn(COMPACT, name) ? COMPACT[name] : undefined;
  if (text === undefined) return undefined;
  const geometry = readCompact(text);
  read.set(name, geometry);
  return geometry;
}

import {
  equal,
  type Outline,
  type Paint,
  READABLE,
  readableColour,
  type Shadow,
  SHADOWS,
  solidOutline,
  type Tone,
} from '@gable/core';
import type { Try, TryContext } from './try';

const line = (weight: number, colour: string, more: Partial<Outline> = {}): Outline => ({
  ...solidOutline(weight, colour),
  ...more,
});
const gradient = (angle: number, ...colours: string[]): Paint => ({
  kind: 'linear',
  angle,
  stops: colours.map((colour, i) => ({ at: i / (colours.length - 1), colour, opacity: 1 })),
});

const OUTLINES: readonly { id: string; label: string; outline: Outline | null }[] = [
  { id: 'none', label: 'No outline', outline: null },
  { id: 'white-6', label: 'White', outline: line(6, '#ffffff') },
  { id: 'white-3', label: 'White, thin', outline: line(3, '#ffffff') },
  { id: 'stone-4', label: 'Stone', outline: line(4, '#9a958a') },
  { id: 'ink-2', label: 'Ink, thin', outline: line(2, '#22302f') },
  { id: 'clay-4', label: 'Clay', outline: line(4, '#b5482a') },
  { id: 'ochre-4', label: 'Ochre', outline: line(4, '#c28a2c') },
  { id: 'lagoon-4', label: 'Lagoon', outline: line(4, '#2b6a73') },
  { id: 'moat', label: 'With a gap', outline: line(3, '#22302f', { side: 'outside', gap: 4 }) },
  { id: 'within', label: 'Inset', outline: line(2, '#ffffff', { side: 'inside', gap: 5 }) },
  { id: 'double', label: 'Double', outline: line(7, '#22302f', { lines: 'double' }) },
  { id: 'thick-thin', label: 'Thick and thin', outline: line(8, '#2b6a73', { lines: 'thick-thin' }) },
  { id: 'triple', label: 'Triple', outline: line(10, '#b5482a', { lines: 'triple' }) },
  { id: 'dashes', label: 'Dashes', outline: line(3, '#22302f', { dash: 'dash' }) },
  { id: 'dots', label: 'Dots', outline: line(4, '#b5482a', { dash: 'dot', cap: 'round' }) },
  { id: 'kiln', label: 'Kiln', outline: line(6, '#c28a2c', { paint: gradient(45, '#c28a2c', '#b5482a', '#6d3b52') }) },
  { id: 'glaze', label: 'Glaze', outline: line(6, '#2b6a73', { paint: gradient(90, '#2b6a73', '#dfe7dc') }) },
];

const words = ({ weight, gap }: Outline): string => (gap ? `${weight} pt, gap ${gap} pt` : `${weight} pt`);

/** Edges, from none to strong, then colours of the picture itself; the file's own comes last where it has one. */
export function outlineTries({ frame, original, palette }: TryContext): Try[] {
  const from = palette.slice(0, 2).map((hex, i) => ({
    id: `picture-${i + 1}`,
    label: i === 0 ? 'Picture colour' : 'Second picture colour',
    // On white paper it must still read (WCAG 2.2, 1.4.11).
    outline: line(4, readableColour(hex, ['#ffffff'], READABLE) ?? hex),
  }));
  const own = original.outline ? [{ id: 'came', label: 'Original', outline: original.outline }] : [];
  return [...OUTLINES, ...from, ...own].map(({ id, label, outline }) => ({
    id,
    label,
    note: outline ? words(outline) : '',
    frame: { ...frame, outline },
    current: equal(frame.outline, outline),
    entry: outline ? `outline ${label.toLowerCase()}` : 'no outline',
  }));
}

const SHADOW_LABELS: Readonly<Record<string, string>> = {
  soft: 'Soft',
  close: 'Close',
  lifted: 'Lifted',
  glow: 'All round',
  hollow: 'Hollow',
};

/** Shadows, from none to strong. */
export function shadowTries({ frame, original, palette }: TryContext): Try[] {
  const deep = palette.find((hex) => parseInt(hex.slice(1, 3), 16) < 110) ?? '#22302f';
  const offers: { id: string; label: string; shadow: Shadow | null }[] = [
    { id: 'none', label: 'No shadow', shadow: null },
    ...Object.entries(SHADOWS).map(([id, shadow]) => ({ id, label: SHADOW_LABELS[id] ?? id, shadow })),
    { id: 'hard', label: 'Hard', shadow: { ...SHADOWS['close']!, dx: 4, dy: 4, blur: 0, opacity: 0.3 } },
    { id: 'tinted', label: 'Tinted', shadow: { ...SHADOWS['soft']!, dy: 5, blur: 14, colour: deep, opacity: 0.6 } },
    ...(original.shadow ? [{ id: 'came', label: 'Original', shadow: original.shadow }] : []),
  ];
  return offers.map(({ id, label, shadow }) => ({
    id,
    label,
    note: shadow ? `${Math.round(shadow.opacity * 100)} %, blur ${shadow.blur} pt` : '',
    frame: { ...frame, shadow },
    current: equal(frame.shadow, shadow),
    entry: shadow ? `shadow ${label.toLowerCase()}` : 'no shadow',
  }));
}

const LIGHT = { brightness: 0, contrast: 0, bright: 0, dark: 0 };
const COLOUR: NonNullable<Tone['colour']> = { amount: 1, warmth: 0, tint: 0, only: null };

const TONES: readonly { id: string; label: string; tone: Tone | undefined }[] = [
  { id: 'none', label: 'No tone', tone: undefined },
  { id: 'brighter', label: 'Brighter', tone: { light: { ...LIGHT, brightness: 0.14, dark: 0.2 } } },
  { id: 'deeper', label: 'Deeper', tone: { light: { ...LIGHT, brightness: -0.1, contrast: 0.15 } } },
  { id: 'crisp', label: 'Crisp', tone: { light: { ...LIGHT, contrast: 0.3 } } },
  { id: 'gentle', label: 'Gentle', tone: { light: { ...LIGHT, contrast: -0.25, brightness: 0.05 } } },
  { id: 'warm', label: 'Warm', tone: { colour: { ...COLOUR, warmth: 0.35 } } },
  { id: 'cool', label: 'Cool', tone: { colour: { ...COLOUR, warmth: -0.35 } } },
  { id: 'rich', label: 'Rich', tone: { colour: { ...COLOUR, amount: 1.45 } } },
  { id: 'grey', label: 'Grey', tone: { colour: { ...COLOUR, amount: 0 } } },
  { id: 'umber', label: 'Umber', tone: { colour: { ...COLOUR, only: ['#6b4226', '#ffffff'] } } },
  { id: 'ink-paper', label: 'Ink and paper', tone: { colour: { ...COLOUR, only: ['#22302f', '#f4f0e7'] } } },
  { id: 'kiln', label: 'Kiln', tone: { colour: { ...COLOUR, only: ['#43202f', '#f0b469'] } } },
  { id: 'blurred', label: 'Blurred', tone: { softness: { blur: 2 } } },
  { id: 'faded', label: 'Faded', tone: { fading: { opacity: 0.45, multiply: false } } },
];

/** Light, colour, softness, fading; the picture as it was shot comes first. */
export function toneTries({ frame, original }: TryContext): Try[] {
  const own = original.tone ? [{ id: 'came', label: 'Original', tone: original.tone }] : [];
  return [...TONES, ...own].map(({ id, label, tone }) => {
    const next = { ...frame };
    delete next.tone;
    return {
      id,
      label,
      note: '',
      frame: tone ? { ...next, tone } : next,
      current: equal(frame.tone, tone),
      entry: `tone ${label.toLowerCase()}`,
    };
  });
}

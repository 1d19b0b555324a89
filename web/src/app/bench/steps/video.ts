import { equal, type Frame, type Play } from '@gable/core';
import type { Try, TryContext } from '../tries/try';
import type { Step } from './step';
import { VideoKnobs } from './video-knobs';

/** Ways of playing that people ask for; what is heard and begins by itself, browsers hold back. */
const WAYS: readonly { id: string; label: string; note: string; play: Omit<Play, 'controls'> }[] = [
  { id: 'click', label: 'On click', note: 'with sound', play: { automatic: false, loop: false, muted: false } },
  { id: 'silent', label: 'By itself', note: 'muted, once', play: { automatic: true, loop: false, muted: true } },
  { id: 'loop', label: 'Loop', note: 'muted, by itself', play: { automatic: true, loop: true, muted: true } },
];

function videoTries({ frame }: TryContext): Try[] {
  const { video } = frame;
  if (!video) return [];
  return WAYS.map(({ id, label, note, play }) => {
    const next = { ...video, play: { ...video.play, ...play } };
    return {
      ...{ id: `video-${id}`, label, note, frame: { ...frame, video: next } },
      current: equal(video.play, next.play),
      entry: `video plays: ${label.toLowerCase()}`,
    };
  });
}

export const video: Step = {
  name: 'video',
  label: 'Video',
  for: ['framed'],
  applies: (frame) => frame.video !== undefined,
  cuts: false,
  changed: (frame, original) => !equal(frame.video, original.video),
  reset: ({ video: now, ...frame }, original): Frame => {
    void now;
    return original.video ? { ...frame, video: original.video } : frame;
  },
  tries: videoTries,
  controls: VideoKnobs,
};

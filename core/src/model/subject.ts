import type { Region } from './frame';

/** What a picture is about: the point that matters most, in shares of the picture. */
export interface Subject {
  u: number;
  v: number;
  /** The faces that it is about, the foremost first. */
  regions?: readonly Region[];
  /** No more than a guess: pictures are cut about it, and nothing is said of it. */
  guessed?: boolean;
}

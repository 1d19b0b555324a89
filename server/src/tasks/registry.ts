import { arrange } from './arrange';
import { blocks } from './blocks';
import { cover } from './cover';
import { cutOut } from './cut-out';
import { exportFrame } from './export';
import { exportScene } from './export-scene';
import { face } from './face';
import { fidelity } from './fidelity';
import { ground, likeness } from './ground';
import { handOver } from './hand-over';
import { handOverAs } from './hand-over-as';
import { handOverFolder } from './hand-over-folder';
import { keepFont } from './keep-font';
import { keepPicture } from './keep-picture';
import { keepVideo } from './keep-video';
import { kinds } from './kinds';
import { look } from './look';
import { open, reread } from './open';
import { original } from './original';
import { pages } from './pages';
import { pictureSet } from './picture-set';
import { proof } from './proof';
import { proxy } from './proxy';
import { readWords } from './read-words';
import { save } from './save';
import { silhouette } from './silhouette';
import type { Task } from './task';

/** Every task by its name; this list alone gives types to the pool, to the process that runs them, and to tests. */
export const TASKS = {
  arrange,
  blocks,
  cover,
  cutOut,
  exportFrame,
  exportScene,
  face,
  fidelity,
  ground,
  likeness,
  handOver,
  handOverAs,
  handOverFolder,
  keepFont,
  keepPicture,
  keepVideo,
  kinds,
  look,
  open,
  reread,
  original,
  pages,
  pictureSet,
  proof,
  proxy,
  readWords,
  save,
  silhouette,
} as const;

export type TaskName = keyof typeof TASKS;
type TaskOf<N extends TaskName> = (typeof TASKS)[N];
export type TaskInput<N extends TaskName> = TaskOf<N> extends Task<infer In, unknown> ? In : never;
export type TaskOutput<N extends TaskName> = TaskOf<N> extends Task<never, infer Out> ? Out : never;

/** Says how far a task is, and tells it to stop. */
export interface Watch {
  progress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

/** Runs tasks somewhere. */
export interface Tasks {
  /** @throws GableError what the task throws; `busy`, `took-too-long`, `too-heavy` */
  run<N extends TaskName>(name: N, input: TaskInput<N>, watch?: Watch): Promise<TaskOutput<N>>;
  close(): Promise<void>;
}

import type { FontReader } from '../db/font-reader';
import { TASKS, type TaskInput, type TaskName, type TaskOutput } from './registry';
import type { Task, TaskContext } from './task';

/** Runs a task in this process. */
export async function runTask<N extends TaskName>(
  name: N,
  input: TaskInput<N>,
  { context, fonts }: { context: TaskContext; fonts: FontReader },
): Promise<TaskOutput<N>> {
  const task = TASKS[name] as unknown as Task<TaskInput<N>, TaskOutput<N>>;
  if (task.setsWords) await fonts.ready();
  return task.run(input, context);
}

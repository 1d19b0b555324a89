import type { proxy } from '@gable/cli/render';
import { Lately } from './lately';

/** Smaller copies made lately: the same file is often opened again, and every window asks for the same ones. */
export const copies = new Lately<Awaited<ReturnType<typeof proxy>>>(48 * 1024 * 1024, (made) => made.data.length);

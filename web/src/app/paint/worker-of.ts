/** The painting worker, as the build finds it. */
export const paintWorker = (): Worker => new Worker(new URL('./paint.worker', import.meta.url), { type: 'module' });

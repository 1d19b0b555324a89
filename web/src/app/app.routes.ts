import type { CanDeactivateFn, Routes } from '@angular/router';

/** The longest that leaving waits for a save that is under way. */
const SESSION_TIMEOUT_MS = 4000;

/** From one screen of a work to another all is saved first: the next one reads what the server has. */
const savedFirst: CanDeactivateFn<{ settled(): Promise<boolean> } | null> = (screen, _route, _now, next) => {
  if (!screen || !next.url.startsWith('/work/')) return true;
  const patience = new Promise<boolean>((r) => setTimeout(() => r(true), SESSION_TIMEOUT_MS));
  return Promise.race([screen.settled().then(() => true), patience]);
};

export const routes: Routes = [
  { path: '', title: 'Shelf · Gable', loadComponent: () => import('./shelf/shelf').then((m) => m.Shelf) },
  {
    path: 'work/:id',
    title: 'Bench · Gable',
    canDeactivate: [savedFirst],
    loadComponent: () => import('./bench/bench').then((m) => m.Bench),
  },
  {
    path: 'work/:id/survey',
    title: 'Survey · Gable',
    canDeactivate: [savedFirst],
    loadComponent: () => import('./survey/survey').then((m) => m.Survey),
  },
  { path: '**', redirectTo: '' },
];

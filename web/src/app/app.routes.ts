import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', title: 'Shelf · Gable', loadComponent: () => import('./shelf/shelf').then((m) => m.Shelf) },
  { path: 'work/:id', title: 'Bench · Gable', loadComponent: () => import('./bench/bench').then((m) => m.Bench) },
  { path: '**', redirectTo: '' },
];

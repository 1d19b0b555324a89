import { Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { finalize } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import type { WorkSummary } from '../api/types';
import { Icon } from '../ui/icon';
import { Mark } from '../ui/mark';
import { Notice } from '../ui/notice';

/** Works as they look now, and a place to open a document. */
@Component({
  selector: 'gable-shelf',
  imports: [Icon, Mark, Notice, RouterLink],
  templateUrl: './shelf.html',
  host: {
    class: 'block min-h-full',
    '(dragover)': 'over($event)',
    '(dragleave)': 'dragging.set(false)',
    '(drop)': 'drop($event)',
  },
})
export class Shelf {
  protected readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly works = signal<readonly WorkSummary[] | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly dragging = signal(false);
  protected readonly opening = signal<string | null>(null);
  protected readonly removing = signal<string | null>(null);

  constructor() {
    this.refresh();
  }

  protected refresh(): void {
    this.api
      .works()
      .subscribe({ next: (w) => this.works.set(w), error: (e: unknown) => this.problem.set(toProblem(e)) });
  }

  protected over(event: DragEvent): void {
    event.preventDefault();
    this.dragging.set(true);
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.dragging.set(false);
    this.openFiles(event.dataTransfer?.files ?? null);
  }

  protected choose(input: HTMLInputElement): void {
    this.openFiles(input.files);
    input.value = '';
  }

  private openFiles(files: FileList | null): void {
    const file = files?.[0];
    if (!file || this.opening()) return;
    if (files.length > 1) {
      this.problem.set({
        code: 'many-files',
        title: 'One document at a time, please.',
        remedy: 'Drop a single .docx file.',
        facts: {},
      });
      return;
    }
    this.problem.set(null);
    this.opening.set(file.name);
    this.api
      .create(file)
      .pipe(finalize(() => this.opening.set(null)))
      .subscribe({
        next: (work) => void this.router.navigate(['/work', work.id]),
        error: (e: unknown) => {
          const problem = toProblem(e);
          this.problem.set(
            problem.code === 'offline'
              ? { ...problem, remedy: 'Check that it is running, then open the file again.' }
              : problem,
          );
        },
      });
  }

  protected remove(work: WorkSummary): void {
    this.removing.set(null);
    this.api
      .remove(work.id)
      .subscribe({ next: () => this.refresh(), error: (e: unknown) => this.problem.set(toProblem(e)) });
  }

  protected title(work: WorkSummary): string {
    return work.name.replace(/\.(docx|docm|dotx|dotm)$/i, '');
  }

  protected when(work: WorkSummary): string {
    const date = new Date(work.updatedAt);
    const today = new Date().toDateString() === date.toDateString();
    const time = date.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
    return today
      ? `today ${time}`
      : date.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
  }
}

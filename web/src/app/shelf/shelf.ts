import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import {
  ChangeDetectionStrategy,
  Component,
  inject,
  signal,
  afterNextRender,
  type ElementRef,
  Injector,
  viewChild,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Subject, debounceTime, filter, finalize, map, tap, type Observable, type Subscription } from 'rxjs';
import { Api } from '../api/api';
import { toProblem, type Problem } from '../api/problem';
import type { LibraryPicture, Work, WorkSummary } from '@gable/contract';
import {
  DOCUMENTS,
  filesOf,
  folderOf,
  holdsPictures,
  isDocument,
  isMedia,
  pastedFiles,
  MEDIA,
  withoutKind,
} from '../intake/files';
import { Intake } from '../intake/intake';
import { PictureChooser } from '../library/picture-chooser';
import { Choice } from '../ui/choice';
import { Icon } from '../ui/icon';
import { Mark } from '../ui/mark';
import { Notice } from '../ui/notice';
import { NewSheet } from './new-sheet';

const KINDS: Record<string, string> = {
  paper: 'pages',
  graphic: 'graphic',
  docx: 'document',
  odt: 'document',
  slides: 'slides',
  pptx: 'slides',
  odp: 'slides',
  xlsx: 'workbook',
  ods: 'workbook',
  odg: 'drawing',
  svg: 'drawing',
  html: 'web page',
  site: 'web pages',
  folder: 'folder',
};

/** Works as they look now, and a place to open a document. */
@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  selector: 'gable-shelf',
  imports: [Choice, Icon, Mark, NewSheet, Notice, PictureChooser, RouterLink],
  templateUrl: './shelf.html',
  host: {
    class: 'block min-h-full',
    '(dragover)': 'over($event)',
    '(dragleave)': 'dragging.set(false)',
    '(drop)': 'drop($event)',
    '(document:paste)': 'pasted($event)',
  },
})
export class Shelf {
  protected readonly api = inject(Api);
  private readonly intake = inject(Intake);
  private readonly router = inject(Router);
  protected readonly accept = MEDIA;
  protected readonly documents = DOCUMENTS;
  protected readonly works = signal<readonly WorkSummary[] | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly dragging = signal(false);
  protected readonly opening = signal<string | null>(null);
  /** How much of a file the server has; null while none is opened. */
  protected readonly sent = signal<number | null>(null);
  /** Nothing more of what is being opened is wanted. */
  private letGo = false;
  private under: Subscription | null = null;
  /** Where the next page of the shelf begins; null when all are there. */
  protected readonly next = signal<string | null>(null);
  /** What was removed last, and can be brought back. */
  protected readonly removed = signal<WorkSummary | null>(null);

  constructor() {
    this.refresh();
    this.typed.pipe(debounceTime(200), takeUntilDestroyed()).subscribe(() => this.refresh());
  }

  /** Words that names must have, and how works are sorted. */
  protected readonly words = signal('');
  protected readonly order = signal<'latest' | 'name'>('latest');
  protected readonly orders = [
    { value: 'latest', label: 'Latest' },
    { value: 'name', label: 'Name' },
  ] as const;
  /** The work whose name is being typed. */
  protected readonly naming = signal<string | null>(null);
  private readonly nameField = viewChild<ElementRef<HTMLInputElement>>('name');
  private readonly injector = inject(Injector);
  private readonly typed = new Subject<string>();

  private asked(after?: string): { words: string; order: 'latest' | 'name'; after?: string } {
    return { words: this.words(), order: this.order(), ...(after && { after }) };
  }

  protected search(words: string): void {
    this.words.set(words);
    this.typed.next(words);
  }

  protected sort(order: 'latest' | 'name'): void {
    this.order.set(order);
    this.refresh();
  }

  protected beginNaming(work: WorkSummary): void {
    this.naming.set(work.id);
    afterNextRender(() => this.nameField()?.nativeElement.select(), { injector: this.injector });
  }

  protected rename(work: WorkSummary, field: HTMLInputElement): void {
    const typed = field.value.trim();
    this.naming.set(null);
    if (!typed || typed === this.title(work)) return;
    this.api.renameWork(work.id, typed + work.name.slice(this.title(work).length)).subscribe({
      next: () => this.refresh(),
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  protected duplicate(work: WorkSummary): void {
    this.api.duplicateWork(work.id).subscribe({
      next: () => this.refresh(),
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  protected refresh(): void {
    this.api.works(this.asked()).subscribe({
      next: ({ works, next }) => {
        this.works.set(works);
        this.next.set(next);
      },
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  protected more(): void {
    this.api.works(this.asked(this.next() ?? undefined)).subscribe({
      next: ({ works, next }) => {
        const known = new Set(this.works()?.map((w) => w.id));
        this.works.update((all) => [...(all ?? []), ...works.filter((w) => !known.has(w.id))]);
        this.next.set(next);
      },
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  protected over(event: DragEvent): void {
    event.preventDefault();
    this.dragging.set(true);
  }

  protected async drop(event: DragEvent): Promise<void> {
    event.preventDefault();
    this.dragging.set(false);
    if (!event.dataTransfer) return;
    const folder = folderOf(event.dataTransfer);
    await this.openFiles(await filesOf(event.dataTransfer), folder);
  }

  protected pasted(event: ClipboardEvent): void {
    const files = pastedFiles(event);
    if (files.length === 0) return;
    event.preventDefault();
    void this.openFiles(files);
  }

  protected choose(input: HTMLInputElement): void {
    void this.openFiles([...(input.files ?? [])]);
    input.value = '';
  }

  /** A document is opened; several are seen together; pictures become a work of their own. */
  private async openFiles(files: readonly File[], folder: string | null = null): Promise<void> {
    if (files.length === 0 || this.opening()) return;
    this.problem.set(null);
    const drawings = await Promise.all(files.map(holdsPictures));
    const documents = files.filter((f, i) => isDocument(f) || drawings[i]);
    const pictures = files.filter((f) => isMedia(f) && !documents.includes(f));
    if (documents.length > 1) void this.openFolder(documents, folder ?? `${documents.length} files`);
    else if (documents.length === 0 && pictures.length > 0) void this.takePictures(pictures);
    else this.openDocument(documents[0] ?? files[0]!);
  }

  private async takePictures(files: readonly File[]): Promise<void> {
    this.opening.set(files.length === 1 ? files[0]!.name : `${files.length} pictures`);
    const { pictures, problem } = await this.intake.keep(files, (n) => {
      if (files.length > 1) this.opening.set(`picture ${n} of ${files.length}`);
    });
    this.problem.set(problem);
    if (pictures.length > 0) this.layOut(pictures);
    else this.opening.set(null);
  }

  protected layOut(pictures: readonly LibraryPicture[]): void {
    this.create(pictures.map((p) => p.sha256));
  }

  /** A frame that waits for its picture. */
  protected emptyFrame(): void {
    this.create([null]);
  }

  private create(pictures: readonly (string | null)[]): void {
    this.follow(this.api.createFromPictures(pictures), 'Check that it is running, then try again.');
  }

  private openDocument(file: File): void {
    this.opening.set(file.name);
    this.under = this.follow(this.send(file), 'Check that it is running, then open the file again.');
  }

  private send(file: File): Observable<Work> {
    this.sent.set(0);
    return this.api.create(file).pipe(
      tap((e) => this.sent.set('sent' in e ? e.sent : 1)),
      filter((e) => 'work' in e),
      map((e) => e.work),
    );
  }

  /** Every file becomes a work; those that can be opened are looked at together. */
  private async openFolder(files: readonly File[], name: string): Promise<void> {
    const opened: Work[] = [];
    const refused: string[] = [];
    this.letGo = false;
    for (const [i, file] of files.entries()) {
      this.opening.set(`${i + 1} of ${files.length}: ${file.name}`);
      const work = await new Promise<Work | null>((resolve) => {
        this.under = this.send(file).subscribe({
          next: resolve,
          error: (e: unknown) => {
            refused.push(`${file.name}: ${toProblem(e).title}`);
            resolve(null);
          },
        });
        // One that is let go of never answers.
        this.under.add(() => resolve(null));
      });
      if (this.letGo) break;
      if (work) opened.push(work);
    }
    this.under = null;
    this.opening.set(null);
    this.sent.set(null);
    this.refresh();
    if (refused.length > 0)
      this.problem.set({
        code: 'some-refused',
        title: `${refused.length} of ${files.length} files could not be opened.`,
        remedy: `${refused.slice(0, 5).join(' ')}${refused.length > 5 ? ' …' : ''}`,
        facts: {},
      });
    const [first] = opened;
    if (this.letGo || !first) return;
    if (opened.length === 1) {
      // What went wrong with the others is read here first.
      if (refused.length === 0) void this.router.navigate(['/work', first.id]);
      return;
    }
    const ids = opened.map((w) => w.id);
    this.api.createFolder(name, ids).subscribe({
      next: (folder) => {
        if (refused.length === 0) void this.router.navigate(['/work', folder.id, 'survey']);
        else this.refresh();
      },
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  /** Lets go of a file that is being opened: nothing of it is kept. */
  protected cancel(): void {
    this.letGo = true;
    this.under?.unsubscribe();
    this.refresh();
  }

  private follow(work$: Observable<Work>, whenAway: string): Subscription {
    const done = (): void => {
      this.opening.set(null);
      this.sent.set(null);
      this.under = null;
    };
    return work$.pipe(finalize(done)).subscribe({
      next: (work) => void this.router.navigate(['/work', work.id]),
      error: (e: unknown) => {
        const problem = toProblem(e);
        this.problem.set(problem.code === 'offline' ? { ...problem, remedy: whenAway } : problem);
      },
    });
  }

  protected remove(work: WorkSummary): void {
    this.api.remove(work.id).subscribe({
      next: () => {
        this.removed.set(work);
        this.refresh();
      },
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  /** Brings back what was removed last. */
  protected restore(work: WorkSummary): void {
    this.removed.set(null);
    this.api.restore(work.id).subscribe({
      next: () => this.refresh(),
      error: (e: unknown) => this.problem.set(toProblem(e)),
    });
  }

  /** What it is, before how many pictures it has. */
  protected kind(work: WorkSummary): string {
    const word = KINDS[work.begun ?? work.format];
    return word ? `${word} · ` : '';
  }

  protected title(work: WorkSummary): string {
    return withoutKind(work.name);
  }

  protected when(work: WorkSummary): string {
    const date = new Date(work.updatedAt);
    const today = new Date().toDateString() === date.toDateString();
    const time = date.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });
    return today
      ? `today ${time}`
      : date.toLocaleDateString(undefined, { day: 'numeric', month: 'long', year: 'numeric' });
  }
}

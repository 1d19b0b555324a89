import { HttpClient, HttpEventType } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { ColourPalette, Finish, Frame, Region } from '@gable/core';
import { EMPTY, map, mergeMap, Observable, of } from 'rxjs';
import type {
  Block,
  CutOut,
  CutOutWish,
  ExportFormat,
  FrameFidelity,
  HandedKind,
  Job,
  JobWish,
  KeptFinish,
  KeptFont,
  KeptPalette,
  LibraryPicture,
  LoggedHistory,
  Marks,
  MadeShape,
  OwnShape,
  PagesQuery,
  PictureContents,
  SaveEntries,
  SceneExport,
  Saved,
  Suggestions,
  Work,
  WorkSummary,
  NewWork,
} from '@gable/contract';

const BYTES = { 'Content-Type': 'application/octet-stream' };

/** The server's API, one method a request. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  /** Works, the latest first, a page at a time. @param after where the page before ended */
  works(query: { after?: string; words?: string; order?: 'latest' | 'name' } = {}): Observable<{
    works: WorkSummary[];
    next: string | null;
  }> {
    return this.http.get<{ works: WorkSummary[]; next: string | null }>('/api/works', { params: { ...query } });
  }

  renameWork(id: string, name: string): Observable<WorkSummary> {
    return this.http.patch<WorkSummary>(`/api/works/${id}`, { name });
  }

  duplicateWork(id: string): Observable<WorkSummary> {
    return this.http.post<WorkSummary>(`/api/works/${id}/copies`, null);
  }

  work(id: string): Observable<Work> {
    return this.http.get<Work>(`/api/works/${id}`);
  }

  /** Opens a file: how much of it the server has, from 0 to 1, and in the end the work. Letting go of it cancels. */
  create(file: File): Observable<{ sent: number } | { work: Work }> {
    const options = { params: { name: file.name }, headers: BYTES, reportProgress: true, observe: 'events' } as const;
    return this.http.post<Work>('/api/works', file, options).pipe(
      mergeMap((event) => {
        if (event.type === HttpEventType.UploadProgress) return of({ sent: event.loaded / (event.total ?? file.size) });
        return event.type === HttpEventType.Response ? of({ work: event.body! }) : EMPTY;
      }),
    );
  }

  /** A work of pictures laid out in a row; null stands for an empty frame. */
  createFromPictures(pictures: readonly (string | null)[], name?: string): Observable<Work> {
    return this.http.post<Work>('/api/works/pictures', { pictures, ...(name ? { name } : {}) });
  }

  addPictures(id: string, pictures: readonly (string | null)[]): Observable<Work> {
    return this.http.post<Work>(`/api/works/${id}/pictures`, { pictures });
  }

  remove(id: string): Observable<unknown> {
    return this.http.delete(`/api/works/${id}`);
  }

  /** Brings back what was removed a short while ago. */
  restore(id: string): Observable<unknown> {
    return this.http.post(`/api/works/${id}/restore`, null);
  }

  /** Saves what was done. */
  saveEntries(id: string, save: SaveEntries): Observable<Saved> {
    return this.http.post<Saved>(`/api/works/${id}/entries`, save);
  }

  /** What was done: the latest entries, or those before another. */
  history(id: string, before?: number): Observable<LoggedHistory> {
    return this.http.get<LoggedHistory>(`/api/works/${id}/history`, { params: before === undefined ? {} : { before } });
  }

  sendJob(id: string, wish: JobWish): Observable<Job> {
    return this.http.post<Job>(`/api/works/${id}/jobs`, wish);
  }

  /** Works to be looked at together. */
  createFolder(name: string, works: readonly string[]): Observable<Work> {
    return this.http.post<Work>('/api/works/folders', { name, works });
  }

  /** Long jobs of a work, the latest first, and the size of its file in bytes. */
  jobs(id: string): Observable<{ jobs: Job[]; size: number | null }> {
    return this.http.get<{ jobs: Job[]; size: number | null }>(`/api/works/${id}/jobs`);
  }

  /** A job whenever it has changed, until it is over. */
  watchJob(id: string): Observable<Job> {
    return new Observable((watcher) => {
      const events = new EventSource(`/api/jobs/${id}/events`);
      events.onmessage = ({ data }: MessageEvent<string>) => {
        const job = JSON.parse(data) as Job;
        watcher.next(job);
        if (job.state !== 'waiting' && job.state !== 'running') {
          events.close();
          watcher.complete();
        }
      };
      // While the server is away the browser asks again by itself; an answer that is no stream ends it.
      events.onerror = () => {
        if (events.readyState === EventSource.CLOSED) watcher.error(new Error('The job is gone.'));
      };
      return () => events.close();
    });
  }

  cancelJob(id: string): Observable<unknown> {
    return this.http.delete(`/api/jobs/${id}`);
  }

  jobFileUrl(id: string): string {
    return `/api/jobs/${id}/file`;
  }

  fidelity(id: string, frames: readonly Frame[]): Observable<FrameFidelity[]> {
    return this.http
      .post<{ fidelity: FrameFidelity[] }>(`/api/works/${id}/fidelity`, { frames })
      .pipe(map((r) => r.fidelity));
  }

  /** What a work from nothing would be as a file of each kind. */
  kinds(id: string, frames: readonly Frame[]): Observable<HandedKind[]> {
    return this.http.post<{ kinds: HandedKind[] }>(`/api/works/${id}/kinds`, { frames }).pipe(map((r) => r.kinds));
  }

  /** A page as HTML, or a text, to lay out its pages. */
  pages(id: string, wish: PagesQuery): Observable<ArrayBuffer> {
    return this.http.post(`/api/works/${id}/pages`, wish, { responseType: 'arraybuffer' });
  }

  newWork(wish: NewWork): Observable<Work> {
    return this.http.post<Work>('/api/works/new', wish);
  }

  /** The words of each paragraph, list and table of a text or web page. */
  /** Keeps the data of a file's picture among the author's own. */
  keepOf(id: string, n: number): Observable<LibraryPicture> {
    return this.http.post<LibraryPicture>(`/api/works/${id}/pictures/${n}/keep`, null);
  }

  blocks(id: string, page: number): Observable<Block[]> {
    return this.http
      .get<{ blocks: Block[] }>(`/api/works/${id}/blocks`, { params: { page } })
      .pipe(map((r) => r.blocks));
  }

  likenessUrl(id: string, item: string): string {
    return `/api/works/${id}/items/${encodeURIComponent(item)}/likeness`;
  }

  /** @param state of what the file has itself, as it is saved; as it came where that is empty */
  groundUrl(id: string, page: number, state = ''): string {
    return `/api/works/${id}/ground?page=${page}${state && `&state=${state}`}`;
  }

  export(id: string, frame: Frame, wish: { format: ExportFormat; ppi?: number; width?: number }): Observable<Blob> {
    return this.http.post(`/api/works/${id}/pictures/${frame.n}/export`, { frame, ...wish }, { responseType: 'blob' });
  }

  /** A whole page, or a picture with what stands around it, as it is saved. */
  exportScene(id: string, wish: SceneExport): Observable<Blob> {
    return this.http.post(`/api/works/${id}/export`, wish, { responseType: 'blob' });
  }

  /** The stock and one's own earlier pictures whose names or words hold every word of `q`. */
  pictures(q: string): Observable<LibraryPicture[]> {
    return this.http
      .get<{ pictures: LibraryPicture[] }>('/api/pictures', { params: { q } })
      .pipe(map((r) => r.pictures));
  }

  /** The video that a kept picture is seen of before it plays. */
  keepVideo(sha256: string, file: File): Observable<LibraryPicture> {
    const options = { params: { name: file.name }, headers: BYTES };
    return this.http.put<LibraryPicture>(`/api/pictures/${sha256}/video`, file, options);
  }

  keepPicture(bytes: Blob, name: string): Observable<LibraryPicture> {
    return this.http.post<LibraryPicture>('/api/pictures', bytes, { params: { name }, headers: BYTES });
  }

  /** What is in the picture of a frame. */
  contents(id: string, frame: Pick<Frame, 'n' | 'source'>): Observable<PictureContents> {
    return this.http.get<PictureContents>(`${this.pictureUrl(id, frame)}/contents`);
  }

  /** What of the picture of a frame may be worth keeping visible, beside its faces. */
  suggestions(id: string, frame: Pick<Frame, 'n' | 'source'>): Observable<Suggestions> {
    return this.http.get<Suggestions>(`${this.pictureUrl(id, frame)}/suggestions`);
  }

  refuse(id: string, frame: Pick<Frame, 'n' | 'source'>, refused: readonly Region[]): Observable<void> {
    return this.http.put<void>(`${this.pictureUrl(id, frame)}/suggestions/refused`, { refused });
  }

  /** The outline of the subject in the picture of a frame. */
  cutOut(id: string, frame: Pick<Frame, 'n' | 'source'>, wish: CutOutWish): Observable<CutOut> {
    return this.http.post<CutOut>(`${this.pictureUrl(id, frame)}/cut-out`, wish);
  }

  private pictureUrl(id: string, { n, source }: Pick<Frame, 'n' | 'source'>): string {
    return source ? `/api/pictures/${source.sha256}` : `/api/works/${id}/pictures/${n}`;
  }

  silhouettes(): Observable<OwnShape[]> {
    return this.http.get<{ silhouettes: OwnShape[] }>('/api/silhouettes').pipe(map((r) => r.silhouettes));
  }

  addSilhouette(file: File): Observable<MadeShape> {
    return this.http.post<MadeShape>('/api/silhouettes', file, { params: { name: file.name }, headers: BYTES });
  }

  renameSilhouette(id: string, name: string): Observable<OwnShape> {
    return this.http.patch<OwnShape>(`/api/silhouettes/${id}`, { name });
  }

  removeSilhouette(id: string): Observable<unknown> {
    return this.http.delete(`/api/silhouettes/${id}`);
  }

  palettes(): Observable<KeptPalette[]> {
    return this.http.get<{ palettes: KeptPalette[] }>('/api/palettes').pipe(map((r) => r.palettes));
  }

  addPalette(palette: ColourPalette): Observable<KeptPalette> {
    return this.http.post<KeptPalette>('/api/palettes', palette);
  }

  changePalette({ id, ...palette }: KeptPalette): Observable<KeptPalette> {
    return this.http.put<KeptPalette>(`/api/palettes/${id}`, palette);
  }

  removePalette(id: string): Observable<unknown> {
    return this.http.delete(`/api/palettes/${id}`);
  }

  fonts(): Observable<KeptFont[]> {
    return this.http.get<{ fonts: KeptFont[] }>('/api/fonts').pipe(map((r) => r.fonts));
  }

  addFont(file: File): Observable<KeptFont> {
    return this.http.post<KeptFont>('/api/fonts', file, { headers: BYTES });
  }

  removeFont(id: string): Observable<unknown> {
    return this.http.delete(`/api/fonts/${id}`);
  }

  finishes(): Observable<KeptFinish[]> {
    return this.http.get<{ finishes: KeptFinish[] }>('/api/finishes').pipe(map((r) => r.finishes));
  }

  addFinish(finish: Finish): Observable<KeptFinish> {
    return this.http.post<KeptFinish>('/api/finishes', { finish });
  }

  /** Frames of other works than the open one follow; `followed` says in how many. */
  changeFinish(id: string, finish: Finish, open: string): Observable<KeptFinish & { followed: number }> {
    return this.http.put<KeptFinish & { followed: number }>(`/api/finishes/${id}`, { finish, open });
  }

  removeFinish(id: string): Observable<unknown> {
    return this.http.delete(`/api/finishes/${id}`);
  }

  mark(id: string, marks: Marks): Observable<unknown> {
    return this.http.put(`/api/works/${id}/marks`, marks);
  }

  proxyUrl(id: string, n: number, side: number): string {
    return `/api/works/${id}/pictures/${n}/proxy?side=${side}`;
  }

  /** The data of a file's picture as they are. */
  original(id: string, n: number): Observable<Blob> {
    return this.http.get(`/api/works/${id}/pictures/${n}/original`, { responseType: 'blob' });
  }

  keptOriginal(sha256: string): Observable<Blob> {
    return this.http.get(`/api/pictures/${sha256}/original`, { responseType: 'blob' });
  }

  keptUrl(sha256: string, side: number): string {
    return `/api/pictures/${sha256}/proxy?side=${side}`;
  }

  coverUrl({ id, revision }: WorkSummary): string {
    return `/api/works/${id}/cover?revision=${revision}`;
  }

  framedUrl(work: WorkSummary, n: number): string {
    return `/api/works/${work.id}/pictures/${n}/framed?side=240&revision=${work.revision}`;
  }
}

import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Frame } from '@gable/core';
import { map, type Observable } from 'rxjs';
import type { Work, WorkSummary } from './types';

/** The server's API, one method a request. */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  works(): Observable<WorkSummary[]> {
    return this.http.get<{ works: WorkSummary[] }>('/api/works').pipe(map((r) => r.works));
  }

  work(id: string): Observable<Work> {
    return this.http.get<Work>(`/api/works/${id}`);
  }

  create(file: File): Observable<Work> {
    return this.http.post<Work>('/api/works', file, {
      params: { name: file.name },
      headers: { 'Content-Type': 'application/octet-stream' },
    });
  }

  remove(id: string): Observable<unknown> {
    return this.http.delete(`/api/works/${id}`);
  }

  saveFrames(id: string, revision: number, frames: Record<string, Frame>, over: boolean): Observable<number> {
    return this.http
      .put<{ revision: number }>(`/api/works/${id}/frames`, { revision, frames, over })
      .pipe(map((r) => r.revision));
  }

  file(id: string): Observable<Blob> {
    return this.http.get(`/api/works/${id}/file`, { responseType: 'blob' });
  }

  proxyUrl(id: string, n: number, side: number): string {
    return `/api/works/${id}/pictures/${n}/proxy?side=${side}`;
  }

  framedUrl(work: WorkSummary, n: number): string {
    return `/api/works/${work.id}/pictures/${n}/framed?side=240&revision=${work.revision}`;
  }
}

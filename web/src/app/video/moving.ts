import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { catchError, from, map, of, switchMap, type Observable } from 'rxjs';
import { Api } from '../api/api';
import { Edit } from '../bench/edit';
import { addressOf } from '../work/images';
import { WorkStore } from '../work/work-store';

/** Kinds of pictures that can move by themselves, as `media.type` names them. Few PNGs do: these are not looked into. */
const MOVING: ReadonlySet<string> = new Set(['gif', 'webp']);

interface Asked {
  key: string;
  type: string;
  blob: () => Observable<Blob>;
}

/** The chosen picture as it came, where it moves by itself: what is painted of it is its first moment. */
@Injectable()
export class Moving {
  private readonly api = inject(Api);
  private readonly edit = inject(Edit);
  private readonly state = inject(WorkStore);
  /** Its address while it is chosen; null where it stands still. */
  readonly address = signal<string | null>(null);

  private readonly asked = computed(
    (): Asked | null => {
      const [m, frame, picture] = [this.state.model(), this.edit.shown(), this.edit.picture()];
      const type = frame?.source?.type ?? picture?.media?.type ?? '';
      if (!m || !frame || !MOVING.has(type) || frame.video) return null;
      // Tiles, and a subject that reaches over the edge, are painted alone.
      if (frame.placement.fit === 'tile' || frame.overstep) return null;
      const { source } = frame;
      if (source) return { key: source.sha256, type, blob: () => this.api.keptOriginal(source.sha256) };
      const { id, frame: home } = addressOf(m, frame);
      return { key: `${id}/${home.n}`, type, blob: () => this.api.original(id, home.n) };
    },
    { equal: (a, b) => a?.key === b?.key },
  );

  constructor() {
    toObservable(this.asked)
      .pipe(
        switchMap((asked) => {
          if (!asked) return of(null);
          const moving = asked.blob().pipe(switchMap((blob) => from(movingOf(blob, asked.type))));
          // What cannot be had stands still.
          return moving.pipe(catchError(() => of(null)));
        }),
        map((blob) => blob && URL.createObjectURL(blob)),
        takeUntilDestroyed(),
      )
      .subscribe((address) => this.show(address));
    inject(DestroyRef).onDestroy(() => this.show(null));
  }

  private show(address: string | null): void {
    const before = this.address();
    this.address.set(address);
    if (before) URL.revokeObjectURL(before);
  }
}

/** @returns the picture by its kind, where a browser would move it (WebCodecs §10.8, ImageTrack.animated); null elsewhere */
async function movingOf(data: Blob, name: string): Promise<Blob | null> {
  const type = `image/${name}`;
  if (typeof ImageDecoder === 'undefined') return null;
  const decoder = new ImageDecoder({ data: await data.arrayBuffer(), type });
  try {
    await decoder.tracks.ready;
    return decoder.tracks.selectedTrack?.animated ? new Blob([data], { type }) : null;
  } finally {
    decoder.close();
  }
}

import { afterRenderEffect, DestroyRef, Directive, ElementRef, inject, input } from '@angular/core';
import type { Piece } from './painter';

/** Side of a tile in CSS pixels: few layers for the browser to lay together, none of them too large. */
const TILE = 1024;

/**
 * Milliseconds between two times that tries are drawn while more are coming: each time the browser lays the whole screen
 * together anew, which takes from the tries still being painted.
 */
const GATHER = 50;

interface Tile {
  canvas: HTMLCanvasElement;
  context: CanvasRenderingContext2D;
  x: number;
  y: number;
}

/**
 * One drawing surface for all tries of a scrolling row or grid. A hundred canvases are a hundred layers, which the browser
 * lays together anew at every movement; here they lie on a few tiles that scroll with the row.
 * The host must be positioned.
 */
@Directive({ selector: '[gableTrySheet]', host: { '[style.position]': "'relative'" } })
export class TrySheet {
  /** The names of what lies in the row: it is laid out anew when they change, not when only its pictures do. */
  readonly gableTrySheet = input.required<string>();
  private readonly row = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly pieces = new Map<HTMLElement, Piece | null>();
  private readonly tiles = new Map<string, Tile>();
  private places = new Map<HTMLElement, DOMRect>();
  /** How far the tries reach: tiles are no larger, or the row would scroll further for them. */
  private extent = { width: 0, height: 0 };
  private waiting = false;
  /** Drawn together when it is time. */
  private readonly undrawn = new Set<HTMLElement>();
  private drawing: ReturnType<typeof setTimeout> | undefined;
  private lastDrawn = -Infinity;

  constructor() {
    const resized = new ResizeObserver(() => this.arrange());
    resized.observe(this.row);
    afterRenderEffect(() => {
      this.gableTrySheet();
      this.arrange();
    });
    inject(DestroyRef).onDestroy(() => {
      resized.disconnect();
      clearTimeout(this.drawing);
      for (const piece of this.pieces.values()) piece?.release();
      this.pieces.clear();
    });
  }

  /** An element of the row in whose place a try will be shown. */
  add(place: HTMLElement): void {
    this.pieces.set(place, null);
    this.arrange();
  }

  /** Shows a try; the piece belongs to the sheet from now on. */
  put(place: HTMLElement, piece: Piece): void {
    this.pieces.get(place)?.release();
    this.pieces.set(place, piece);
    this.undrawn.add(place);
    const wait = piece.last ? 0 : Math.max(0, this.lastDrawn + GATHER - performance.now());
    if (wait === 0) clearTimeout(this.drawing);
    else if (this.drawing !== undefined) return;
    this.drawing = setTimeout(() => this.drawWaiting(), wait);
  }

  private drawWaiting(): void {
    this.drawing = undefined;
    this.lastDrawn = performance.now();
    for (const place of this.undrawn) {
      const at = this.places.get(place);
      const piece = this.pieces.get(place);
      if (at && piece) this.draw(at, piece);
    }
    this.undrawn.clear();
  }

  /** The element is no longer in the row. */
  drop(place: HTMLElement): void {
    this.pieces.get(place)?.release();
    this.pieces.delete(place);
    this.arrange();
  }

  /** Everything in its place, once the browser has laid the row out. */
  private arrange(): void {
    if (this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      const row = this.row.getBoundingClientRect();
      const { scrollLeft, scrollTop, clientLeft, clientTop } = this.row;
      const now = new Map<HTMLElement, DOMRect>();
      const extent = { width: 0, height: 0 };
      for (const place of this.pieces.keys()) {
        const r = place.getBoundingClientRect();
        const x = r.left - row.left - clientLeft + scrollLeft;
        const y = r.top - row.top - clientTop + scrollTop;
        if (r.width === 0) continue;
        now.set(place, new DOMRect(x, y, r.width, r.height));
        extent.width = Math.max(extent.width, x + r.width);
        extent.height = Math.max(extent.height, y + r.height);
      }
      const before = this.places;
      this.places = now;
      const grown = extent.width !== this.extent.width || extent.height !== this.extent.height;
      const moved = grown || [...before].some(([place, was]) => !same(was, now.get(place)));
      this.extent = extent;
      if (moved) this.clear();
      for (const [place, at] of now) {
        const piece = this.pieces.get(place);
        if (piece && (moved || !before.has(place))) this.draw(at, piece);
      }
    });
  }

  private clear(): void {
    for (const { canvas } of this.tiles.values()) canvas.remove();
    this.tiles.clear();
  }

  private draw(at: DOMRect, piece: Piece): void {
    const k = piece.density;
    // A tile ends on a whole device pixel, and so does a try.
    const [x, y] = [Math.round(at.x * k) / k, Math.round(at.y * k) / k];
    for (let j = Math.floor(y / TILE); j * TILE < y + at.height; j++)
      for (let i = Math.floor(x / TILE); i * TILE < x + at.width; i++) {
        const { context, x: left, y: top } = this.tile(i, j, k);
        const [dx, dy] = [Math.round((x - left) * k), Math.round((y - top) * k)];
        context.clearRect(dx, dy, piece.width, piece.height);
        context.drawImage(piece.bitmap, piece.x, 0, piece.width, piece.height, dx, dy, piece.width, piece.height);
      }
  }

  private tile(i: number, j: number, k: number): Tile {
    const key = `${i} ${j}`;
    let tile = this.tiles.get(key);
    if (!tile) {
      const canvas = document.createElement('canvas');
      const [x, y] = [i * TILE, j * TILE];
      canvas.width = Math.ceil(Math.min(TILE, this.extent.width - x) * k);
      canvas.height = Math.ceil(Math.min(TILE, this.extent.height - y) * k);
      canvas.setAttribute('aria-hidden', 'true');
      canvas.style.cssText = `position:absolute;pointer-events:none;max-width:none;left:${x}px;top:${y}px;width:${canvas.width / k}px;height:${canvas.height / k}px`;
      this.row.append(canvas);
      tile = { canvas, context: canvas.getContext('2d')!, x, y };
      this.tiles.set(key, tile);
    }
    return tile;
  }
}

const same = (a: DOMRect, b: DOMRect | undefined): boolean =>
  b !== undefined && Math.abs(a.x - b.x) < 0.01 && Math.abs(a.y - b.y) < 0.01;

import type { Pixels } from '../model/pixels';
import type { Mask } from './mask';

// Asked for at every pixel: by a name of the module they are found at once.
const { floor, max, min, round } = Math;

/** Rows and columns of numbers. */
interface Plane {
  width: number;
  height: number;
  data: Float32Array;
}

/** The mean over a square round each pixel, as much of it as lies in the plane; two passes with running sums. */
function boxMean({ width, height, data }: Plane, radius: number): Plane {
  const across = new Float32Array(data.length);
  for (let y = 0; y < height; y++) running(data, across, y * width, 1, width, radius);
  const out = new Float32Array(data.length);
  for (let x = 0; x < width; x++) running(across, out, x, width, height, radius);
  return { width, height, data: out };
}

/** Means along one row or column. */
function running(
  data: Float32Array,
  out: Float32Array,
  start: number,
  step: number,
  count: number,
  radius: number,
): void {
  let sum = 0;
  for (let i = 0; i < min(radius, count); i++) sum += data[start + i * step]!;
  for (let i = 0; i < count; i++) {
    const last = i + radius;
    const gone = i - radius - 1;
    if (last < count) sum += data[start + last * step]!;
    if (gone >= 0) sum -= data[start + gone * step]!;
    out[start + i * step] = sum / (min(last, count - 1) - max(gone, -1));
  }
}

/** How the mask follows the colours of the picture round each pixel: `alpha = red · r + green · g + blue · b + rest`. */
export interface Follow {
  width: number;
  height: number;
  red: Float32Array;
  green: Float32Array;
  blue: Float32Array;
  rest: Float32Array;
}

/**
 * The guided filter with a guide in colour (He, Sun and Tang, “Guided image filtering”, 2013, eq. 19 to 21): the mask becomes,
 * round each pixel, the linear function of the picture's colours that is nearest to it.
 * @param guide the picture, of the size of the mask
 * @param radius of the square, in pixels
 * @param epsilon what differences of colour are too small to be an edge; square of a share of full range
 */
export function followColours(mask: Mask, guide: Pixels, radius: number, epsilon: number): Follow {
  const { width, height } = mask;
  const mean = (data: Float32Array): Float32Array => boxMean({ width, height, data }, radius).data;
  const [r, g, b] = [0, 1, 2].map((k) => channel(guide.data, 4, k)) as [Float32Array, Float32Array, Float32Array];
  const p = channel(mask.data, 1, 0);
  const [mr, mg, mb, mp] = [mean(r), mean(g), mean(b), mean(p)];
  const [rp, gp, bp] = [mean(product(r, p)), mean(product(g, p)), mean(product(b, p))];
  const [rr, rg, rb] = [mean(product(r, r)), mean(product(r, g)), mean(product(r, b))];
  const [gg, gb, bb] = [mean(product(g, g)), mean(product(g, b)), mean(product(b, b))];
  // What each is made of is no longer needed: the results take its place.
  const [red, green, blue, rest] = [r, g, b, p];
  for (let i = 0; i < rest.length; i++) {
    const x = mr[i]!;
    const y = mg[i]!;
    const z = mb[i]!;
    const w = mp[i]!;
    // Covariances of the colours, and of the colours with the mask.
    const xx = rr[i]! - x * x + epsilon;
    const xy = rg[i]! - x * y;
    const xz = rb[i]! - x * z;
    const yy = gg[i]! - y * y + epsilon;
    const yz = gb[i]! - y * z;
    const zz = bb[i]! - z * z + epsilon;
    const cx = rp[i]! - x * w;
    const cy = gp[i]! - y * w;
    const cz = bp[i]! - z * w;
    // The inverse of the symmetric 3 × 3 matrix by its cofactors.
    const ixx = yy * zz - yz * yz;
    const ixy = yz * xz - xy * zz;
    const ixz = xy * yz - yy * xz;
    const iyy = xx * zz - xz * xz;
    const iyz = xz * xy - xx * yz;
    const izz = xx * yy - xy * xy;
    const det = ixx * xx + ixy * xy + ixz * xz;
    const ar = (ixx * cx + ixy * cy + ixz * cz) / det;
    const ag = (ixy * cx + iyy * cy + iyz * cz) / det;
    const ab = (ixz * cx + iyz * cy + izz * cz) / det;
    red[i] = ar;
    green[i] = ag;
    blue[i] = ab;
    rest[i] = w - ar * x - ag * y - ab * z;
  }
  return { width, height, red: mean(red), green: mean(green), blue: mean(blue), rest: mean(rest) };
}

/** One of several values a pixel, as shares of full range. */
function channel(data: ArrayLike<number>, stride: number, k: number): Float32Array {
  const out = new Float32Array(data.length / stride);
  for (let i = 0; i < out.length; i++) out[i] = data[i * stride + k]! / 255;
  return out;
}

function product(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! * b[i]!;
  return out;
}

/**
 * The mask that follows from the colours of the same picture at any size: at a larger one edges are as fine as its pixels
 * (He and Sun, “Fast guided filter”, 2015).
 */
export function maskFollowing(follow: Follow, picture: Pixels): Mask {
  const { width, height } = picture;
  const { red, green, blue, rest } = follow;
  const data = new Uint8Array(width * height);
  const [kx, ky] = [follow.width / width, follow.height / height];
  for (let y = 0; y < height; y++) {
    const fy = min(follow.height - 1, max(0, (y + 0.5) * ky - 0.5));
    const y0 = floor(fy);
    const down = fy - y0;
    const below = min(follow.height - 1, y0 + 1) * follow.width;
    const above = y0 * follow.width;
    for (let x = 0; x < width; x++) {
      const fx = min(follow.width - 1, max(0, (x + 0.5) * kx - 0.5));
      const x0 = floor(fx);
      const right = fx - x0;
      const x1 = min(follow.width - 1, x0 + 1);
      const a = (1 - right) * (1 - down);
      const b = right * (1 - down);
      const c = (1 - right) * down;
      const d = right * down;
      const i = y * width + x;
      const alpha =
        (mixed(red, above + x0, above + x1, below + x0, below + x1, a, b, c, d) * picture.data[i * 4]! +
          mixed(green, above + x0, above + x1, below + x0, below + x1, a, b, c, d) * picture.data[i * 4 + 1]! +
          mixed(blue, above + x0, above + x1, below + x0, below + x1, a, b, c, d) * picture.data[i * 4 + 2]!) /
          255 +
        mixed(rest, above + x0, above + x1, below + x0, below + x1, a, b, c, d);
      data[i] = min(255, max(0, round(alpha * 255)));
    }
  }
  return { width, height, data };
}

/** Four neighbours in their shares. */
const mixed = (
  plane: Float32Array,
  i: number,
  j: number,
  k: number,
  l: number,
  a: number,
  b: number,
  c: number,
  d: number,
): number => plane[i]! * a + plane[j]! * b + plane[k]! * c + plane[l]! * d;

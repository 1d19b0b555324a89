/** Draws the portraits of four made-up potters in flat, brushed shapes, a logo, and the captioned and the tiny picture. */
import { createCanvas, GlobalFonts, loadImage, type SKRSContext2D } from '@napi-rs/canvas';
import { mkdir, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { random } from './marcher/maths';

const OUT = 'files/pictures';

interface Sitter {
  name: string;
  width: number;
  height: number;
  /** Middle of the face and its height, in shares of the picture's width and height. */
  face: [number, number, number];
  skin: [string, string, string];
  hair: string;
  hairLight: string;
  style: 'bun' | 'short' | 'curls' | 'long' | 'bald';
  beard?: boolean;
  glasses?: boolean;
  shirt: string;
  apron: string;
  wall: [string, string];
  shelf: string;
  seed: number;
}

const sitters: Sitter[] = [
  {
    name: 'portrait-maren',
    width: 2000,
    height: 1333,
    face: [0.33, 0.43, 0.42],
    skin: ['#e0aa86', '#c98b66', '#f3c9a8'],
    hair: '#5b3522',
    hairLight: '#7d4c31',
    style: 'bun',
    shirt: '#dcd3c2',
    apron: '#33595c',
    wall: ['#b9c4bb', '#93a39b'],
    shelf: '#8a6a48',
    seed: 3,
  },
  {
    name: 'portrait-tobias',
    width: 1600,
    height: 2000,
    face: [0.55, 0.36, 0.3],
    skin: ['#a06f4c', '#7f5438', '#bd8a63'],
    hair: '#1f1814',
    hairLight: '#3a2c24',
    style: 'short',
    beard: true,
    shirt: '#b5673c',
    apron: '#4b4337',
    wall: ['#d9c7a6', '#b79d74'],
    shelf: '#6d4c31',
    seed: 9,
  },
  {
    name: 'portrait-ines',
    width: 2100,
    height: 1400,
    face: [0.67, 0.45, 0.4],
    skin: ['#c98f68', '#a96f4b', '#e3b18c'],
    hair: '#2b1d1a',
    hairLight: '#4a302a',
    style: 'curls',
    glasses: true,
    shirt: '#e2b64d',
    apron: '#5e6f52',
    wall: ['#cbb3a3', '#a58a7b'],
    shelf: '#7a5537',
    seed: 14,
  },
  {
    name: 'portrait-odd',
    width: 1500,
    height: 2250,
    face: [0.46, 0.33, 0.26],
    skin: ['#efc3a4', '#d59c7b', '#fbdcc5'],
    hair: '#d9d4cb',
    hairLight: '#f4f1ea',
    style: 'bald',
    beard: true,
    glasses: true,
    shirt: '#3f5873',
    apron: '#a8a08e',
    wall: ['#a9b7c2', '#7e909f'],
    shelf: '#8b6b4d',
    seed: 21,
  },
  {
    name: 'portrait-sunniva',
    width: 1920,
    height: 1440,
    face: [0.4, 0.46, 0.4],
    skin: ['#f0c2a0', '#d79a76', '#fcdcc4'],
    hair: '#c46a2e',
    hairLight: '#e28c47',
    style: 'long',
    shirt: '#7b8f7a',
    apron: '#e6dcc8',
    wall: ['#8fa7a6', '#6c8583'],
    shelf: '#75553a',
    seed: 27,
  },
];

type Ctx = SKRSContext2D;

function blob(ctx: Ctx, x: number, y: number, rx: number, ry: number, turn = 0): void {
  ctx.beginPath();
  ctx.ellipse(x, y, rx, ry, turn, 0, Math.PI * 2);
  ctx.fill();
}

/** Broad, faint strokes over an area: the unevenness of gouache. */
function brush(ctx: Ctx, width: number, height: number, rnd: () => number, count: number, strength: number): void {
  for (let i = 0; i < count; i++) {
    const x = rnd() * width;
    const y = rnd() * height;
    const long = (0.04 + rnd() * 0.14) * width;
    ctx.save();
    ctx.translate(x, y);
    ctx.rotate(-0.5 + rnd() * 0.5);
    ctx.fillStyle = rnd() < 0.5 ? `rgba(255,250,238,${strength * rnd()})` : `rgba(30,22,18,${strength * rnd()})`;
    blob(ctx, 0, 0, long, long * (0.05 + rnd() * 0.09));
    ctx.restore();
  }
}

function background(ctx: Ctx, s: Sitter, rnd: () => number): void {
  const g = ctx.createLinearGradient(0, 0, s.width, s.height);
  g.addColorStop(0, s.wall[0]);
  g.addColorStop(1, s.wall[1]);
  ctx.fillStyle = g;
  ctx.fillRect(0, 0, s.width, s.height);
  brush(ctx, s.width, s.height, rnd, 260, 0.05);
  const pots = ['#6f8f86', '#a5562f', '#d8cdb8', '#3c5f66', '#c2913f', '#8d7b68'];
  for (const y of [0.2, 0.52]) {
    ctx.fillStyle = s.shelf;
    ctx.fillRect(0, s.height * y, s.width, s.height * 0.018);
    ctx.fillStyle = 'rgba(20,12,8,0.22)';
    ctx.fillRect(0, s.height * (y + 0.018), s.width, s.height * 0.012);
    let x = rnd() * 0.06 * s.width;
    while (x < s.width) {
      const w = s.width * (0.04 + rnd() * 0.05);
      const h = w * (0.6 + rnd() * 1.1);
      const foot = s.height * y;
      ctx.fillStyle = pots[Math.floor(rnd() * pots.length)]!;
      ctx.beginPath();
      ctx.moveTo(x + w * 0.3, foot);
      ctx.bezierCurveTo(x - w * 0.15, foot - h * 0.4, x, foot - h * 0.8, x + w * 0.28, foot - h);
      ctx.lineTo(x + w * 0.72, foot - h);
      ctx.bezierCurveTo(x + w, foot - h * 0.8, x + w * 1.15, foot - h * 0.4, x + w * 0.7, foot);
      ctx.fill();
      ctx.fillStyle = 'rgba(255,255,255,0.2)';
      blob(ctx, x + w * 0.27, foot - h * 0.55, w * 0.07, h * 0.22, 0.15);
      x += w * (1.15 + rnd() * 0.9);
    }
  }
}

function hairBehind(ctx: Ctx, s: Sitter, w: number, h: number): void {
  ctx.fillStyle = s.hair;
  if (s.style === 'bun') {
    blob(ctx, 0, -h * 0.12, w * 0.6, h * 0.55);
    blob(ctx, w * 0.1, -h * 0.68, w * 0.27, h * 0.19);
    ctx.fillStyle = s.hairLight;
    blob(ctx, w * 0.04, -h * 0.71, w * 0.15, h * 0.08, -0.4);
  }
  if (s.style === 'curls') {
    for (let i = 0; i < 19; i++) {
      const a = Math.PI * (0.82 + (i / 18) * 1.36);
      ctx.fillStyle = i % 3 === 1 ? s.hairLight : s.hair;
      blob(ctx, Math.cos(a) * w * 0.6, Math.sin(a) * h * 0.52 - h * 0.05, w * 0.21, w * 0.21);
    }
  }
  if (s.style === 'long') {
    ctx.beginPath();
    ctx.moveTo(-w * 0.6, h * 0.95);
    ctx.bezierCurveTo(-w * 0.78, -h * 0.3, -w * 0.55, -h * 0.72, 0, -h * 0.7);
    ctx.bezierCurveTo(w * 0.58, -h * 0.72, w * 0.8, -h * 0.3, w * 0.64, h * 0.95);
    ctx.fill();
  }
  if (s.style === 'short') blob(ctx, 0, -h * 0.16, w * 0.56, h * 0.45);
}

function hairFront(ctx: Ctx, s: Sitter, w: number, h: number): void {
  ctx.fillStyle = s.hair;
  if (s.style === 'bald') {
    blob(ctx, -w * 0.5, h * 0.0, w * 0.07, h * 0.16);
    blob(ctx, w * 0.5, h * 0.0, w * 0.07, h * 0.16);
    return;
  }
  ctx.beginPath();
  ctx.moveTo(-w * 0.53, -h * 0.02);
  ctx.bezierCurveTo(-w * 0.6, -h * 0.5, -w * 0.3, -h * 0.63, w * 0.02, -h * 0.6);
  ctx.bezierCurveTo(w * 0.4, -h * 0.62, w * 0.58, -h * 0.4, w * 0.53, -h * 0.02);
  ctx.bezierCurveTo(w * 0.46, -h * 0.3, w * 0.3, -h * 0.36, w * 0.06, -h * (s.style === 'long' ? 0.42 : 0.34));
  ctx.bezierCurveTo(-w * 0.2, -h * 0.3, -w * 0.45, -h * 0.26, -w * 0.53, -h * 0.02);
  ctx.fill();
  ctx.strokeStyle = s.hairLight;
  ctx.lineWidth = w * 0.02;
  for (let i = 0; i < 6; i++) {
    ctx.beginPath();
    ctx.moveTo(-w * (0.3 - i * 0.1), -h * 0.53);
    ctx.quadraticCurveTo(-w * (0.38 - i * 0.12), -h * 0.46, -w * (0.4 - i * 0.13), -h * 0.37);
    ctx.stroke();
  }
}

function features(ctx: Ctx, s: Sitter, w: number, h: number): void {
  const eye = (x: number): void => {
    ctx.fillStyle = '#f7f1e8';
    blob(ctx, x, -h * 0.03, w * 0.085, h * 0.034);
    ctx.fillStyle = '#3a2a22';
    blob(ctx, x + w * 0.008, -h * 0.03, w * 0.04, w * 0.042);
    ctx.fillStyle = '#fff';
    blob(ctx, x + w * 0.022, -h * 0.042, w * 0.012, w * 0.012);
    ctx.strokeStyle = s.style === 'bald' ? '#b8afa3' : s.hair;
    ctx.lineWidth = w * 0.035;
    ctx.lineCap = 'round';
    ctx.beginPath();
    ctx.moveTo(x - w * 0.1, -h * 0.1);
    ctx.quadraticCurveTo(x, -h * 0.145, x + w * 0.1, -h * 0.105);
    ctx.stroke();
    ctx.strokeStyle = 'rgba(50,28,18,0.75)';
    ctx.lineWidth = w * 0.016;
    ctx.beginPath();
    ctx.moveTo(x - w * 0.09, -h * 0.028);
    ctx.quadraticCurveTo(x, -h * 0.083, x + w * 0.09, -h * 0.028);
    ctx.stroke();
  };
  eye(-w * 0.2);
  eye(w * 0.2);
  ctx.fillStyle = s.skin[1];
  ctx.beginPath();
  ctx.moveTo(-w * 0.02, -h * 0.04);
  ctx.quadraticCurveTo(w * 0.1, h * 0.1, w * 0.075, h * 0.14);
  ctx.quadraticCurveTo(0, h * 0.185, -w * 0.07, h * 0.14);
  ctx.quadraticCurveTo(-w * 0.015, h * 0.12, -w * 0.02, -h * 0.04);
  ctx.fill();
  ctx.fillStyle = 'rgba(196,84,62,0.2)';
  blob(ctx, -w * 0.28, h * 0.14, w * 0.12, h * 0.075);
  blob(ctx, w * 0.28, h * 0.14, w * 0.12, h * 0.075);
  if (s.beard) {
    ctx.fillStyle = s.hair;
    ctx.beginPath();
    ctx.moveTo(-w * 0.49, h * 0.08);
    ctx.bezierCurveTo(-w * 0.47, h * 0.5, -w * 0.3, h * 0.66, 0, h * 0.68);
    ctx.bezierCurveTo(w * 0.3, h * 0.66, w * 0.47, h * 0.5, w * 0.49, h * 0.08);
    ctx.bezierCurveTo(w * 0.38, h * 0.24, w * 0.22, h * 0.19, 0, h * 0.2);
    ctx.bezierCurveTo(-w * 0.22, h * 0.19, -w * 0.38, h * 0.24, -w * 0.49, h * 0.08);
    ctx.fill();
  }
  ctx.fillStyle = '#a44c40';
  ctx.beginPath();
  ctx.moveTo(-w * 0.15, h * 0.26);
  ctx.quadraticCurveTo(0, h * 0.285, w * 0.15, h * 0.255);
  ctx.quadraticCurveTo(0, h * 0.37, -w * 0.15, h * 0.26);
  ctx.fill();
  ctx.fillStyle = '#fbf5ec';
  ctx.beginPath();
  ctx.moveTo(-w * 0.11, h * 0.273);
  ctx.quadraticCurveTo(0, h * 0.288, w * 0.11, h * 0.27);
  ctx.quadraticCurveTo(0, h * 0.312, -w * 0.11, h * 0.273);
  ctx.fill();
  if (s.glasses) {
    ctx.strokeStyle = '#2d2622';
    ctx.lineWidth = w * 0.022;
    for (const x of [-0.21, 0.21]) {
      ctx.beginPath();
      ctx.ellipse(w * x, -h * 0.025, w * 0.155, h * 0.085, 0, 0, Math.PI * 2);
      ctx.stroke();
    }
    ctx.beginPath();
    ctx.moveTo(-w * 0.06, -h * 0.04);
    ctx.quadraticCurveTo(0, -h * 0.065, w * 0.06, -h * 0.04);
    ctx.stroke();
  }
}

function body(ctx: Ctx, s: Sitter, w: number, h: number, below: number): void {
  ctx.fillStyle = s.skin[1];
  ctx.beginPath();
  ctx.moveTo(-w * 0.22, h * 0.3);
  ctx.lineTo(-w * 0.26, h * 0.8);
  ctx.quadraticCurveTo(0, h * 0.98, w * 0.26, h * 0.8);
  ctx.lineTo(w * 0.22, h * 0.3);
  ctx.fill();
  ctx.fillStyle = s.shirt;
  ctx.beginPath();
  ctx.moveTo(-w * 1.35, below);
  ctx.bezierCurveTo(-w * 1.3, h * 0.95, -w * 0.75, h * 0.84, -w * 0.27, h * 0.69);
  ctx.quadraticCurveTo(0, h * 0.93, w * 0.27, h * 0.69);
  ctx.bezierCurveTo(w * 0.75, h * 0.84, w * 1.3, h * 0.95, w * 1.35, below);
  ctx.fill();
  ctx.fillStyle = s.apron;
  ctx.beginPath();
  ctx.moveTo(-w * 0.5, h * 1.2);
  ctx.lineTo(w * 0.5, h * 1.2);
  ctx.lineTo(w * 0.85, below);
  ctx.lineTo(-w * 0.85, below);
  ctx.fill();
  ctx.strokeStyle = s.apron;
  ctx.lineWidth = w * 0.1;
  for (const side of [-1, 1]) {
    ctx.beginPath();
    ctx.moveTo(side * w * 0.43, h * 1.23);
    ctx.quadraticCurveTo(side * w * 0.4, h * 0.95, side * w * 0.31, h * 0.73);
    ctx.stroke();
  }
}

function portrait(s: Sitter): Buffer {
  const canvas = createCanvas(s.width, s.height);
  const ctx = canvas.getContext('2d');
  const rnd = random(s.seed);
  background(ctx, s, rnd);
  const h = s.face[2] * s.height;
  const w = h * 0.76;
  ctx.save();
  ctx.translate(s.face[0] * s.width, s.face[1] * s.height);
  ctx.rotate((rnd() - 0.5) * 0.09);
  hairBehind(ctx, s, w, h);
  body(ctx, s, w, h, s.height * (1.1 - s.face[1]));
  ctx.fillStyle = s.skin[1];
  blob(ctx, -w * 0.5, h * 0.02, w * 0.08, h * 0.09);
  blob(ctx, w * 0.5, h * 0.02, w * 0.08, h * 0.09);
  const g = ctx.createLinearGradient(-w * 0.5, 0, w * 0.5, 0);
  g.addColorStop(0, s.skin[2]);
  g.addColorStop(0.55, s.skin[0]);
  g.addColorStop(1, s.skin[1]);
  ctx.fillStyle = g;
  ctx.beginPath();
  ctx.moveTo(0, -h * 0.54);
  ctx.bezierCurveTo(w * 0.44, -h * 0.54, w * 0.54, -h * 0.2, w * 0.5, h * 0.1);
  ctx.bezierCurveTo(w * 0.46, h * 0.36, w * 0.22, h * 0.52, 0, h * 0.53);
  ctx.bezierCurveTo(-w * 0.22, h * 0.52, -w * 0.46, h * 0.36, -w * 0.5, h * 0.1);
  ctx.bezierCurveTo(-w * 0.54, -h * 0.2, -w * 0.44, -h * 0.54, 0, -h * 0.54);
  ctx.fill();
  features(ctx, s, w, h);
  hairFront(ctx, s, w, h);
  ctx.restore();
  brush(ctx, s.width, s.height, rnd, 320, 0.045);
  const image = ctx.getImageData(0, 0, s.width, s.height);
  for (let i = 0; i < image.data.length; i += 4) {
    const grain = (rnd() + rnd() - 1) * 10;
    for (let k = 0; k < 3; k++) image.data[i + k] = image.data[i + k]! + grain;
  }
  ctx.putImageData(image, 0, 0);
  return canvas.toBuffer('image/png');
}

/** The mark of the pottery: a bowl under a roof, on nothing. */
function logo(): Buffer {
  const canvas = createCanvas(900, 600);
  const ctx = canvas.getContext('2d');
  ctx.strokeStyle = '#2f4a4a';
  ctx.fillStyle = '#b5482a';
  ctx.lineWidth = 34;
  ctx.lineJoin = 'round';
  ctx.lineCap = 'round';
  ctx.beginPath();
  ctx.moveTo(120, 300);
  ctx.lineTo(450, 70);
  ctx.lineTo(780, 300);
  ctx.stroke();
  ctx.beginPath();
  ctx.moveTo(230, 330);
  ctx.lineTo(670, 330);
  ctx.bezierCurveTo(660, 460, 570, 500, 540, 530);
  ctx.lineTo(360, 530);
  ctx.bezierCurveTo(330, 500, 240, 460, 230, 330);
  ctx.fill();
  return canvas.toBuffer('image/png');
}

await mkdir(OUT, { recursive: true });
for (const s of sitters)
  await sharp(portrait(s))
    .jpeg({ quality: 82, mozjpeg: true })
    .withExif({ IFD0: { Artist: 'Fennick Clayworks (made up)' } })
    .withMetadata({ density: 300 })
    .toFile(`${OUT}/${s.name}.jpg`);
await writeFile(`${OUT}/logo.png`, await sharp(logo()).png({ compressionLevel: 9 }).toBuffer());

// A picture with its caption inside, which a circle would cut.
GlobalFonts.registerFromPath(
  '../node_modules/@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2',
  'Bricolage',
);
const shelves = await loadImage(`${OUT}/drying-shelves.jpg`);
const poster = createCanvas(1920, 1080);
const pen = poster.getContext('2d');
pen.drawImage(shelves, 0, 0, 1920, 1080);
pen.fillStyle = 'rgba(27,34,33,0.72)';
pen.fillRect(0, 860, 1920, 220);
pen.fillStyle = '#fbf3e2';
pen.font = '700 92px Bricolage';
pen.fillText('Open shelves · every Saturday', 70, 965);
pen.font = '400 54px Bricolage';
pen.fillText('Seconds from 4 crowns, bring your own box', 72, 1040);
await sharp(poster.toBuffer('image/png')).jpeg({ quality: 82, mozjpeg: true }).toFile(`${OUT}/open-shelves-poster.jpg`);

// Far too small for any page.
await sharp(`${OUT}/stacked-plates.jpg`).resize(180, 120).jpeg({ quality: 70 }).toFile(`${OUT}/plates-thumbnail.jpg`);

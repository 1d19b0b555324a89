/**
 * Speed against a yardstick in the same run (design: ratios, never times). `npm run bench`.
 * A document of 200 pictures and about 100 MB is generated beside; its pictures are noise, which no zip can shrink.
 */
import {
  addedId,
  applyAll,
  deriveView,
  FINISHES,
  layFinish,
  newPicture,
  paintFrame,
  pieceContext,
  PIECES,
  puttingPiece,
  rankShapes,
  resolveTies,
  SHAPES,
  WAITING,
  weigh,
  withShape,
  type Frame,
} from '@gable/core';
import { BLANKS, openFile, surveyFile, withFrames } from '@gable/formats';
import { decode, encode, PNG, renderFrame, surfaceOf, toCanvas } from '@gable/render';
import { lookAt } from '@gable/render/faces';
import { paintScene } from '@gable/render/piece';
import { sceneOf } from '@gable/render/scene';
import { wordsFacts } from '@gable/render/words-facts';
import { createCanvas, type Canvas } from '@napi-rs/canvas';
import { strToU8, zipSync, type Zippable } from 'fflate';
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { byTurns, circled, median, report } from './measure';

const folder = mkdtempSync(path.join(os.tmpdir(), 'gable-bench-'));
const file = path.join(folder, 'large.docx');

function largeDocument(): Uint8Array {
  const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const size = 'cx="2743200" cy="1828800"';
  const picture = (n: number): string =>
    `<w:p><w:r><w:drawing><wp:inline><wp:extent ${size}/><wp:docPr id="${n}" name="p${n}"/><a:graphic><a:graphicData uri="p"><pic:pic><pic:nvPicPr><pic:cNvPr id="${n}" name="p"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="r${n}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext ${size}/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r></w:p>` +
    `<w:p><w:r><w:t>${'The kiln is warm and the shelves are full. '.repeat(30)}</w:t></w:r></w:p>`;
  const numbers = Array.from({ length: 200 }, (_, i) => i + 1);
  const zip: Zippable = {
    '[Content_Types].xml': strToU8(
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="jpg" ContentType="image/jpeg"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>',
    ),
    '_rels/.rels': strToU8(
      `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${R}/officeDocument" Target="word/document.xml"/></Relationships>`,
    ),
    'word/document.xml': strToU8(
      `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="${R}" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"><w:body>${numbers.map(picture).join('')}</w:body></w:document>`,
    ),
    'word/_rels/document.xml.rels': strToU8(
      `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${numbers.map((n) => `<Relationship Id="r${n}" Type="${R}/image" Target="media/${n}.jpg"/>`).join('')}</Relationships>`,
    ),
  };
  const head = readFileSync('../demo/files/pictures/portrait-odd.jpg');
  for (const n of numbers)
    zip[`word/media/${n}.jpg`] = [Buffer.concat([head, randomBytes(500_000 - head.length)]), { level: 0 }];
  return zipSync(zip);
}

/** A slide with a picture, and ten texts over it. */
function ten(bytes: Uint8Array, size: { width: number; height: number }): Uint8Array {
  const file = openFile(BLANKS.pptx!({ size: { width: 960, height: 540 }, ground: null }));
  const page = file.document.pages[0]!.id;
  const source = { sha256: '0'.repeat(64), name: 'photo.jpg', type: 'jpeg' as const, size, orientation: 1 };
  const item = newPicture('p1', { on: 'page', box: { x: 75, y: 0, width: 810, height: 540 } }, source, 'Pots');
  let { document } = applyAll(file.document, [{ op: 'add', item, slot: { in: { page }, index: 0 } }]);
  for (let i = 0; i < 10; i++) {
    const newId = (): string => addedId(String(i));
    const context = pieceContext(document, 'p1', { words: { ...WAITING, heading: `Pots and people ${i}` }, newId })!;
    const [made] = PIECES.find((p) => p.name === 'heading-over')!
      .items(context)
      .filter((m) => m.item.text);
    document = applyAll(document, puttingPiece(document, context, [made!])).document;
    const { tie } = document.items[addedId(String(i))]!;
    const down = [{ op: 'set' as const, id: addedId(String(i)), path: 'tie', value: { ...tie, gap: 6 + i * 48 } }];
    document = applyAll(document, down).document;
  }
  return file.write(resolveTies(document), new Map([['p1', { bytes, type: 'jpeg', size }]]));
}

/** A thousand slides with a picture each; ten pictures are shared, as decks do. */
function largeDeck(): Uint8Array {
  const R = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const P = 'http://schemas.openxmlformats.org/presentationml/2006/main';
  const numbers = Array.from({ length: 1000 }, (_, i) => i + 1);
  const rels = (list: string): Uint8Array =>
    strToU8(
      `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${list}</Relationships>`,
    );
  const related = (id: string, kind: string, target: string): string =>
    `<Relationship Id="${id}" Type="${R}/${kind}" Target="${target}"/>`;
  const zip: Zippable = {
    '[Content_Types].xml': strToU8(
      '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="jpg" ContentType="image/jpeg"/></Types>',
    ),
    '_rels/.rels': rels(related('r1', 'officeDocument', 'ppt/presentation.xml')),
    'ppt/presentation.xml': strToU8(
      `<p:presentation xmlns:p="${P}" xmlns:r="${R}"><p:sldIdLst>${numbers.map((n) => `<p:sldId id="${255 + n}" r:id="s${n}"/>`).join('')}</p:sldIdLst><p:sldSz cx="12192000" cy="6858000"/></p:presentation>`,
    ),
    'ppt/_rels/presentation.xml.rels': rels(
      numbers.map((n) => related(`s${n}`, 'slide', `slides/slide${n}.xml`)).join(''),
    ),
  };
  const words = `<p:sp><p:nvSpPr><p:cNvPr id="2" name="t"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr/><p:txBody>${'<a:p><a:r><a:t>The kiln is warm and the shelves are full.</a:t></a:r></a:p>'.repeat(12)}</p:txBody></p:sp>`;
  for (const n of numbers) {
    zip[`ppt/slides/slide${n}.xml`] = strToU8(
      `<p:sld xmlns:p="${P}" xmlns:r="${R}" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><p:cSld><p:spTree>${words}<p:pic><p:nvPicPr><p:cNvPr id="3" name="p"/><p:cNvPicPr/><p:nvPr/></p:nvPicPr><p:blipFill><a:blip r:embed="r1"/><a:stretch/></p:blipFill><p:spPr><a:xfrm><a:off x="914400" y="914400"/><a:ext cx="2743200" cy="1828800"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr></p:pic></p:spTree></p:cSld></p:sld>`,
    );
    zip[`ppt/slides/_rels/slide${n}.xml.rels`] = rels(related('r1', 'image', `../media/${n % 10}.jpg`));
  }
  const head = readFileSync('../demo/files/pictures/portrait-odd.jpg');
  for (let n = 0; n < 10; n++)
    zip[`ppt/media/${n}.jpg`] = [Buffer.concat([head, randomBytes(500_000 - head.length)]), { level: 0 }];
  return zipSync(zip);
}

try {
  writeFileSync(file, largeDocument());
  const bytes = readFileSync(file);
  console.log(`document: ${(bytes.length / 1e6).toFixed(0)} MB, 200 pictures`);

  const [surveying, unzip] = await byTurns(
    5,
    () => surveyFile(openFile(bytes)),
    () => spawnSync('unzip', ['-tqq', file]),
  );
  report('survey (headers)', surveying, 'unzip -t', unzip, 0.3);

  const copy = path.join(folder, 'copy.docx');
  const [framing, copying] = await byTurns(
    9,
    () => {
      const opened = openFile(readFileSync(file), { read: 'pictures' });
      writeFileSync(copy, opened.write(withFrames(opened, circled(opened))));
    },
    () => writeFileSync(copy, readFileSync(file)),
  );
  report('frame all 200 and write', framing, 'read and write', copying, 2);
  // This process holds the document that it made, too: memory is measured in one of its own.
  const alone = spawnSync(process.execPath, ['../scripts/run-ts.mjs', 'src/frame-all.ts', file, copy]);
  console.log(
    `peak memory of the same alone: ${alone.stdout.toString().trim()} MB (target ≤ 2 × the file + 200 MB = ${((2 * bytes.length) / 1048576 + 200).toFixed(0)} MB)`,
  );

  // A finish on all of them, each about its own subject; with sharp alone the same circles are cut into new pictures.
  const finish = FINISHES.find((f) => f.id === 'round-portrait')!.finish;
  const finishing = await median(1, async () => {
    const opened = openFile(readFileSync(file), { read: 'pictures' });
    const frames: Frame[] = [];
    for (const p of opened.pictures) {
      const subject = (await lookAt(opened.pictureBytes(p.n), p.size)).subject;
      frames.push(layFinish(p.frame, finish, { picture: p.size, subject, centred: true }));
    }
    writeFileSync(copy, opened.write(withFrames(opened, frames)));
  });
  const cutting = await median(1, async () => {
    const opened = openFile(readFileSync(file), { read: 'pictures' });
    const side = Math.round((144 / 72) * 300);
    const disc = Buffer.from(`<svg width="${side}" height="${side}"><circle cx="50%" cy="50%" r="50%"/></svg>`);
    for (const p of opened.pictures)
      await sharp(opened.pictureBytes(p.n))
        .resize(side, side, { fit: 'cover', position: 'attention' })
        .composite([{ input: disc, blend: 'dest-in' }])
        .webp()
        .toBuffer();
  });
  report('lay a finish on 200 about their subjects, and write', finishing, 'sharp cuts 200 circles', cutting, 1);
  console.log(`peak memory so far: ${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MB`);

  const deck = path.join(folder, 'large.pptx');
  writeFileSync(deck, largeDeck());
  const slides = readFileSync(deck);
  console.log(`deck: ${(slides.length / 1e6).toFixed(0)} MB, 1,000 slides`);
  const [turning, untest] = await byTurns(
    5,
    () => surveyFile(openFile(slides)),
    () => spawnSync('unzip', ['-tqq', deck]),
  );
  report('survey 1,000 slides', turning, 'unzip -t', untest, 3);
  const reading = await median(3, () => writeFileSync(copy, readFileSync(deck)));
  const dressing = await median(3, () => {
    const opened = openFile(readFileSync(deck), { read: 'pictures' });
    writeFileSync(copy, opened.write(withFrames(opened, circled(opened))));
  });
  report('frame 1,000 slides and write', dressing, 'read and write', reading, 100);

  // 24 megapixels: the largest demo picture, enlarged.
  const photo = await sharp('../demo/files/pictures/three-bowls.jpg')
    .resize(6000, 4000)
    .jpeg({ quality: 90 })
    .toBuffer();
  const size = { width: 6000, height: 4000 };
  const base = openFile(bytes).pictures[0]!.frame;
  const frame = withShape(
    {
      ...base,
      box: { ...base.box, width: 432, height: 288 },
      placement: { ...base.placement, zoom: 1, distortion: 1 },
    },
    { name: 'circle', knobs: {} },
    size,
  );
  const scale = 300 / 72;
  const side = Math.round(frame.box.width * scale);
  const view = deriveView(frame.placement, frame.box, size);
  const ring = Buffer.from(`<svg width="${side}" height="${side}"><circle cx="50%" cy="50%" r="50%"/></svg>`);
  const [ours, direct] = await byTurns(
    9,
    async () => encode(await renderFrame(frame, size, photo, scale), 'png', 300),
    () =>
      sharp(photo)
        .resize(Math.round(size.width * view.scale.x * scale))
        .extract({
          left: Math.round((size.width * view.scale.x * scale - side) / 2),
          top: 0,
          width: side,
          height: side,
        })
        .composite([{ input: ring, blend: 'dest-in' }])
        .png(PNG)
        .toBuffer(),
  );
  report('render a 24-megapixel frame at 300 ppi', ours, 'sharp alone', direct, 1.2);

  // Tries: one hundred shapes of a picture at the size of a try, against drawing the same bare picture as often.
  const proxy = toCanvas(await decode(photo, { width: 256, height: 171 }));
  const try_ = { width: 92, height: 84 };
  const tries = SHAPES.slice(0, 100).map((s) => withShape(frame, { name: s.name, knobs: {} }, size));
  const paintTries = (draw: (canvas: Canvas, f: Frame) => void): void => {
    for (const f of tries) draw(createCanvas(try_.width, try_.height), f);
  };
  const bare = await median(7, () => paintTries((canvas) => canvas.getContext('2d').drawImage(proxy, 0, 0, 92, 84)));
  const shaped = await median(7, () =>
    paintTries((canvas, f) => {
      const scale = Math.min(try_.width / f.box.width, try_.height / f.box.height);
      paintFrame(surfaceOf(canvas), f, { image: proxy, size }, { x: 0, y: 0, scale });
    }),
  );
  report('100 shape tries (target 150 ms on a screen)', shaped, 'the bare picture 100 times', bare, 20);

  // Ranking: in this thread, as it runs in a worker; against one plain sum over the map for every shape and place.
  const weights = weigh(await decode(photo, { width: 256, height: 171 }));
  const hundred = SHAPES.slice(0, 100);
  const sums = await median(7, () => {
    let total = 0;
    for (let i = 0; i < 100; i++) for (let k = 0; k < weights.data.length; k++) total += weights.data[k]!;
    return total;
  });
  report(
    'rank 100 shapes by weights (target 150 ms)',
    await median(7, () => rankShapes(frame, size, weights, hundred)),
    'the map summed 100 times',
    sums,
    40,
  );
  const keep = { u: 0.35, v: 0.3, width: 0.3, height: 0.35 };
  report(
    'rank 100 shapes by a keep mark',
    await median(7, () => rankShapes(frame, size, [keep], hundred)),
    'the map summed 100 times',
    sums,
    40,
  );

  // Ten texts over one picture, told by the pixels beneath each, against painting their page once.
  const worded = openFile(ten(photo, size));
  const shown = { bytes: await sharp(photo).resize(1500, 1000).jpeg().toBuffer(), size };
  const scene = await sceneOf(worded, worded.document, 1);
  const [judged, painted] = await byTurns(
    7,
    () =>
      wordsFacts(
        worded,
        () => shown,
        () => [],
      ),
    () => paintScene(scene, () => shown, { type: 'png', width: 1280 }),
  );
  const found = [
    ...(
      await wordsFacts(
        worded,
        () => shown,
        () => [],
      )
    ).values(),
  ].flat();
  report(`legibility of ${found.length} texts (target 100 ms on a screen)`, judged, 'their page painted', painted, 2);
} finally {
  rmSync(folder, { recursive: true });
}

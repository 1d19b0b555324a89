/** Writes demo/files/visit-us.zip: a page of a web site with its style sheet and pictures. */
import { strToU8, zipSync, type Zippable } from 'fflate';
import { writeFile } from 'node:fs/promises';
import { reduced } from './reduced';

const html = `<!doctype html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <title>Visit us · Fennick Clayworks</title>
  <link rel="stylesheet" href="look.css">
</head>
<body>
  <h1>Visit us</h1>
  <p>The workshop stands behind the old mill. Come in by the yard, mind the cat.</p>
  <img class="wide" src="img/tall-bottles.jpg" alt="Tall bottles in a row">
  <h2>On the day</h2>
  <p><img class="face" src="img/portrait-sunniva.jpg" alt="Sunniva"> Sunniva meets you at the door and knows where the tea is.</p>
  <p><img class="face" src="img/portrait-odd.jpg" width="96" height="80"> Odd carries what you bought to the car.</p>
  <figure>
    <img class="card" src="img/celadon-vase.jpg" width="320" height="400" alt="A pale green vase">
    <figcaption>From last year’s sale</figcaption>
  </figure>
</body>
</html>
`;
const css = `body { max-width: 720px; margin: 40px auto; padding: 0 16px; font: 17px/1.55 Georgia, serif; color: #22302f; background: #f4f0e7; }
h1, h2 { color: #2f4a4a; }
.wide { width: 100%; height: 240px; object-fit: cover; }
.face { width: 96px; height: 96px; border-radius: 50%; border: 1px solid #d9d2c3; object-fit: cover; vertical-align: middle; }
.card { border-radius: 12px; box-shadow: 0 4px 14px rgba(34, 48, 47, .35); }
figcaption { font-style: italic; color: #66716c; }
`;
const when = { mtime: new Date(2026, 2, 1, 9) };
const zip: Zippable = { 'index.html': [strToU8(html), when], 'look.css': [strToU8(css), when] };
for (const name of ['tall-bottles', 'portrait-sunniva', 'portrait-odd', 'celadon-vase'])
  zip[`img/${name}.jpg`] = [await reduced(name, 900), { level: 0, ...when }];
const bytes = zipSync(zip);
await writeFile('files/visit-us.zip', bytes);
console.log(`visit-us.zip: ${(bytes.length / 1e6).toFixed(1)} MB`);

/** Writes demo/files/firing-day-board.svg (SVG 2): the stations of a firing day, with pictures that are in the file. */
import { writeFile } from 'node:fs/promises';
import { reduced } from './reduced';

const data = async (name: string): Promise<string> =>
  `data:image/jpeg;base64,${Buffer.from(await reduced(name, 640)).toString('base64')}`;
const stations = [
  ['drying-shelves', 'Load', 'dry pots only', 'xMidYMid slice'],
  ['kiln-glow', 'Fire', 'two days, door shut', 'xMidYMid slice'],
  ['glaze-tests', 'Check', 'rings before bowls', 'none'],
  ['stacked-plates', 'Unload', 'gloves, please', 'xMinYMid slice'],
] as const;

const cards = await Promise.all(
  stations.map(async ([name, title, words, fit], i) => {
    const x = 40 + i * 235;
    const arrow =
      i === 0 ? '' : `<path d="M${x - 34} 215h22m-8 -7l8 7l-8 7" fill="none" stroke="#b5482a" stroke-width="3"/>`;
    return (
      `  <g id="station-${i + 1}">\n    ${arrow}\n    <rect x="${x}" y="110" width="195" height="230" rx="10" fill="#fbf9f4" stroke="#d9d2c3"/>\n` +
      `    <image href="${await data(name)}" x="${x + 12}" y="122" width="171" height="150" preserveAspectRatio="${fit}"${i === 0 ? '' : ` aria-label="${title}"`}/>\n` +
      `    <text x="${x + 14}" y="304" font-size="21" font-weight="600">${title}</text>\n    <text x="${x + 14}" y="326" font-size="14" fill="#66716c">${words}</text>\n  </g>`
    );
  }),
);
const people = await Promise.all(
  ['portrait-tobias', 'portrait-sunniva'].map(
    async (name, i) =>
      `  <image href="${await data(name)}" x="${720 + i * 120}" y="380" width="96" height="96" preserveAspectRatio="xMidYMid slice" clip-path="url(#round-${i})"/>`,
  ),
);
const svg = `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="260mm" height="136.5mm" viewBox="0 0 1000 525" font-family="Georgia, serif" fill="#22302f">
  <title>Firing day</title>
  <defs>
    <clipPath id="round-0"><circle cx="768" cy="428" r="48"/></clipPath>
    <clipPath id="round-1"><ellipse cx="888" cy="428" rx="48" ry="44"/></clipPath>
  </defs>
  <rect width="1000" height="525" fill="#f4f0e7"/>
  <text x="40" y="70" font-size="38" font-weight="600">Firing day</text>
${cards.join('\n')}
  <text x="40" y="430" font-size="19">Who has the key: Tobias in the morning, Sunniva at night.</text>
${people.join('\n')}
</svg>
`;
await writeFile('files/firing-day-board.svg', svg);
console.log(`firing-day-board.svg: ${(svg.length / 1e6).toFixed(1)} MB`);

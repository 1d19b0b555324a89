/**
 * Writes demo/files/season-handbook.docx (ISO/IEC 29500 transitional), with what goes wrong in practice on purpose: a
 * squashed portrait, an off-centre crop, an egg, an outline faked with a second disc, a picture far too small, one with
 * its caption inside, one stored on its side, missing alternative texts.
 */
import { strToU8, zipSync, type Zippable } from 'fflate';
import { readFile, writeFile } from 'node:fs/promises';
import {
  disc,
  floating,
  inline,
  NAMESPACES,
  pageBreak,
  paragraph,
  run,
  table,
  text,
  textBox,
  WRAP,
  type PictureSpec,
} from './docx/markup';
import {
  contentTypes,
  coreProperties,
  packageRelationships,
  part,
  relationships,
  settings,
  styles,
  theme,
} from './docx/parts';

const media = [
  'three-bowls',
  'portrait-maren',
  'portrait-tobias',
  'portrait-ines',
  'portrait-odd',
  'portrait-sunniva',
  'glaze-tests',
  'celadon-vase',
  'kiln-glow',
  'drying-shelves',
  'open-shelves-poster',
  'plates-thumbnail',
  'breakfast-jug',
  'teapot',
  'tall-bottles',
  'stacked-plates',
] as const;
const rel = (name: (typeof media)[number]): string => `rIdPic${media.indexOf(name) + 1}`;

let next = 100;
const picture = (
  name: (typeof media)[number],
  width: number,
  height: number,
  more: Partial<PictureSpec> = {},
): PictureSpec => ({ id: next++, rel: rel(name), name: name.replaceAll('-', ' '), width, height, ...more });

const line = (emu: number, colour: string): string => `<a:ln w="${emu}"><a:solidFill>${colour}</a:solidFill></a:ln>`;
const srgb = (hex: string): string => `<a:srgbClr val="${hex}"/>`;
const shadow =
  '<a:effectLst><a:outerShdw blurRad="101600" dist="50800" dir="2700000" algn="tl" rotWithShape="0"><a:srgbClr val="000000"><a:alpha val="35000"/></a:srgbClr></a:outerShdw></a:effectLst>';

const member = (pic: string, name: string, words: string): { cells: string[]; widths: number[] } => ({
  cells: [paragraph(pic), text(name, 'Heading2') + text(words)],
  widths: [2900, 6170],
});

const body = [
  text('Season handbook', 'Title'),
  text('Fennick Clayworks · spring and summer', 'Subtitle'),
  paragraph(
    inline(
      picture('three-bowls', 160, 106.667, {
        alt: 'A turquoise bowl, a small white cup and a red clay vase on a pale table',
      }),
    ),
  ),
  text('Three of last season’s favourites: wide bowl, cup and belly vase.', 'Caption'),
  text(
    'Welcome back. The wheels are running again, the glaze room has a new extractor, and the shelves are empty enough for you to fill. This handbook has what a member needs to know from March to September: who is who, how the glazes behave, when we fire, and what happens on open days.',
  ),
  text('Keep it near the kettle. Clay on the cover is a sign of use.'),
  pageBreak(),

  text('Who you will meet', 'Heading1'),
  text('Ask any of them. They were all beginners once, and two of them still say so.'),
  table([
    // An off-centre crop: the face stands at a third of the picture, the crop is from the right half.
    member(
      inline(picture('portrait-maren', 32, 32, { crop: { l: 22000, r: 11333 }, alt: 'Maren in a teal apron' })),
      'Maren, wheels',
      'Keeps the eight wheels turning and the waiting list short. Tuesdays and Thursdays. If your centring wobbles, she will stand behind you and say nothing until it does not.',
    ),
    // The egg: meant as a circle.
    member(
      inline(
        picture('portrait-tobias', 32, 34.6, {
          crop: { t: 6000, b: 7500 },
          preset: 'ellipse',
          line: line(9525, srgb('B5482A')),
          alt: 'Tobias in an orange shirt',
        }),
      ),
      'Tobias, kilns',
      'Loads, fires and unloads. Knows every cone by name. Please do not open the door to look; he will know that too.',
    ),
    // Squashed: a 3:2 picture pressed into a square.
    member(
      inline(picture('portrait-ines', 32, 32, {})),
      'Ines, glazes',
      'Mixes the glazes and the rumours about them. Her test tiles hang by the window; take a photograph before you choose, not after.',
    ),
    member(
      inline(picture('portrait-sunniva', 42, 31.5, { alt: 'Sunniva in a cream apron' })),
      'Sunniva, beginners',
      'Runs the six-week course. Brings a spare apron, a spare towel and, in week four, a cake.',
    ),
  ]),
  pageBreak(),

  text('The man who built the kiln', 'Heading1'),
  // An outline faked with a second, larger disc that has slipped.
  paragraph(
    disc(next++, { x: 108, y: 3.2, wrap: WRAP.none, behind: true }, 50, 50, 'C9B48C') +
      floating(
        picture('portrait-odd', 46, 46, {
          crop: { l: 0, r: 0, t: 11000, b: 22333 },
          preset: 'ellipse',
          alt: 'Odd, with white beard and glasses',
        }),
        { x: 109.2, y: 6, wrap: WRAP.square },
      ) +
      run(
        'Odd laid the first brick in the year the roof still leaked. He comes in on Fridays, sits by the door and tells anyone who asks why the arch has to be a catenary. Nobody who has heard it has ever forgotten it, and some have even understood it.',
      ),
  ),
  text(
    'The kiln has been fired four hundred and twelve times. It is relined every five years, and the old bricks become the path to the garden; look for the ones with a thumb print.',
  ),
  paragraph(
    inline(
      picture('kiln-glow', 150, 84.375, {
        preset: 'roundRect',
        adjust: '<a:gd name="adj" fmla="val 6000"/>',
        line: line(19050, '<a:schemeClr val="accent1"/>'),
        effects: shadow,
        overflow: 190500,
        alt: 'Pots in the kiln in front of glowing bricks',
      }),
    ),
  ),
  text('Cone nine, a little after midnight.', 'Caption'),
  paragraph(
    run('Firing days are the second and the last Saturday of the month. Bring what is bone dry and signed') +
      '<w:r><w:rPr><w:rStyle w:val="FootnoteReference"/></w:rPr><w:footnoteReference w:id="1"/></w:r>' +
      run('; what is damp stays behind.'),
  ),
  pageBreak(),

  text('Glazes and what they do', 'Heading1'),
  paragraph(
    floating(picture('celadon-vase', 52, 78), { x: 0, y: 2, wrap: WRAP.tight }) +
      run(
        'Celadon is patient. It pools in every groove the wheel left and breaks pale over the rims, so throw with rings if you like rings. Two coats, never three, and keep it a finger’s breadth from the foot.',
      ),
  ),
  text(
    'Tenmoku forgives thick coats and hides thin ones. It runs in the last hour; leave it two fingers from the shelf or you will be grinding on Sunday.',
  ),
  text(
    'Lagoon is new. Ines calls it a blue that has been somewhere. On buff clay it turns green where it is thin; on white it does not.',
  ),
  text('Chalk is matt and soft to the hand. It shows coffee. Some of us like that.'),
  paragraph(inline(picture('glaze-tests', 150, 100, { alt: 'Forty glazed test tiles in rows on a dark board' }))),
  text('Forty tiles, one clay, one firing.', 'Caption'),
  pageBreak(),

  text('Open shelves', 'Heading1'),
  text(
    'On the first Saturday of every month the drying shelves become a shop. Members take four fifths, the roof takes the rest.',
  ),
  // The caption is part of the picture: a circle would cut it.
  paragraph(
    inline(
      picture('open-shelves-poster', 160, 90, {
        alt: 'Shelves full of pots, with the words: Open shelves, every Saturday',
      }),
    ),
  ),
  text('The poster, for your own door.', 'Caption'),
  // Far too small for its size.
  paragraph(inline(picture('plates-thumbnail', 120, 80))),
  text('Stacked plates by the Wednesday group.', 'Caption'),
  pageBreak(),

  text('Visiting hours and a pot of tea', 'Heading1'),
  paragraph(
    textBox(
      next++,
      { x: 92, y: 4, wrap: WRAP.square },
      68,
      84,
      text('House rules', 'Heading2') +
        paragraph(inline(picture('teapot', 60, 45, { alt: 'A brown teapot and two white cups' }))) +
        text('Whoever finds the pot empty fills it. Whoever breaks it makes the next one.'),
    ) +
      run(
        'The workshop is open from ten to nine, Mondays excepted. Keys hang behind the third shelf; the third shelf is the one with the crooked bracket.',
      ),
  ),
  text('Visitors are welcome after four. Show them the wheel, not the bill for the wheel.'),
  // Stored on its side: cameras note the turn in the EXIF data, which documents do not apply.
  paragraph(inline(picture('breakfast-jug', 90, 67.5, { alt: 'A white jug with a blue cup' }))),
  text('The breakfast jug, as the camera stored it.', 'Caption'),
  pageBreak(),

  text('What is on the shelves now', 'Heading1'),
  paragraph(
    floating(
      picture('tall-bottles', 45, 80, {
        crop: { l: 0, r: 0, t: 0, b: 0 },
        alt: 'An ochre and a white bottle, tall and narrow',
      }),
      { x: 115, y: 0, wrap: WRAP.square },
    ) +
      run(
        'Bottles, because everyone has been throwing tall this winter. Plates, because the Wednesday group cannot stop. One teapot with a spout that pours, and eleven with spouts that learn.',
      ),
  ),
  text('If something has stood there longer than a season, it belongs to the house. The house is not strict about it.'),
  paragraph(inline(picture('drying-shelves', 100, 56.25, { alt: 'Three drying shelves full of pots' }))),
  text('The drying room in February.', 'Caption'),
  paragraph(inline(picture('stacked-plates', 60, 40, { line: line(6350, srgb('FFFFFF')) }))),
  text('Plates again, with a mug that wandered in.', 'Caption'),
].join('');

const section =
  '<w:sectPr><w:headerReference w:type="default" r:id="rIdHeader"/><w:footerReference w:type="default" r:id="rIdFooter"/><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1871" w:right="1418" w:bottom="1418" w:left="1418" w:header="709" w:footer="709" w:gutter="0"/></w:sectPr>';

const logo = (id: number, width: number, height: number): PictureSpec => ({
  id,
  rel: 'rIdLogo',
  name: 'Mark',
  width,
  height,
  alt: 'Fennick Clayworks',
});
const header = paragraph(
  `${inline(logo(1, 15, 10))}${run('  Fennick Clayworks')}<w:r><w:tab/></w:r>${run('Season handbook')}`,
  'Header',
);
const footer = paragraph(
  `${run('Community pottery since the roof leaked')}<w:r><w:tab/></w:r><w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> PAGE </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>${run('1')}<w:r><w:fldChar w:fldCharType="end"/></w:r>`,
  'Header',
);
const footnotes =
  `<w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:type="continuationSeparator" w:id="0"><w:p><w:r><w:continuationSeparator/></w:r></w:p></w:footnote>` +
  `<w:footnote w:id="1">${paragraph(`<w:r><w:rPr><w:rStyle w:val="FootnoteReference"/></w:rPr><w:footnoteRef/></w:r>${run(' With your own mark, not with ours: ')}${inline(logo(2, 9, 6))}`, 'FootnoteText')}</w:footnote>`;

const files: Record<string, string> = {
  '[Content_Types].xml': contentTypes,
  '_rels/.rels': packageRelationships,
  'word/document.xml': part('document', `<w:body>${body}${section}</w:body>`, NAMESPACES),
  'word/_rels/document.xml.rels': relationships([
    ['rIdStyles', 'styles', 'styles.xml'],
    ['rIdSettings', 'settings', 'settings.xml'],
    ['rIdTheme', 'theme', 'theme/theme1.xml'],
    ['rIdHeader', 'header', 'header1.xml'],
    ['rIdFooter', 'footer', 'footer1.xml'],
    ['rIdFootnotes', 'footnotes', 'footnotes.xml'],
    ...media.map((name): [string, string, string] => [rel(name), 'image', `media/${name}.jpg`]),
  ]),
  'word/styles.xml': styles,
  'word/settings.xml': settings,
  'word/theme/theme1.xml': theme,
  'word/header1.xml': part('hdr', header, NAMESPACES),
  'word/_rels/header1.xml.rels': relationships([['rIdLogo', 'image', 'media/logo.png']]),
  'word/footer1.xml': part('ftr', footer, NAMESPACES),
  'word/footnotes.xml': part('footnotes', footnotes, NAMESPACES),
  'word/_rels/footnotes.xml.rels': relationships([['rIdLogo', 'image', 'media/logo.png']]),
  'docProps/core.xml': coreProperties,
};

const zip: Zippable = {};
const when = { mtime: new Date(2026, 2, 1, 9) };
for (const [name, xml] of Object.entries(files)) zip[name] = [strToU8(xml), { level: 9, ...when }];
for (const name of media)
  zip[`word/media/${name}.jpg`] = [new Uint8Array(await readFile(`files/pictures/${name}.jpg`)), { level: 0, ...when }];
zip['word/media/logo.png'] = [new Uint8Array(await readFile('files/pictures/logo.png')), { level: 0, ...when }];
const bytes = zipSync(zip);
await writeFile('files/season-handbook.docx', bytes);
console.log(
  `season-handbook.docx: ${(bytes.length / 1e6).toFixed(1)} MB, ${body.split('<pic:pic>').length - 1} pictures in the body`,
);

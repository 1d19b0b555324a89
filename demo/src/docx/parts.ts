/** The parts of the handbook that are the same whatever it says: styles, theme, settings. */
const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';

const style = (id: string, name: string, ppr: string, rpr: string, basedOn = 'Normal'): string =>
  `<w:style w:type="paragraph" w:styleId="${id}"><w:name w:val="${name}"/><w:basedOn w:val="${basedOn}"/><w:next w:val="Normal"/><w:qFormat/><w:pPr>${ppr}</w:pPr><w:rPr>${rpr}</w:rPr></w:style>`;

export const styles =
  HEAD +
  `<w:styles ${W}><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Georgia" w:hAnsi="Georgia" w:cs="Georgia"/><w:sz w:val="22"/><w:lang w:val="en-GB"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="160" w:line="288" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults>` +
  `<w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/><w:qFormat/></w:style>` +
  style(
    'Title',
    'Title',
    '<w:spacing w:before="240" w:after="80"/>',
    '<w:b/><w:color w:val="2F4A4A"/><w:sz w:val="64"/>',
  ) +
  style('Subtitle', 'Subtitle', '<w:spacing w:after="280"/>', '<w:color w:val="8A6A48"/><w:sz w:val="28"/>') +
  style(
    'Heading1',
    'heading 1',
    '<w:keepNext/><w:spacing w:before="240" w:after="120"/><w:outlineLvl w:val="0"/>',
    '<w:b/><w:color w:val="2F4A4A"/><w:sz w:val="40"/>',
  ) +
  style(
    'Heading2',
    'heading 2',
    '<w:keepNext/><w:spacing w:before="160" w:after="60"/><w:outlineLvl w:val="1"/>',
    '<w:b/><w:color w:val="B5482A"/><w:sz w:val="26"/>',
  ) +
  style(
    'Caption',
    'caption',
    '<w:spacing w:before="60" w:after="240"/>',
    '<w:i/><w:color w:val="5F5A50"/><w:sz w:val="18"/>',
  ) +
  style(
    'Header',
    'header',
    '<w:tabs><w:tab w:val="right" w:pos="9070"/></w:tabs><w:spacing w:after="0"/>',
    '<w:sz w:val="18"/><w:color w:val="5F5A50"/>',
  ) +
  style('FootnoteText', 'footnote text', '<w:spacing w:after="0"/>', '<w:sz w:val="18"/>') +
  `<w:style w:type="character" w:styleId="FootnoteReference"><w:name w:val="footnote reference"/><w:rPr><w:vertAlign w:val="superscript"/></w:rPr></w:style></w:styles>`;

export const settings = `${HEAD}<w:settings ${W}><w:zoom w:percent="100"/><w:defaultTabStop w:val="708"/><w:characterSpacingControl w:val="doNotCompress"/><w:footnotePr><w:footnote w:id="-1"/><w:footnote w:id="0"/></w:footnotePr><w:compat><w:compatSetting w:name="compatibilityMode" w:uri="http://schemas.microsoft.com/office/word" w:val="15"/></w:compat></w:settings>`;

const A = 'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"';
const colours: [string, string][] = [
  ['dk1', '22302F'],
  ['lt1', 'FFFFFF'],
  ['dk2', '2F4A4A'],
  ['lt2', 'F4F0E7'],
  ['accent1', 'B5482A'],
  ['accent2', '2F6F73'],
  ['accent3', 'C2913F'],
  ['accent4', '6F8F86'],
  ['accent5', '8A6A48'],
  ['accent6', '7A3B4A'],
  ['hlink', '2F6F73'],
  ['folHlink', '7A3B4A'],
];
const fill = '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>';
const line = `<a:ln w="9525">${fill}</a:ln>`;
const effect = '<a:effectStyle><a:effectLst/></a:effectStyle>';
const font = '<a:latin typeface="Georgia"/><a:ea typeface=""/><a:cs typeface=""/>';

export const theme =
  HEAD +
  `<a:theme ${A} name="Fennick"><a:themeElements><a:clrScheme name="Fennick">${colours.map(([k, v]) => `<a:${k}><a:srgbClr val="${v}"/></a:${k}>`).join('')}</a:clrScheme>` +
  `<a:fontScheme name="Fennick"><a:majorFont>${font}</a:majorFont><a:minorFont>${font}</a:minorFont></a:fontScheme>` +
  `<a:fmtScheme name="Fennick"><a:fillStyleLst>${fill.repeat(3)}</a:fillStyleLst><a:lnStyleLst>${line.repeat(3)}</a:lnStyleLst><a:effectStyleLst>${effect.repeat(3)}</a:effectStyleLst><a:bgFillStyleLst>${fill.repeat(3)}</a:bgFillStyleLst></a:fmtScheme></a:themeElements></a:theme>`;

const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const MAIN = 'application/vnd.openxmlformats-officedocument.wordprocessingml';

export const contentTypes =
  HEAD +
  `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="jpg" ContentType="image/jpeg"/><Default Extension="png" ContentType="image/png"/>` +
  `<Override PartName="/word/document.xml" ContentType="${MAIN}.document.main+xml"/><Override PartName="/word/styles.xml" ContentType="${MAIN}.styles+xml"/><Override PartName="/word/settings.xml" ContentType="${MAIN}.settings+xml"/>` +
  `<Override PartName="/word/header1.xml" ContentType="${MAIN}.header+xml"/><Override PartName="/word/footer1.xml" ContentType="${MAIN}.footer+xml"/><Override PartName="/word/footnotes.xml" ContentType="${MAIN}.footnotes+xml"/>` +
  `<Override PartName="/word/theme/theme1.xml" ContentType="application/vnd.openxmlformats-officedocument.theme+xml"/><Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>`;

export const relationships = (list: [string, string, string][]): string =>
  `${HEAD}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${list.map(([id, kind, target]) => `<Relationship Id="${id}" Type="${kind.includes('/') ? kind : `${OFFICE}/${kind}`}" Target="${target}"/>`).join('')}</Relationships>`;

export const packageRelationships = relationships([
  ['rId1', 'officeDocument', 'word/document.xml'],
  [
    'rId2',
    'http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties',
    'docProps/core.xml',
  ],
]);

export const coreProperties = `${HEAD}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><dc:title>Season handbook</dc:title><dc:creator>Fennick Clayworks</dc:creator><dcterms:created xsi:type="dcterms:W3CDTF">2026-03-01T09:00:00Z</dcterms:created></cp:coreProperties>`;

export const part = (root: string, content: string, namespaces: string): string =>
  `${HEAD}<w:${root} ${namespaces}>${content}</w:${root}>`;

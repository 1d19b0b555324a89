import { namespaceOf } from '../ooxml/names';
import { contentTypes, OFFICE, packed, relationships, XML, type BlankPage } from './parts';

const WORD = namespaceOf('word', false);
const TWIPS = 20;
/** Margins of a sheet (common practice), and the most of a small one. */
const MARGIN = { most: 72, share: 0.12 };

/** A text document with an empty paragraph on each page (ISO/IEC 29500-1 §17.2, §17.3.1.23). */
export function blankDocx({ size, ground, pages = 1 }: BlankPage): Uint8Array {
  const twips = (points: number): number => Math.round(points * TWIPS);
  const margin = twips(Math.min(MARGIN.most, MARGIN.share * Math.min(size.width, size.height)));
  const orient = size.width > size.height ? ' w:orient="landscape"' : '';
  const sides = ['top', 'right', 'bottom', 'left'].map((side) => `w:${side}="${margin}"`).join(' ');
  const section = `<w:sectPr><w:pgSz w:w="${twips(size.width)}" w:h="${twips(size.height)}"${orient}/><w:pgMar ${sides} w:header="${Math.round(margin / 2)}" w:footer="${Math.round(margin / 2)}" w:gutter="0"/></w:sectPr>`;
  // A background is shown only where the settings say so (§17.15.1.25).
  const background = ground ? `<w:background w:color="${ground.slice(1).toUpperCase()}"/>` : '';
  const type = (name: string): string => `wordprocessingml.${name}`;
  return packed({
    '[Content_Types].xml': contentTypes({
      'word/document.xml': type('document.main'),
      'word/styles.xml': type('styles'),
      'word/settings.xml': type('settings'),
    }),
    '_rels/.rels': relationships([['officeDocument', 'word/document.xml']]),
    'word/_rels/document.xml.rels': relationships([
      ['styles', 'styles.xml'],
      ['settings', 'settings.xml'],
    ]),
    'word/document.xml': `${XML}<w:document xmlns:w="${WORD}" xmlns:r="${OFFICE}">${background}<w:body><w:p/>${'<w:p><w:pPr><w:pageBreakBefore/></w:pPr></w:p>'.repeat(pages - 1)}${section}</w:body></w:document>`,
    'word/styles.xml': `${XML}<w:styles xmlns:w="${WORD}"><w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="22"/></w:rPr></w:rPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style></w:styles>`,
    'word/settings.xml': `${XML}<w:settings xmlns:w="${WORD}">${ground ? '<w:displayBackgroundShape/>' : ''}</w:settings>`,
  });
}

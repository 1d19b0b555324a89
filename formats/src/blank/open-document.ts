import { URIS, writeLength } from '../odf/names';
import { packed, XML, type BlankPage } from './parts';

const NAMES = (['office', 'style', 'text', 'table', 'draw', 'presentation', 'fo', 'svg', 'xlink'] as const)
  .map((prefix) => `xmlns:${prefix}="${URIS[prefix]}"`)
  .join(' ');
/** Margins of a sheet (common practice), and the most of a small one. */
const MARGIN = { most: 56.7, share: 0.1 };

type Kind = 'text' | 'presentation' | 'graphics';

/** An OpenDocument file with one page, of a text with more (ODF 1.2 Part 1 §3, §16.5, §17.6). */
function blankOpenDocument(kind: Kind, { size, ground, pages = 1 }: BlankPage): Uint8Array {
  const drawn = kind !== 'text';
  const margin = drawn ? 0 : Math.min(MARGIN.most, MARGIN.share * Math.min(size.width, size.height));
  const orientation = size.width > size.height ? 'landscape' : 'portrait';
  const painted = ground && !drawn ? ` fo:background-color="${ground}"` : '';
  const layout = `<style:page-layout style:name="Page"><style:page-layout-properties fo:page-width="${writeLength(size.width)}" fo:page-height="${writeLength(size.height)}" fo:margin="${writeLength(margin)}" style:print-orientation="${orientation}"${painted}/></style:page-layout>`;
  // Slides and drawings are painted by the style of the page itself (§20.7).
  const fill = ground && drawn ? `draw:fill="solid" draw:fill-color="${ground}"` : 'draw:fill="none"';
  const pageStyle = drawn
    ? `<style:style style:name="Ground" style:family="drawing-page"><style:drawing-page-properties ${fill}/></style:style>`
    : '';
  const master = `<style:master-page style:name="Plain" style:page-layout-name="Page"/>`;
  const page = '<draw:page draw:name="page1" draw:style-name="Ground" draw:master-page-name="Plain"/>';
  const tag = kind === 'graphics' ? 'drawing' : kind;
  const first =
    '<style:style style:name="First" style:family="paragraph" style:master-page-name="Plain"><style:paragraph-properties/></style:style>';
  const next =
    pages > 1
      ? '<style:style style:name="Next" style:family="paragraph"><style:paragraph-properties fo:break-before="page"/></style:style>'
      : '';
  const paragraphs = `<text:p text:style-name="First"/>${'<text:p text:style-name="Next"/>'.repeat(pages - 1)}`;
  const [styles, body] = drawn ? [pageStyle, page] : [first + next, paragraphs];
  const media = `application/vnd.oasis.opendocument.${kind}`;
  const entry = (path: string, type: string): string =>
    `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${type}"/>`;
  return packed(
    {
      'content.xml': `${XML}<office:document-content ${NAMES} office:version="1.2"><office:automatic-styles>${styles}</office:automatic-styles><office:body><office:${tag}>${body}</office:${tag}></office:body></office:document-content>`,
      'styles.xml': `${XML}<office:document-styles ${NAMES} office:version="1.2"><office:styles/><office:automatic-styles>${layout}</office:automatic-styles><office:master-styles>${master}</office:master-styles></office:document-styles>`,
      'META-INF/manifest.xml': `${XML}<manifest:manifest xmlns:manifest="${URIS.manifest}" manifest:version="1.2">${entry('/', media)}${entry('content.xml', 'text/xml')}${entry('styles.xml', 'text/xml')}</manifest:manifest>`,
    },
    { name: 'mimetype', text: media },
  );
}

export const blankOdt = (page: BlankPage): Uint8Array => blankOpenDocument('text', page);
export const blankOdp = (page: BlankPage): Uint8Array => blankOpenDocument('presentation', page);
export const blankOdg = (page: BlankPage): Uint8Array => blankOpenDocument('graphics', page);

import { toEmu } from '@gable/core';
import { namespaceOf } from '../ooxml/names';
import { contentTypes, OFFICE, packed, relationships, XML, type BlankPage } from './parts';

const SLIDES = namespaceOf('presentation', false);
const DRAWING = namespaceOf('drawing', false);
const NAMES = `xmlns:a="${DRAWING}" xmlns:r="${OFFICE}" xmlns:p="${SLIDES}"`;

/** A group for all of a slide, with nothing in it (ISO/IEC 29500-1 §19.3.1.45, spTree). */
const EMPTY_TREE =
  '<p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/><a:chOff x="0" y="0"/><a:chExt cx="0" cy="0"/></a:xfrm></p:grpSpPr></p:spTree>';
const OWN_COLOURS = '<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr>';
const COLOUR_MAP =
  '<p:clrMap bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"/>';

/** Ink and paper of Gable's own pages; every theme must name twelve colours (§20.1.6.2). */
const COLOURS: Readonly<Record<string, string>> = {
  dk1: '22302f',
  lt1: 'ffffff',
  dk2: '2e4a4a',
  lt2: 'f4f0e7',
  accent1: '2b6a73',
  accent2: 'b5482a',
  accent3: 'c28a2c',
  accent4: '4b7352',
  accent5: '6d5a7a',
  accent6: '66716c',
  hlink: '2b6a73',
  folHlink: '66716c',
};

function theme(): string {
  const colours = Object.entries(COLOURS)
    .map(([name, value]) => `<a:${name}><a:srgbClr val="${value}"/></a:${name}>`)
    .join('');
  const font = (name: string): string =>
    `<a:${name}><a:latin typeface="Arial"/><a:ea typeface=""/><a:cs typeface=""/></a:${name}>`;
  const fill = '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>';
  // Three of each kind are required (§20.1.4.1.14, fmtScheme).
  const line = (width: number): string => `<a:ln w="${width}">${fill}</a:ln>`;
  const effect = '<a:effectStyle><a:effectLst/></a:effectStyle>';
  return `${XML}<a:theme xmlns:a="${DRAWING}" name="Plain"><a:themeElements><a:clrScheme name="Plain">${colours}</a:clrScheme><a:fontScheme name="Plain">${font('majorFont')}${font('minorFont')}</a:fontScheme><a:fmtScheme name="Plain"><a:fillStyleLst>${fill.repeat(3)}</a:fillStyleLst><a:lnStyleLst>${[6350, 12_700, 19_050].map(line).join('')}</a:lnStyleLst><a:effectStyleLst>${effect.repeat(3)}</a:effectStyleLst><a:bgFillStyleLst>${fill.repeat(3)}</a:bgFillStyleLst></a:fmtScheme></a:themeElements></a:theme>`;
}

/** A presentation with one empty slide (§13.3.6). */
export function blankPptx({ size, ground }: BlankPage): Uint8Array {
  const [cx, cy] = [toEmu(size.width), toEmu(size.height)];
  const background = (fill: string): string => `<p:bg><p:bgPr>${fill}<a:effectLst/></p:bgPr></p:bg>`;
  // The master's, so that every slide to come has it.
  const colour = ground ? `<a:srgbClr val="${ground.slice(1)}"/>` : '<a:schemeClr val="bg1"/>';
  const painted = background(`<a:solidFill>${colour}</a:solidFill>`);
  const type = (name: string): string => `presentationml.${name}`;
  return packed({
    '[Content_Types].xml': contentTypes({
      'ppt/presentation.xml': type('presentation.main'),
      'ppt/slideMasters/slideMaster1.xml': type('slideMaster'),
      'ppt/slideLayouts/slideLayout1.xml': type('slideLayout'),
      'ppt/slides/slide1.xml': type('slide'),
      'ppt/theme/theme1.xml': 'theme',
    }),
    '_rels/.rels': relationships([['officeDocument', 'ppt/presentation.xml']]),
    'ppt/presentation.xml': `${XML}<p:presentation ${NAMES}><p:sldMasterIdLst><p:sldMasterId id="2147483648" r:id="rId1"/></p:sldMasterIdLst><p:sldIdLst><p:sldId id="256" r:id="rId2"/></p:sldIdLst><p:sldSz cx="${cx}" cy="${cy}"/><p:notesSz cx="${cy}" cy="${cx}"/></p:presentation>`,
    'ppt/_rels/presentation.xml.rels': relationships([
      ['slideMaster', 'slideMasters/slideMaster1.xml'],
      ['slide', 'slides/slide1.xml'],
      ['theme', 'theme/theme1.xml'],
    ]),
    'ppt/slideMasters/slideMaster1.xml': `${XML}<p:sldMaster ${NAMES}><p:cSld>${painted}${EMPTY_TREE}</p:cSld>${COLOUR_MAP}<p:sldLayoutIdLst><p:sldLayoutId id="2147483649" r:id="rId1"/></p:sldLayoutIdLst></p:sldMaster>`,
    'ppt/slideMasters/_rels/slideMaster1.xml.rels': relationships([
      ['slideLayout', '../slideLayouts/slideLayout1.xml'],
      ['theme', '../theme/theme1.xml'],
    ]),
    'ppt/slideLayouts/slideLayout1.xml': `${XML}<p:sldLayout ${NAMES} type="blank"><p:cSld name="Blank">${EMPTY_TREE}</p:cSld>${OWN_COLOURS}</p:sldLayout>`,
    'ppt/slideLayouts/_rels/slideLayout1.xml.rels': relationships([
      ['slideMaster', '../slideMasters/slideMaster1.xml'],
    ]),
    'ppt/slides/slide1.xml': `${XML}<p:sld ${NAMES}><p:cSld>${EMPTY_TREE}</p:cSld>${OWN_COLOURS}</p:sld>`,
    'ppt/slides/_rels/slide1.xml.rels': relationships([['slideLayout', '../slideLayouts/slideLayout1.xml']]),
    'ppt/theme/theme1.xml': theme(),
  });
}

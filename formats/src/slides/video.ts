import { equal, type KeptVideo, type Video } from '@gable/core';
import { videoTypeOf } from '../codec/videos';
import { drawingOf } from '../drawingml/tie-text';
import { namingAt } from '../drawingml/look-text';
import type { Site } from '../drawingml/site';
import type { Additions } from '../ooxml/additions';
import { namespaceOf } from '../ooxml/names';
import type { Package } from '../ooxml/package';
import { attributeOf, child, descend, prefixFor, type Element } from '../xml/located';
import { escapeXml, type Splice } from '../xml/splice';
import { standInBytes } from '../zip/fill';
import { readTiming, writeTiming } from './timing';

/**
 * Videos of slides: a picture whose properties name a video (ISO/IEC 29500-1 §19.3.1.33 nvPr, §20.1.3.6 videoFile), and once more as an
 * embedded part in an extension that is widely read ([MS-PPTX] §2.2.1, media; from memory); the picture is what is seen of it before.
 * The slide's timing says how it plays (`timing.ts`).
 */
const MEDIA_EXTENSION = '{DAA4B4D4-6D71-4841-9C94-3DE7FCFB9230}';
const MEDIA_NAMESPACE = 'http://schemas.microsoft.com/office/powerpoint/2010/main';
const MEDIA_RELATION = 'http://schemas.microsoft.com/office/2007/relationships/media';

/** Children of CT_ApplicationNonVisualDrawingProps behind a video (§19.3.1.33). */
const AFTER_VIDEO = ['custDataLst', 'extLst'];

const propertiesOf = ({ pic }: Pick<Site, 'pic'>): Element | undefined => descend(pic, 'nvPicPr', 'nvPr');
const mediaIn = (nvPr: Element | undefined): Element | undefined =>
  child(nvPr, 'extLst')
    ?.children.find((x) => x.attributes['uri'] === MEDIA_EXTENSION)
    ?.children.find((c) => c.local === 'media');

/** Can a picture be a video? One that is a shape's fill cannot. */
export const canBeVideo = (site: Site): boolean => propertiesOf(site) !== undefined;

const rootOf = (e: Element): Element => (e.parent ? rootOf(e.parent) : e);

/** The video of a picture as its slide has it. */
export function readVideo(pack: Package, site: Site): Video | undefined {
  const nvPr = propertiesOf(site);
  const named = child(nvPr, 'videoFile');
  if (!named) return undefined;
  const media = mediaIn(nvPr);
  const id = attributeOf(media, 'embed') ?? attributeOf(named, 'link');
  const to = pack.relationships(site.part).find((r) => r.id === id);
  if (!to) return undefined;
  const play = readTiming(rootOf(site.pic), drawingOf(site.pic)?.attributes['id']);
  const trim = child(media, 'trim');
  const start = Number(trim?.attributes['st'] ?? 0) / 1000;
  return {
    source: { from: 'file', key: to.target, type: to.external ? 'elsewhere' : pack.contentType(to.target) },
    play,
    ...(start > 0 && { start }),
  };
}

/** What a writer of slides has at hand. */
interface Writing {
  splice: Splice;
  additions: Additions;
}

/** Makes a picture a video, changes how it plays, or makes it a picture again. */
export function writeVideo(
  { splice, additions }: Writing,
  site: Site,
  was: Video | undefined,
  now: Video | undefined,
): void {
  if (equal(was, now)) return;
  const nvPr = propertiesOf(site)!;
  const named = drawingOf(site.pic)!;
  const p = prefixOf(site.pic);
  const a = namingAt(nvPr, site.strict);
  const sameData = equal(was?.source, now?.source);
  if (!sameData || was?.start !== now?.start || was?.end !== now?.end)
    writeMedia({ splice, additions }, { site, nvPr, a, p }, was, now);
  // A click on it plays it: an action of the slide's own (§21.1.2.3.5, hlinkClick).
  const click = child(named, 'hlinkClick');
  const uri = namespaceOf('relationships', site.strict);
  if (now && !click)
    splice.slot(
      named,
      ['hlinkClick'],
      ['hlinkHover', 'extLst'],
      `<${a.name('hlinkClick')}${a.declare} xmlns:r="${uri}" r:id="" action="ppaction://media"/>`,
    );
  if (!now && click?.attributes['action'] === 'ppaction://media') splice.replace(click, '');
  if (rootOf(site.pic).local === 'sld')
    writeTiming(splice, rootOf(site.pic), named.attributes['id'] ?? '0', now?.play ?? null);
}

const prefixOf = (e: Element): string => e.name.slice(0, e.name.length - e.local.length);

function writeMedia(
  { splice, additions }: Writing,
  { site, nvPr, a, p }: { site: Site; nvPr: Element; a: ReturnType<typeof namingAt>; p: string },
  was: Video | undefined,
  now: Video | undefined,
): void {
  const uri = namespaceOf('relationships', site.strict);
  const r = prefixFor(nvPr, uri);
  const [named, declare] = r ? [r, ''] : ['r', ` xmlns:r="${uri}"`];
  const media = mediaIn(nvPr);
  const extension = media?.parent;
  const list = child(nvPr, 'extLst');
  if (!now) {
    const video = child(nvPr, 'videoFile');
    if (video) splice.replace(video, '');
    if (extension) splice.replace(list!.children.length > 1 ? extension : list!, '');
    return;
  }
  const kept = now.source.from === 'kept' && !equal(was?.source, now.source) ? now.source : null;
  const ids = kept ? relate(additions, site, kept) : null;
  if (ids)
    splice.slot(
      nvPr,
      ['videoFile'],
      AFTER_VIDEO,
      `<${a.name('videoFile')}${a.declare}${declare} ${named}:link="${ids.link}"/>`,
    );
  const embed = ids?.embed ?? attributeOf(media, 'embed');
  if (embed === undefined) return;
  const inner = `<p14:media xmlns:p14="${MEDIA_NAMESPACE}"${declare} ${named}:embed="${escapeXml(embed)}"`;
  const text = `<${p}ext uri="${MEDIA_EXTENSION}">${inner}${trimText(now, equal(was?.source, now.source) ? child(media, 'trim') : undefined)}</${p}ext>`;
  if (extension) splice.replace(extension, text);
  else if (list) splice.append(list, text);
  else splice.append(nvPr, `<${p}extLst>${text}</${p}extLst>`);
}

/**
 * From where and up to where it plays: what is left off at both ends, in thousandths of a second.
 * @param old how the file has it: how long its own video is it does not say
 */
function trimText({ source, start = 0, end }: Video, old?: Element): string {
  const whole = source.from === 'kept' ? source.seconds : undefined;
  const left = Number(old?.attributes['end'] ?? 0) / 1000;
  const behind = whole === undefined ? left : end === undefined ? 0 : Math.max(0, whole - end);
  if (start === 0 && behind === 0) return '/>';
  const cut = [
    ['st', start],
    ['end', behind],
  ] as const;
  const said = cut.flatMap(([name, seconds]) => (seconds > 0 ? [` ${name}="${Math.round(seconds * 1000)}"`] : []));
  return `><p14:trim${said.join('')}/></p14:media>`;
}

function relate(additions: Additions, site: Site, video: KeptVideo): { link: string; embed: string } {
  const part = additions.storeVideo(standInBytes(video), video, videoTypeOf(video.type));
  return {
    link: additions.relatePart(site.part, part, 'video', site.strict),
    embed: additions.relatePart(site.part, part, MEDIA_RELATION, site.strict),
  };
}

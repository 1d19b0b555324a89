import { equal, type Frame, type Video } from '@gable/core';
import { addressAt, flagsOf, playedVideo, withinText } from '../codec/videos';
import type { Element } from '../xml/located';
import { escapeXml } from '../xml/splice';
import { ownGroup } from './read-image';
import { XHTML } from './video-text';

function elementOf(image: Element): Element | undefined {
  if (image.parent?.local !== 'switch' || !ownGroup(image)) return undefined;
  const page = image.parent.children.find((c) => c.local === 'foreignObject');
  return page?.children.find((c) => c.local === 'video' && c.uri === XHTML);
}

/** The video that stands in the place of an image. */
export function videoOf(image: Element): Video | undefined {
  const e = elementOf(image);
  return e && playedVideo(e.attributes, e.attributes['src'] ?? '');
}

/** Can a frame's picture be a video in a drawing? Not in tiles, nor where the subject reaches over its edge. */
export const canPlay = ({ placement, overstep }: Frame): boolean => placement.fit !== 'tile' && !overstep;

/**
 * The markup of a frame with a video in the place of its image, which stays for readers without videos.
 * @param image as it stands in the drawing now @throws GableError `cannot-write`
 */
export function withVideo(markup: string, prefix: string, image: Element, frame: Frame): string {
  const { video, alt } = frame;
  if (!video) return markup;
  const [was, old] = [videoOf(image), elementOf(image)];
  const { source } = video;
  const address =
    source.from === 'kept' && !equal(was?.source, source)
      ? withinText(source, 'a drawing', 'Use a shorter video.')
      : (old?.attributes['src'] ?? '');
  const flags = flagsOf(video).map((name) => ` ${name}="${name}"`);
  const style = 'display:block;width:100%;height:100%;object-fit:fill';
  return markup.replace(new RegExp(`<${prefix}image( [^>]*?)/>`), (all, attributes: string) => {
    const href = / href="([^"]*)"/.exec(attributes)![1]!;
    const lies = attributes.replace(/ (href|preserveAspectRatio)="[^"]*"/g, '');
    const played = `<video xmlns="${XHTML}" src="${escapeXml(addressAt(address, video))}" poster="${href}" aria-label="${escapeXml(alt)}"${flags.join('')} style="${style}"></video>`;
    return `<${prefix}switch><${prefix}foreignObject requiredExtensions="${XHTML}"${lies}>${played}</${prefix}foreignObject>${all}</${prefix}switch>`;
  });
}

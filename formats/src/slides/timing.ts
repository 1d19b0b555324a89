import { PLAYED, type Play } from '@gable/core';
import { isOn } from '../drawingml/values';
import { child, type Element } from '../xml/located';
import { escapeXml, type Splice } from '../xml/splice';

/**
 * How the videos of a slide play: nodes of its timing name shapes by their numbers (ISO/IEC 29500-1 §19.5: 19.5.28 cMediaNode, 19.5.33
 * cTn, 19.5.17 cmd, 19.5.72 spTgt).
 */

function* below(e: Element): Generator<Element> {
  yield e;
  for (const c of e.children) yield* below(c);
}
const shapesIn = (e: Element): Set<string> =>
  new Set([...below(e)].flatMap((c) => (c.local === 'spTgt' ? [c.attributes['spid'] ?? ''] : [])));

type Names = ReadonlySet<string>;

/** Tells an element of these shapes, and of no others? */
const isOf = (e: Element, names: Names): boolean => {
  const shapes = shapesIn(e);
  return shapes.size > 0 && [...shapes].every((shape) => names.has(shape));
};

/** What tells of shapes and of nothing else: the largest nodes of which that is true. */
function nodesOf(timing: Element, names: Names): Element[] {
  const visit = (e: Element): Element[] =>
    /^(par|seq|excl|video|audio|cmd)$/.test(e.local) && isOf(e, names) ? [e] : e.children.flatMap(visit);
  return timing.children.flatMap(visit);
}

/** Takes what is said of shapes out of a slide's timing. */
export function letTimingGo(splice: Splice, root: Element, names: Names): void {
  const timing = child(root, 'timing');
  if (!timing) return;
  if (isOf(timing, names)) splice.replace(timing, '');
  else for (const e of nodesOf(timing, names)) splice.replace(e, '');
}

/** How a shape's video plays; what it is steered by, programs for slides show by themselves. */
export function readTiming(root: Element, id: string | undefined): Play {
  const timing = child(root, 'timing');
  if (!timing || id === undefined) return PLAYED;
  const all = nodesOf(timing, new Set([id])).flatMap((e) => [...below(e)]);
  const node = child(
    all.find((e) => e.local === 'video'),
    'cMediaNode',
  );
  return {
    ...PLAYED,
    automatic: all.some((e) => e.local === 'cmd' && e.attributes['cmd']?.startsWith('play') && !waitsForClick(e)),
    loop: child(node, 'cTn')?.attributes['repeatCount'] === 'indefinite',
    muted: isOn(node?.attributes['mute']),
  };
}

/** Does a command come of a click: on the shape, or as a step of the talk? */
function waitsForClick(command: Element): boolean {
  for (let e = command.parent; e; e = e.parent)
    if (/^(interactiveSeq|clickEffect)$/.test(e.attributes['nodeType'] ?? '')) return true;
  return false;
}

/** Lets a shape's video play so, or takes what is said of it away. */
export function writeTiming(splice: Splice, root: Element, id: string, play: Play | null): void {
  const timing = child(root, 'timing');
  const prefix = root.name.slice(0, root.name.length - root.local.length);
  const names = new Set([id]);
  if (!play) return letTimingGo(splice, root, names);
  if (!timing || isOf(timing, names)) {
    const text = `<${prefix}timing>${new Nodes(prefix, id, 1).whole(play)}</${prefix}timing>`;
    return splice.slot(root, ['timing'], ['extLst'], text);
  }
  for (const e of nodesOf(timing, names)) splice.replace(e, '');
  const all = [...below(timing)];
  const numbers = all.flatMap((e) => (e.local === 'cTn' ? [Number(e.attributes['id']) || 0] : []));
  const nodes = new Nodes(prefix, id, 1 + Math.max(0, ...numbers));
  const of = (type: string): Element | undefined => all.find((e) => e.attributes['nodeType'] === type);
  const list = child(of('tmRoot'), 'childTnLst');
  const main = of('mainSeq');
  const steps = child(main, 'childTnLst');
  if (!list) {
    splice.slot(timing, ['tnLst'], ['bldLst', 'extLst'], nodes.whole(play));
    return;
  }
  const isKept = steps !== undefined && shapesIn(main!).size > (shapesIn(main!).has(id) ? 1 : 0);
  if (play.automatic && isKept) splice.append(steps, nodes.begun(main!.attributes['id'] ?? '2'));
  splice.append(list, `${play.automatic && !isKept ? nodes.sequence() : ''}${nodes.media(play)}`);
}

/** Writes nodes of a slide's timing for one shape, with numbers of their own. */
class Nodes {
  constructor(
    private readonly prefix: string,
    private readonly id: string,
    private next: number,
  ) {}

  /** The nodes of a slide that had none. */
  whole(play: Play): string {
    const number = this.next++;
    const inner = `${play.automatic ? this.sequence() : ''}${this.media(play)}`;
    const root = this.node(
      number,
      ' dur="indefinite" restart="never" nodeType="tmRoot"',
      this.tag('childTnLst', inner),
    );
    return this.tag('tnLst', this.tag('par', root));
  }

  /** What is played, from a click on it on; a click is the action of its picture. */
  media({ loop, muted }: Play): string {
    const goesOn = `${loop ? ' repeatCount="indefinite"' : ''} fill="hold" display="0"`;
    const node = this.node(this.next++, goesOn, this.after('indefinite'));
    return this.tag('video', this.tag('cMediaNode', node + this.target, ` vol="80000"${muted ? ' mute="1"' : ''}`));
  }

  /** The steps of a talk, with one that begins by itself. */
  sequence(): string {
    const number = this.next++;
    const node = this.node(
      number,
      ' dur="indefinite" nodeType="mainSeq"',
      this.tag('childTnLst', this.begun(String(number))),
    );
    const turns = (name: string, event: string): string =>
      this.tag(name, this.tag('cond', this.tag('tgtEl', `<${this.prefix}sldTgt/>`), ` evt="${event}" delay="0"`));
    return this.tag(
      'seq',
      `${node}${turns('prevCondLst', 'onPrev')}${turns('nextCondLst', 'onNext')}`,
      ' concurrent="1" nextAc="seek"',
    );
  }

  /** A step that begins with the steps themselves. @param steps the number of their node */
  begun(steps: string): string {
    const command = this.tag(
      'cmd',
      this.tag('cBhvr', this.node(this.next++, ' dur="1" fill="hold"', null) + this.target),
      ' type="call" cmd="playFrom(0.0)"',
    );
    const inside = (attributes: string, before: string, inner: string): string =>
      this.tag('par', this.node(this.next++, attributes, before + this.tag('childTnLst', inner)));
    const effect = inside(' fill="hold" nodeType="afterEffect"', this.after('0'), command);
    const group = inside(' fill="hold"', this.after('0'), effect);
    const withSteps = this.tag('cond', `<${this.prefix}tn val="${escapeXml(steps)}"/>`, ' evt="onBegin" delay="0"');
    const begin = this.tag('stCondLst', `<${this.prefix}cond delay="indefinite"/>${withSteps}`);
    return inside(' fill="hold"', begin, group);
  }

  private tag(name: string, inner: string, attributes = ''): string {
    return `<${this.prefix}${name}${attributes}>${inner}</${this.prefix}${name}>`;
  }

  private node(number: number, attributes: string, inner: string | null): string {
    const open = `<${this.prefix}cTn id="${number}"${attributes}`;
    return inner === null ? `${open}/>` : `${open}>${inner}</${this.prefix}cTn>`;
  }

  private get target(): string {
    return this.tag('tgtEl', `<${this.prefix}spTgt spid="${escapeXml(this.id)}"/>`);
  }

  private after(delay: string): string {
    return this.tag('stCondLst', `<${this.prefix}cond delay="${delay}"/>`);
  }
}

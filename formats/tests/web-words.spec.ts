import { apply, GableError, type Document, type FramedItem, type Text } from '@gable/core';
import { openFile } from '../src/index';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = (file: Uint8Array): string => new TextDecoder().decode(file);
const open = (html: string): ReturnType<typeof openFile> => openFile(bytes(html));
const page = (body: string, css = ''): string =>
  `<!DOCTYPE html><html><head><style>${css}</style></head><body>${body}</body></html>`;

const wordsIn = ({ items, stories }: Document): FramedItem[] =>
  stories
    .flatMap((s) => s.items.map((id) => items[id]!))
    .filter((i): i is FramedItem => i.kind === 'framed' && !!i.text);
type Run = Text['paragraphs'][number]['runs'][number];
const runsOf = (item: FramedItem): Run[] => item.text!.paragraphs[0]!.runs;

const withItem = (document: Document, item: FramedItem): Document => ({
  ...document,
  items: { ...document.items, [item.id]: item },
});
const withRuns = (item: FramedItem, change: (run: Run, i: number) => Run): FramedItem => ({
  ...item,
  text: { ...item.text!, paragraphs: item.text!.paragraphs.map((p) => ({ ...p, runs: p.runs.map(change) })) },
});
const inked = (item: FramedItem, colour: string, opacity = 1): FramedItem =>
  withRuns(item, (run) => ({ ...run, paint: { kind: 'solid', colour, opacity } }));

describe('Words that a web page has itself', () => {
  it('are each element that holds lines, once', () => {
    const { document } = open(
      page(
        '<header><h1>Pots <em>and</em> people</h1></header><div>Plain<span> words</span></div>' +
          '<ul><li>One</li><li>Two<ul><li>Three</li></ul></li></ul><p> </p><table><tr><td>Cell</td></tr></table>' +
          '<p><button>Go</button></p><noscript><p>Never</p></noscript><div>left out<p>Inner</p></div>',
      ),
    );
    const said = wordsIn(document).map((i) => runsOf(i).map((r) => r.text));
    expect(said).toEqual([['Pots ', 'and', ' people'], ['Plain', ' words'], ['One'], ['Three'], ['Cell'], ['Inner']]);
  });

  // HTML §15.3: headings are bold and larger, links are underlined and blue, th is bold, and in the middle where nobody says otherwise.
  it('look as browsers show them without any rule, and as rules say', () => {
    const css =
      'body{font:italic 300 20px/1.5 "Fira Sans",serif;color:#123456;text-align:right}' +
      'h2{font-style:normal} .s{font-size:150%;font-family:Lora} a{text-decoration:none}';
    const { document } = open(
      page('<h1>A</h1><h2>B <b>c</b></h2><p class="s">D<a href="x">e</a></p><table><tr><th>F</th></tr></table>', css),
    );
    const looks = wordsIn(document).map((i) => runsOf(i).map(({ text: t, ...r }) => [t.trim(), r] as const));
    const base = { font: 'Fira Sans', weight: 300, italic: true, underline: false };
    const ink = (colour: string): Run['paint'] => ({ kind: 'solid', colour, opacity: 1 });
    expect(looks[0]).toEqual([['A', { ...base, weight: 700, size: 30, paint: ink('#123456') }]]);
    expect(looks[1]!.map(([, r]) => [r.size, r.weight, r.italic])).toEqual([
      [22.5, 700, false],
      // Bolder than bold (CSS Fonts 4 §2.2.1).
      [22.5, 900, false],
    ]);
    expect(looks[2]).toEqual([
      ['D', { ...base, font: 'Lora', size: 22.5, paint: ink('#123456') }],
      ['e', { ...base, font: 'Lora', size: 22.5, paint: ink('#0000ee') }],
    ]);
    expect(looks[3]![0]![1].weight).toBe(700);
    expect(wordsIn(document).map((i) => i.text!.paragraphs[0]!.align)).toEqual(['end', 'end', 'end', 'end']);
  });

  it('change in the style of their element alone, and read back so', () => {
    const html = page(
      '<h1 style="margin:0; color:red">Open day</h1>\n<p class=x>Come <em>in</em></p>',
      'p{color:#333}',
    );
    const file = open(html);
    const [, p] = wordsIn(file.document) as [FramedItem, FramedItem];
    const next = inked(p, '#b5482a', 0.5);
    const out = text(file.write(withItem(file.document, next)));
    expect(out).toBe(html.replace('<p class=x>', '<p style="color:rgba(181,72,42,0.5)" class=x>'));
    expect(wordsIn(open(out).document)[1]).toEqual(next);
  });

  it('take the place of what their style said, and of what parts of them say themselves', () => {
    const html = page('<h1 style="margin:0; color:red">Open <b style="color:blue">day</b> <a href="x">now</a></h1>');
    const file = open(html);
    const [h1] = wordsIn(file.document) as [FramedItem];
    const next = inked(h1, '#22302f');
    const out = text(file.write(withItem(file.document, next)));
    expect(out).toContain('<h1 style="margin:0;color:#22302f">');
    expect(out).toContain('<b style="color:#22302f">');
    expect(out).toContain('<a style="color:#22302f" href="x">');
    expect(wordsIn(open(out).document)[0]).toEqual(next);
  });

  it('get each look, alone and together', () => {
    const html = page('<p>Come <em>in</em> and <small>see</small></p>');
    const file = open(html);
    const [p] = wordsIn(file.document) as [FramedItem];
    const next: FramedItem = {
      ...withRuns(p, (run) => ({
        ...run,
        ...{ size: Math.round(run.size * 15) / 10, weight: 700, italic: true, underline: true, font: 'Lora' },
      })),
      fill: { kind: 'paint', paint: { kind: 'solid', colour: '#f4f0e7', opacity: 1 } },
    };
    const paragraphs = next.text!.paragraphs.map((one) => ({ ...one, align: 'centre' as const }));
    const wished = { ...next, text: { ...next.text!, paragraphs } };
    const out = text(file.write(withItem(file.document, wished)));
    expect(wordsIn(open(out).document)[0]).toEqual(wished);
    // What is said of the whole is not said of its parts again.
    expect(out.match(/font-weight/g)).toHaveLength(1);
    expect(out.match(/font-size/g)).toHaveLength(2);
  });

  it('of which some look otherwise are marked among the others', () => {
    const html = page('<p>Red <!-- kept --> and <br>green</p>');
    const file = open(html);
    const [p] = wordsIn(file.document) as [FramedItem];
    const next = withRuns(p, (run, i) => (i === 2 ? { ...run, italic: true } : run));
    const out = text(file.write(withItem(file.document, next)));
    expect(out).toBe(html.replace('green', '<span style="font-style:italic">green</span>'));
    expect(wordsIn(open(out).document)[0]).toEqual(next);
  });

  // HTML §13.2.4.3: a formatting element that is left open goes on in what follows.
  it('in an element that was never closed change by themselves', () => {
    const html = page('<p><b style="color:red">One<p>two</b> three</p>');
    const file = open(html);
    const [one, two] = wordsIn(file.document) as [FramedItem, FramedItem];
    const both = withItem(withItem(file.document, inked(one, '#22302f')), inked(two, '#2f4a4a'));
    const out = text(file.write(both));
    const changed = wordsIn(open(out).document).map((i) => runsOf(i).map((r) => [r.text, r.weight, r.paint]));
    const ink = (colour: string): Run['paint'] => ({ kind: 'solid', colour, opacity: 1 });
    expect(changed).toEqual([
      [['One', 700, ink('#22302f')]],
      [
        ['two', 700, ink('#2f4a4a')],
        [' three', 400, ink('#2f4a4a')],
      ],
    ]);
  });

  // CSS Cascade 5 §6.1: what is important in a sheet comes before a style attribute that is not.
  it('win over important rules', () => {
    const file = open(page('<p>Loud</p>', 'p{color:red!important}'));
    const [p] = wordsIn(file.document) as [FramedItem];
    const out = text(file.write(withItem(file.document, inked(p, '#22302f'))));
    expect(out).toContain('<p style="color:#22302f !important">');
    expect(runsOf(wordsIn(open(out).document)[0]!)[0]!.paint).toMatchObject({ colour: '#22302f' });
  });

  it.each([
    ['other words', (i: FramedItem) => withRuns(i, (run) => ({ ...run, text: 'Else' })), /cannot|not be others/],
    ['another place', (i: FramedItem) => ({ ...i, turn: 5 }), /stay where/],
    [
      'a gradient',
      (i: FramedItem) =>
        withRuns(i, (run) => ({
          ...run,
          paint: {
            kind: 'linear',
            angle: 0,
            stops: [
              { at: 0, colour: '#000000', opacity: 1 },
              { at: 1, colour: '#ffffff', opacity: 1 },
            ],
          },
        })),
      /one colour/,
    ],
  ] as const)('refuse %s', (_, change, message) => {
    const file = open(page('<p>Words</p>'));
    const [p] = wordsIn(file.document) as [FramedItem];
    expect(() => file.write(withItem(file.document, change(p)))).toThrow(message);
    expect(() => file.write(withItem(file.document, change(p)))).toThrow(GableError);
  });

  it('stay underlined by the link round them', () => {
    const file = open(page('<a href="x"><h3>Read on</h3></a>'));
    const [h3] = wordsIn(file.document) as [FramedItem];
    expect(runsOf(h3)[0]!.underline).toBe(true);
    expect(() =>
      file.write(
        withItem(
          file.document,
          withRuns(h3, (r) => ({ ...r, underline: false })),
        ),
      ),
    ).toThrow(/link/);
  });

  it('bear their names in the page as it is laid out', () => {
    const file = open(page('<h1>One</h1><p>Two</p>'));
    const [one, two] = wordsIn(file.document).map((i) => i.id);
    expect(file.markup!(1)).toContain(`<h1 data-own="${one}">One</h1><p data-own="${two}">`);
  });

  it('are changed by the operations that screens and recipes use', () => {
    const file = open(page('<p>Words</p>'));
    const [p] = wordsIn(file.document) as [FramedItem];
    const { text: value } = inked(p, '#b5482a');
    const { document } = apply(file.document, { op: 'set', id: p.id, path: 'text', value });
    expect(text(file.write(document))).toContain('<p style="color:#b5482a">Words</p>');
  });
});

import { baseKeymap, splitBlockAs } from 'prosemirror-commands';
import { history, redo, undo } from 'prosemirror-history';
import { keymap } from 'prosemirror-keymap';
import { Fragment, Schema, Slice, type Attrs, type Mark, type Node } from 'prosemirror-model';
import { EditorState, Plugin, TextSelection, type Command } from 'prosemirror-state';
import { Decoration, DecorationSet, EditorView } from 'prosemirror-view';
import { equal, setIn, type Text } from '@gable/core';
import { ALIGN, colourOf, lineOf } from '../page/set-words';

type Paragraph = Text['paragraphs'][number];
type Run = Paragraph['runs'][number];
/** How letters look. */
export type Look = Omit<Run, 'text'>;

const lookOf = ({ text, ...look }: Run): Look => {
  void text;
  return look;
};

/** CSS of letters, which take the font of the field where they name none; `--k` is how many CSS pixels a point has. */
const styleOf = ({ font, size, weight, italic, underline, paint }: Look): string =>
  [
    `font-family:${font === '' ? 'inherit' : setIn(font).css}`,
    `font-size:calc(var(--k) * ${size}px)`,
    `font-weight:${weight}`,
    `font-style:${italic ? 'italic' : 'normal'}`,
    `text-decoration:${underline ? 'underline' : 'none'}`,
    `color:${colourOf(paint)}`,
  ].join(';');

/** A paragraph that comes from nowhere. */
const PLAIN: Look = {
  ...{ font: '', size: 12, weight: 400, italic: false, underline: false },
  paint: { kind: 'solid', colour: '#000000', opacity: 1 },
};

/** Paragraphs of letters and hard breaks; letters bear one mark, which is all of their look. */
const schema = new Schema({
  nodes: {
    doc: { content: 'paragraph+' },
    paragraph: {
      content: 'inline*',
      // All that is said of a paragraph but its runs, and how letters look where it has none.
      attrs: { of: { default: { align: 'start' } }, look: { default: PLAIN } },
      parseDOM: [{ tag: 'p' }],
      toDOM: ({ attrs }) => {
        const of = attrs['of'] as Omit<Paragraph, 'runs'>;
        const look = attrs['look'] as Look;
        const line = lineOf({ ...of, runs: [{ ...look, text: '' }] });
        const above = `margin-top:calc(var(--k) * ${of.spacing?.before ?? 0}px)`;
        return ['p', { style: `text-align:${ALIGN[of.align]};line-height:${line};${above};${styleOf(look)}` }, 0];
      },
    },
    text: { group: 'inline' },
    hard_break: { group: 'inline', inline: true, selectable: false, leafText: () => '\n', toDOM: () => ['br'] },
  },
  marks: {
    look: { attrs: { look: {} }, toDOM: ({ attrs }) => ['span', { style: styleOf(attrs['look'] as Look) }, 0] },
  },
});
const { paragraph: PARAGRAPH, hard_break: BREAK } = schema.nodes;
const { look: LOOK } = schema.marks;

/** Attributes of a paragraph without its level. */
function noHeading(attrs: Attrs): Attrs {
  const { level, ...of } = attrs['of'] as Omit<Paragraph, 'runs'>;
  void level;
  return { ...attrs, of };
}

const marked = (look: Look): Mark => LOOK.create({ look });

function nodeOf({ runs, ...of }: Paragraph, usual: Look): Node {
  const inline = runs.flatMap((run) => {
    const marks = [marked(lookOf(run))];
    return run.text
      .split('\n')
      .flatMap((words, i) => [
        ...(i > 0 ? [BREAK.create(null, null, marks)] : []),
        ...(words === '' ? [] : [schema.text(words, marks)]),
      ]);
  });
  return PARAGRAPH.create({ of, look: runs[0] ? lookOf(runs[0]) : usual }, inline);
}

function docOf({ paragraphs }: Text): Node {
  const usual = lookOf(paragraphs.flatMap((p) => p.runs)[0]!);
  return schema.nodes.doc.create(
    null,
    paragraphs.map((p) => nodeOf(p, usual)),
  );
}

const lookAt = (marks: readonly Mark[]): Look | undefined => LOOK.isInSet(marks)?.attrs['look'] as Look | undefined;

/** The look of letters, or that of a paragraph without any; what was typed into an empty one may bear none of its own. */
const lookOn = (node: Node, parent: Node | null): Look | null =>
  (node.isInline ? (lookAt(node.marks) ?? parent?.attrs['look']) : node.attrs['look']) as Look | null;

function paragraphOf(node: Node): Paragraph {
  const usual = node.attrs['look'] as Look;
  const runs: Run[] = [];
  node.forEach((child) => {
    const look = lookAt(child.marks) ?? usual;
    const text = child.isText ? child.text! : '\n';
    const last = runs.at(-1);
    if (last && equal(lookOf(last), look)) last.text += text;
    else runs.push({ ...look, text });
  });
  return { ...(node.attrs['of'] as Omit<Paragraph, 'runs'>), runs: runs.length > 0 ? runs : [{ ...usual, text: '' }] };
}

/** What is told of what is typed. */
export interface Heard {
  /** The words are others now. @param high how high they are set, in CSS pixels */
  changed(text: Text, high: number): void;
  /** Other letters are marked. @param look of the first of them; null where none are, or all */
  marked(look: Look | null): void;
  /** The author is done. */
  done(): void;
}

/** Words that are typed where they stand, each letter with its own look. */
export class WordsEditor {
  private readonly view: EditorView;
  private readonly split: Command;

  /** @param field the element that becomes the editor */
  constructor(
    field: HTMLElement,
    private text: Text,
    private readonly heard: Heard,
  ) {
    this.split = splitting(text.paragraphs);
    const plugins = [
      keymap({
        Escape: () => this.end(),
        'Mod-Enter': () => this.end(),
        Enter: this.split,
        'Shift-Enter': (state, dispatch) => {
          dispatch?.(state.tr.replaceSelectionWith(BREAK.create()).scrollIntoView());
          return true;
        },
        'Mod-z': undo,
        'Shift-Mod-z': redo,
        'Mod-y': redo,
        'Mod-b': () => this.toggle((look) => look.weight >= 600, { weight: 700 }, { weight: 400 }),
        'Mod-i': () => this.toggle((look) => look.italic, { italic: true }, { italic: false }),
        'Mod-u': () => this.toggle((look) => look.underline, { underline: true }, { underline: false }),
      }),
      keymap(baseKeymap),
      history(),
      markedStaysSeen(),
    ];
    this.view = new EditorView(
      { mount: field },
      {
        state: EditorState.create({ doc: docOf(text), plugins }),
        dispatchTransaction: (tr) => {
          const before = this.view.state;
          this.view.updateState(before.apply(tr));
          if (tr.docChanged) this.tell();
          if (tr.docChanged || !before.selection.eq(this.view.state.selection))
            heard.marked(this.isAll() ? null : this.look());
        },
        handlePaste: (view, event) => {
          const words = event.clipboardData?.getData('text/plain') ?? '';
          if (words !== '') view.dispatch(view.state.tr.replaceSelection(plain(words, view.state)).scrollIntoView());
          return true;
        },
        // Nothing comes in by the mouse that was not typed here.
        handleDrop: (_view, _event, _slice, isMoved) => !isMoved,
      },
    );
    this.all();
  }

  /** Marks all words. */
  all(): void {
    const { doc, tr } = this.view.state;
    this.view.dispatch(tr.setSelection(TextSelection.between(doc.resolve(0), doc.resolve(doc.content.size))));
    this.view.focus();
  }

  /** Puts words in the place of what is marked, as if they were typed. */
  type(words: string): void {
    for (const [i, line] of words.split('\n').entries()) {
      if (i > 0) this.split(this.view.state, this.view.dispatch);
      if (line !== '') this.view.dispatch(this.view.state.tr.insertText(line));
    }
  }

  /** The look of the first letter that is marked; null where none is. */
  private look(): Look | null {
    const { selection, doc } = this.view.state;
    if (selection.empty) return null;
    let look: Look | null = null;
    doc.nodesBetween(selection.from, selection.to, (node, _at, parent) => {
      if (node.isInline) look ??= lookOn(node, parent);
      return look === null;
    });
    return look;
  }

  private isAll(): boolean {
    const { selection, doc } = this.view.state;
    return doc.textBetween(0, selection.from) === '' && doc.textBetween(selection.to, doc.content.size) === '';
  }

  /** Gives the marked letters, or those to be typed next, another look in part. */
  restyle(part: Partial<Look>): void {
    const { selection, doc, tr, storedMarks } = this.view.state;
    if (selection.empty) {
      const now = lookAt(storedMarks ?? selection.$from.marks()) ?? (selection.$from.parent.attrs['look'] as Look);
      this.view.dispatch(tr.setStoredMarks([marked({ ...now, ...part })]));
      return;
    }
    const { from, to } = selection;
    doc.nodesBetween(from, to, (node, at, parent) => {
      const look = lookOn(node, parent);
      if (!look) return;
      if (!node.isInline) {
        const isAll = from <= at + 1 && to >= at + node.nodeSize - 1;
        if (isAll) tr.setNodeAttribute(at, 'look', { ...look, ...part });
      } else tr.addMark(Math.max(from, at), Math.min(to, at + node.nodeSize), marked({ ...look, ...part }));
    });
    this.view.dispatch(tr);
  }

  private toggle(has: (look: Look) => boolean, on: Partial<Look>, off: Partial<Look>): true {
    const { $from } = this.view.state.selection;
    const next = lookAt(this.view.state.storedMarks ?? $from.marks()) ?? ($from.parent.attrs['look'] as Look);
    this.restyle(has(this.look() ?? next) ? off : on);
    return true;
  }

  /** Takes words that were changed elsewhere; what is marked stays so where it can. */
  take(text: Text): void {
    if (equal(this.text, text)) return;
    this.text = text;
    const { doc, tr, selection } = this.view.state;
    tr.replaceWith(0, doc.content.size, docOf(text).content);
    const end = tr.doc.content.size;
    const [anchor, head] = [Math.min(selection.anchor, end), Math.min(selection.head, end)];
    tr.setSelection(TextSelection.between(tr.doc.resolve(anchor), tr.doc.resolve(head)));
    this.view.updateState(this.view.state.apply(tr));
  }

  destroy(): void {
    this.view.destroy();
  }

  private end(): true {
    this.heard.done();
    return true;
  }

  private tell(): void {
    const paragraphs: Paragraph[] = [];
    this.view.state.doc.forEach((node) => paragraphs.push(paragraphOf(node)));
    this.text = { ...this.text, paragraphs };
    this.heard.changed(this.text, this.view.dom.offsetHeight);
  }
}

/** A new paragraph: at the end of all in the look of the one that stood there, else in that of the one before it. */
const splitting = (lines: readonly Paragraph[]): Command => {
  return (state, dispatch) => {
    const { $from, $to } = state.selection;
    const there = lines[$from.index(0) + 1];
    const isLast = $to.pos === state.doc.content.size - 1 && $from.index(0) === state.doc.childCount - 1;
    const next = isLast && there ? nodeOf(there, $from.parent.attrs['look'] as Look).attrs : null;
    // A line that is begun behind a heading is none.
    const split = splitBlockAs((node, atEnd) => ({
      type: node.type,
      attrs: atEnd ? noHeading(next ?? node.attrs) : (next ?? node.attrs),
    }));
    return split(
      state,
      dispatch &&
        ((tr) => {
          const marks = state.storedMarks ?? ($to.parentOffset > 0 ? $from.marks() : []);
          tr.ensureMarks(next ? [marked(next['look'] as Look)] : marks);
          dispatch(tr);
        }),
    );
  };
};

/** Plain words in the look of the letters that they stand in the place of. */
function plain(words: string, { selection, storedMarks }: EditorState): Slice {
  const { $from, $to } = selection;
  const marks = storedMarks ?? ($from.pos === $to.pos ? $from.marks() : ($from.marksAcross($to) ?? []));
  const lines = words
    .replace(/\r\n?/g, '\n')
    .replace(/\n$/, '')
    .split('\n')
    .map((line) => PARAGRAPH.create($from.parent.attrs, line === '' ? null : schema.text(line, marks)));
  return new Slice(Fragment.from(lines), 1, 1);
}

/** Shows which letters are marked while a field of the band is used. */
function markedStaysSeen(): Plugin<boolean> {
  const plugin: Plugin<boolean> = new Plugin<boolean>({
    state: { init: () => false, apply: (tr, away) => (tr.getMeta(plugin) as boolean | undefined) ?? away },
    props: {
      decorations: (state) => {
        const { from, to } = state.selection;
        return plugin.getState(state) && from < to
          ? DecorationSet.create(state.doc, [
              Decoration.inline(from, to, { style: 'background:color-mix(in srgb, var(--mark) 25%, transparent)' }),
            ])
          : null;
      },
      handleDOMEvents: {
        focus: (view) => view.dispatch(view.state.tr.setMeta(plugin, false)),
        blur: (view) => view.dispatch(view.state.tr.setMeta(plugin, true)),
      },
    },
  });
  return plugin;
}

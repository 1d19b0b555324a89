import { parseXml, decodeXml, type Element } from '../src/index';
import { child, encodeXml, prefixFor } from '../src/xml/located';
import { Splice } from '../src/xml/splice';

const code = (f: () => unknown): string => {
  try {
    f();
  } catch (error) {
    return (error as { code: string }).code;
  }
  return 'no error';
};
const all = (e: Element): Element[] => [e, ...e.children.flatMap(all)];

describe('places of elements', () => {
  test.each([
    ['plain', '<a><b x="1"/><c>t</c></a>'],
    ['CRLF and comments', '<?xml version="1.0"?>\r\n<a>\r\n<!-- <b/> -->\r\n<b\r\n  x = "1"\r\n/><c >t</c ></a>'],
    ['a byte-order mark', '\ufeff<a><b x="1"/><c>t</c></a>'],
    ['astral characters', '<a>😀<b x="😀😀"/>𝄞<c>😀</c></a>'],
    ['CDATA and prefixes', '<p:a xmlns:p="u"><p:b x="1"/><![CDATA[<p:b/>]]><p:c>t</p:c></p:a>'],
  ])('hold with %s', (_name, text) => {
    const root = parseXml(text, 'x');
    for (const e of all(root)) {
      const own = text.slice(e.start, e.end);
      expect(own.startsWith(`<${e.name}`)).toBe(true);
      expect(own.endsWith(e.openEnd === e.end ? '/>' : '>')).toBe(true);
      expect(text[e.openEnd - 1]).toBe('>');
      if (e.openEnd !== e.end) expect(text.slice(e.closeStart, e.closeStart + 2)).toBe('</');
    }
    expect(all(root).map((e) => e.local)).toEqual(['a', 'b', 'c']);
  });

  test('too many elements are refused before they are parsed; what comments and CDATA hold is none', () => {
    expect(code(() => parseXml(`<r>${'<a/>'.repeat(1_000_000)}</r>`, 'x'))).toBe('too-many-elements');
    const none = '<a'.repeat(1_000_001);
    for (const text of [`<!--${none}-->`, `<![CDATA[${none}]]>`, `<?p ${none}?>`])
      expect(all(parseXml(`<r>${text}<b/></r>`, 'x'))).toHaveLength(2);
  });

  test('decoding and encoding give back the same bytes in UTF-8 and both UTF-16s', () => {
    const utf8 = Buffer.from('\ufeff<a>é😀</a>', 'utf8');
    const le = Buffer.from('\ufeff<a>é😀</a>', 'utf16le');
    const be = Buffer.from(le).swap16();
    for (const bytes of [utf8, le, be]) expect(Buffer.from(encodeXml(decodeXml(bytes, 'x')))).toEqual(bytes);
    expect(code(() => decodeXml(new Uint8Array([0x3c, 0xff, 0xfe]), 'x'))).toBe('xml-encoding');
  });

  test('finds the prefix that is bound where an element stands', () => {
    const root = parseXml('<a xmlns:d="one"><b xmlns:d="two" xmlns="one"><c/></b></a>', 'x');
    const c = root.children[0]!.children[0]!;
    expect(prefixFor(c, 'two')).toBe('d');
    expect(prefixFor(c, 'one')).toBe('');
    expect(prefixFor(root, 'one')).toBe('d');
    expect(prefixFor(root, 'three')).toBeNull();
  });
});

describe('refused XML', () => {
  test('document types, and so entities', () => {
    expect(code(() => parseXml('<!DOCTYPE a [<!ENTITY e "x">]><a>&e;</a>', 'x'))).toBe('xml-dtd');
    expect(code(() => parseXml('<a>&e;</a>', 'x'))).toBe('xml-broken');
  });

  test('nesting without end', () => {
    expect(code(() => parseXml('<a>'.repeat(300) + '</a>'.repeat(300), 'x'))).toBe('xml-too-deep');
  });

  test.each(['<a>', '<a></b>', 'text', '', '<a x=1/>', '<a><b></a>', '<p:a/>'])(
    '%s is broken, and it says where',
    (text) => {
      expect(code(() => parseXml(text, 'x'))).toBe('xml-broken');
    },
  );
});

describe('splicing', () => {
  const text = `<a  k='v' >\n  <b x = "1" y='&lt;2'/><c>t</c>\n</a>`;
  const root = parseXml(text, 'x');
  const b = child(root, 'b')!;
  const c = child(root, 'c')!;

  test('attributes are set, added and removed; the rest of the tag stays to the character', () => {
    const s = new Splice(text);
    s.attribute(b, 'x', '5 < 6 & "7"');
    s.attribute(b, 'z', 'new');
    s.attribute(b, 'y', '<2');
    expect(s.apply()).toBe(`<a  k='v' >\n  <b x="5 &lt; 6 &amp; &quot;7&quot;" y='&lt;2' z="new"/><c>t</c>\n</a>`);
    const t = new Splice(text);
    t.attribute(root, 'k', null);
    expect(t.apply()).toBe(text.replace("  k='v' >", ' >'));
  });

  test('a value that is there already is no change', () => {
    const s = new Splice(text);
    s.attribute(b, 'x', '1');
    expect(s.empty).toBe(true);
    expect(s.apply()).toBe(text);
  });

  test('children go where the content model has them, also into an empty element', () => {
    const s = new Splice(text);
    s.slot(root, ['n'], ['c'], '<n/>');
    s.slot(root, ['c'], [], null);
    s.slot(root, ['last'], [], '<last/>');
    s.slot(b, ['in'], [], '<in/>');
    s.attribute(b, 'x', '2');
    expect(s.apply()).toBe(`<a  k='v' >\n  <b x="2" y='&lt;2'><in/></b><n/>\n<last/></a>`);
  });

  test('changes that overlap are a fault', () => {
    const s = new Splice(text);
    s.replace(root, '<z/>');
    s.replace(c, '<y/>');
    expect(() => s.apply()).toThrow(/overlap/);
  });
});

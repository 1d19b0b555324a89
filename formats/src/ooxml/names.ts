/** Namespaces of ISO/IEC 29500, transitional and strict, and relationship types by their last word. */
const pair = (transitional: string, strict: string): ReadonlySet<string> => new Set([transitional, strict]);

export const NS = {
  word: pair(
    'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
    'http://purl.oclc.org/ooxml/wordprocessingml/main',
  ),
  drawing: pair('http://schemas.openxmlformats.org/drawingml/2006/main', 'http://purl.oclc.org/ooxml/drawingml/main'),
  picture: pair(
    'http://schemas.openxmlformats.org/drawingml/2006/picture',
    'http://purl.oclc.org/ooxml/drawingml/picture',
  ),
  wordDrawing: pair(
    'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing',
    'http://purl.oclc.org/ooxml/drawingml/wordprocessingDrawing',
  ),
  presentation: pair(
    'http://schemas.openxmlformats.org/presentationml/2006/main',
    'http://purl.oclc.org/ooxml/presentationml/main',
  ),
  sheetDrawing: pair(
    'http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing',
    'http://purl.oclc.org/ooxml/drawingml/spreadsheetDrawing',
  ),
  spreadsheet: pair(
    'http://schemas.openxmlformats.org/spreadsheetml/2006/main',
    'http://purl.oclc.org/ooxml/spreadsheetml/main',
  ),
  relationships: pair(
    'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
    'http://purl.oclc.org/ooxml/officeDocument/relationships',
  ),
  compatibility: new Set(['http://schemas.openxmlformats.org/markup-compatibility/2006']),
} as const;

/** A namespace for writing: transitional, or strict. */
export const namespaceOf = (of: Exclude<keyof typeof NS, 'compatibility'>, strict: boolean): string =>
  [...NS[of]][strict ? 1 : 0]!;

export const isStrict = (uri: string): boolean => uri.startsWith('http://purl.oclc.org/');

/** `…/relationships/header` and its strict twin both give `header`. */
export const relationshipKind = (type: string): string => type.slice(type.lastIndexOf('/') + 1);

/** Kinds that Gable opens as documents; everything else that is dropped is taken for a picture. */
const KINDS =
  'docx docm dotx dotm pptx pptm potx potm ppsx ppsm xlsx xlsm xltx xltm odt ott odp otp ods ots odg otg svg html htm xhtml zip'.split(
    ' ',
  );
const DOCUMENT = new RegExp(`\\.(${KINDS.join('|')})$`, 'i');
/** For choosing from disk. */
export const DOCUMENTS = KINDS.map((k) => `.${k}`).join(',');
export const PICTURES = '.jpg,.jpeg,.png,.webp,.avif,.gif,.tif,.tiff,.svg';

const VIDEOS = '.mp4,.m4v,.webm';
/** What can be put into a frame. */
export const MEDIA = `${PICTURES},${VIDEOS}`;

/** A document's name without its kind. */
export const withoutKind = (name: string): string => name.replace(DOCUMENT, '');
export const isDocument = (file: File): boolean => DOCUMENT.test(file.name) && !/\.svg$/i.test(file.name);

/** A drawing that holds pictures is opened as a file; any other is a picture itself. */
export async function holdsPictures(file: File): Promise<boolean> {
  return /\.svg$/i.test(file.name) && /<(\w+:)?image[\s>]/.test(await file.text());
}
export const isPicture = (file: File): boolean =>
  file.type.startsWith('image/') || /\.(jpe?g|png|webp|avif|gif|tiff?|svg)$/i.test(file.name);
export const isVideo = (file: File): boolean =>
  /^video\/(mp4|webm|x-m4v)$/.test(file.type) || /\.(mp4|m4v|webm)$/i.test(file.name);
export const isMedia = (file: File): boolean => isPicture(file) || isVideo(file);

/** What was dropped: files, and all files of dropped folders, in the order of their names. */
export async function filesOf(transfer: DataTransfer): Promise<File[]> {
  // The list is emptied as soon as the event is over: everything is taken out of it first.
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry?.() ?? null);
  const plain = [...transfer.files];
  if (!entries.some((e) => e?.isDirectory)) return plain;
  const found = await Promise.all(entries.filter((e) => e !== null).map(within));
  return found.flat();
}

/** What the dropped files are in, if that is one folder. */
export function folderOf(transfer: DataTransfer): string | null {
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry?.() ?? null);
  return entries.length === 1 && entries[0]?.isDirectory ? entries[0].name : null;
}

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile)
    return new Promise((resolve) => {
      (entry as FileSystemFileEntry).file(
        (f) => resolve([f]),
        () => resolve([]),
      );
    });
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: FileSystemEntry[] = [];
  // A folder is told in parts, until a part is empty.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((resolve) => {
      reader.readEntries(resolve, () => resolve([]));
    });
    if (part.length === 0) break;
    all.push(...part);
  }
  all.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  return (await Promise.all(all.filter((e) => !e.name.startsWith('.')).map(within))).flat();
}

/** Is a dialog open? Then keys and pastes are its own. */
export const isBusy = (): boolean => document.querySelector('dialog[open]') !== null;

/** What was pasted for the screen: files, or a picture copied from another program; nothing where somebody types. */
export const pastedFiles = (event: ClipboardEvent): File[] =>
  isTyping(event.target) || isBusy() ? [] : [...(event.clipboardData?.files ?? [])];

/** Is somebody typing there? Then a key or a paste is not for us. */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement ||
    (target instanceof HTMLInputElement && !['range', 'checkbox', 'radio', 'button'].includes(target.type)));

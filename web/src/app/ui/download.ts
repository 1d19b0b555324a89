import { toProblem, type Problem } from '../api/problem';

/** Lets the browser fetch a file of the server and keep it. */
export function fetchFile(url: string, name: string): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

/** Gives a file to the browser to keep. */
export function download(file: Blob, name: string): void {
  const url = URL.createObjectURL(file);
  fetchFile(url, name);
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** What went wrong with a file that was asked for: the reason arrives as bytes, too. */
export async function readable(error: unknown): Promise<Problem> {
  const body = (error as { error?: unknown } | null)?.error;
  if (!(body instanceof Blob)) return toProblem(error);
  try {
    const { code, title, detail, facts } = JSON.parse(await body.text()) as Record<string, string> & {
      facts: Problem['facts'];
    };
    return {
      code: code ?? 'internal',
      title: title ?? 'The file could not be made.',
      remedy: detail ?? 'Try again.',
      facts,
    };
  } catch {
    return toProblem(null);
  }
}

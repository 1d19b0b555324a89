/** Facts that go with an error: whatever a caller or an interface needs to say more. */
export type Facts = Record<string, string | number | boolean | null>;

/**
 * Every error code, with what programs make of it: the HTTP status (422, a file that cannot be used, if none is given) and
 * the exit code of the command line (1, the file is at fault, if none is given; 2, the call is).
 */
export const ERRORS = {
  'bad-aim': { exit: 2 },
  'bad-call': { exit: 2 },
  'bad-cell': { exit: 2 },
  'bad-colour': { exit: 2 },
  'bad-document': {},
  'bad-finish': { exit: 2 },
  'bad-fit': { exit: 2 },
  'bad-font': {},
  'bad-geometry': {},
  'bad-keep': { exit: 2 },
  'bad-knob': { exit: 2 },
  'bad-length': { exit: 2 },
  'bad-letters': { exit: 2 },
  'bad-outline': { exit: 2 },
  'bad-operation': { status: 409 },
  'bad-output': { exit: 2 },
  'bad-overstep': { exit: 2 },
  'bad-page': {},
  'bad-palette': { exit: 2 },
  'bad-part-name': {},
  'bad-path': {},
  'bad-pick': { exit: 2 },
  'bad-place': { exit: 2 },
  'bad-ppi': { exit: 2 },
  'bad-ratio': { exit: 2 },
  'bad-recipe': {},
  'bad-request': { status: 400 },
  'bad-shadow': { exit: 2 },
  'bad-size': { exit: 2 },
  'bad-svg': {},
  'bad-tone': { exit: 2 },
  'bad-zoom': { exit: 2 },
  'broken-picture': {},
  busy: { status: 503 },
  cancelled: {},
  'cannot-write': {},
  'cannot-write-file': { exit: 2 },
  'damaged-part': {},
  'damaged-zip': {},
  'database-away': { status: 503 },
  'duplicate-part': {},
  'empty-file': {},
  'empty-frame': {},
  'empty-silhouette': {},
  encrypted: {},
  folder: {},
  'gave-up': {},
  'has-file': { status: 409 },
  'incomplete-request': { status: 400 },
  'inflates-too-much': {},
  internal: {},
  'legacy-office': {},
  'linked-picture': {},
  'missing-blob': { status: 404 },
  'missing-part': {},
  'missing-picture': {},
  'no-file': { status: 409 },
  'no-margin': {},
  'no-pictures': {},
  'no-space': { status: 507 },
  'no-subject': {},
  'no-such-file': { exit: 2 },
  'no-such-item': { status: 404 },
  'no-such-page': {},
  'no-such-part': { status: 416 },
  'no-such-picture': { status: 404, exit: 2 },
  'not-a-document': {},
  'not-captions': {},
  'not-a-picture': {},
  'not-a-video': {},
  'not-a-zip': {},
  'not-found': { status: 404 },
  'not-ready': { status: 409 },
  'nothing-around': {},
  'overlapping-parts': {},
  'stale-revision': { status: 409 },
  'too-deep': {},
  'too-heavy': {},
  'too-large': { status: 413 },
  'too-many-elements': {},
  'too-many-parts': {},
  'too-many-pictures': {},
  'too-many-pixels': {},
  'too-many-rules': {},
  'too-many-tiles': {},
  'took-too-long': {},
  truncated: {},
  'undrawable-picture': {},
  'unknown-knob': { exit: 2 },
  'unknown-shape': { exit: 2 },
  'unsupported-compression': {},
  'unsupported-encoding': { status: 415 },
  'unsupported-format': {},
  'wrong-host': { status: 403 },
  'wrong-origin': { status: 403 },
  'xml-broken': {},
  'xml-dtd': {},
  'xml-encoding': {},
  'xml-too-deep': {},
} as const satisfies Record<string, { status?: number; exit?: 2 }>;

export type ErrorCode = keyof typeof ERRORS;

const of = (code: ErrorCode): { status?: number; exit?: 2 } => ERRORS[code];
/** HTTP status of an error (RFC 9110). */
export const statusOf = (code: ErrorCode): number => of(code).status ?? 422;
export const exitCodeOf = (code: ErrorCode): number => of(code).exit ?? 1;

/**
 * An error that a person can act on. `message` says what is wrong and where; `remedy` says what to do.
 * `code` is stable and meant for programs (kebab-case), `facts` carries the figures behind the message.
 */
export class GableError extends Error {
  override readonly name = 'GableError';

  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly remedy: string,
    readonly facts: Facts = {},
    options?: ErrorOptions,
  ) {
    super(message, options);
  }

  /** Message and remedy as one paragraph. */
  get full(): string {
    return `${this.message} ${this.remedy}`;
  }
}

/** Facts that go with an error: whatever a caller or an interface needs to say more. */
export type Facts = Record<string, string | number | boolean | null>;

/**
 * An error that a person can act on. `message` says what is wrong and where; `remedy` says what to do.
 * `code` is stable and meant for programs (kebab-case), `facts` carries the figures behind the message.
 */
export class GableError extends Error {
  override readonly name = 'GableError';

  constructor(
    readonly code: string,
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

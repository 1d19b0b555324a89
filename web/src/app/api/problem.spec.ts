import { HttpErrorResponse } from '@angular/common/http';
import { toProblem } from './problem';

describe('what went wrong, as it is shown', () => {
  test('a problem of the server keeps its words and facts (RFC 9457)', () => {
    const error = { code: 'stale-revision', title: 'Changed elsewhere.', detail: 'Choose.', facts: { revision: 3 } };
    const expected = { code: 'stale-revision', title: 'Changed elsewhere.', remedy: 'Choose.', facts: { revision: 3 } };
    expect(toProblem(new HttpErrorResponse({ status: 409, error }))).toEqual(expected);
    expect(toProblem(new HttpErrorResponse({ status: 409, error: JSON.stringify(error) }))).toEqual(expected);
  });

  test('a server that is away says what happens to the work', () => {
    expect(toProblem(new HttpErrorResponse({ status: 0 }))).toMatchObject({
      code: 'offline',
      remedy: expect.stringContaining('changes stay here') as string,
    });
  });

  test('anything else is told without its insides', () => {
    for (const error of [new Error('secret'), null, new HttpErrorResponse({ status: 502, error: '<html>' })])
      expect(toProblem(error)).toMatchObject({ code: 'internal', title: 'Something went wrong.' });
  });
});

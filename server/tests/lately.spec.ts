import { Lately } from '../src/features/lately';

const text = (): Lately<string> => new Lately<string>(10, (s) => s.length);

test('makes a thing once for all who ask, and again when it was let go', async () => {
  const kept = text();
  let made = 0;
  const make = (s: string) => async (): Promise<string> => {
    made++;
    return s;
  };
  expect(await Promise.all([kept.get('a', make('aaaa')), kept.get('a', make('other'))])).toEqual(['aaaa', 'aaaa']);
  await kept.get('b', make('bbbb'));
  await kept.get('a', make('?'));
  // Room for ten: the one that was asked for longest ago goes.
  await kept.get('c', make('cccc'));
  expect([await kept.get('a', make('?')), await kept.get('b', make('new')), made]).toEqual(['aaaa', 'new', 4]);
});

test('what fails is not kept', async () => {
  const kept = text();
  await expect(kept.get('a', () => Promise.reject(new Error('no')))).rejects.toThrow('no');
  expect(await kept.get('a', () => Promise.resolve('yes'))).toBe('yes');
});

import { shownTime } from './time';

test.each([
  [0, '0:00.0'],
  [4.35, '0:04.3'],
  [59.99, '0:59.9'],
  [60, '1:00'],
  [125.6, '2:05'],
  [3601, '60:01'],
])('%s seconds are %s', (seconds, shown) => {
  expect(shownTime(seconds)).toBe(shown);
});

/** Keys that come before their field are neither lost nor heard by anything else. */
import { TypedAhead } from './typed-ahead';

let awaited = true;
let ends = 0;
const ahead = new TypedAhead(
  () => awaited,
  () => ends++,
);
const heard: string[] = [];
const stop = ahead.listen(document);
document.body.addEventListener('keydown', ({ key }) => heard.push(key));
afterAll(() => stop());
beforeEach(() => {
  [awaited, ends, heard.length] = [true, 0, 0];
  ahead.take();
});
const press = (keys: readonly string[], on: Element = document.body, more: KeyboardEventInit = {}): void => {
  for (const key of keys)
    on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
};

test('letters, lines and corrections are kept, once', () => {
  press([...'A bowk', 'Backspace', 'l', 'Enter', 'Shift', 'É', '𝄞', 'Backspace', '!']);
  expect(ahead.take()).toBe('A bowl\nÉ!');
  expect(ahead.take()).toBe('');
  expect(heard).toEqual(['Shift']);
});

test('Escape ends it before the field is there', () => {
  press(['a', 'Escape']);
  expect(ends).toBe(1);
});

test('what is for a field, a command, or comes while no field is awaited goes where it belongs', () => {
  const field = document.body.appendChild(document.createElement('input'));
  press(['1'], field);
  press(['z'], document.body, { ctrlKey: true });
  awaited = false;
  press(['Escape', 'b']);
  expect(heard).toEqual(['1', 'z', 'Escape', 'b']);
  expect([ahead.take(), ends]).toEqual(['', 0]);
});

/** Fields in which somebody has typed something that has not been taken yet. */
const begun = new WeakSet<EventTarget>();

document.addEventListener('input', ({ target }) => target && begun.add(target), true);
for (const kind of ['change', 'focusout'] as const)
  document.addEventListener(kind, ({ target }) => target && begun.delete(target), true);
document.addEventListener('keydown', ({ key, target }) => {
  if (target && (key === 'Enter' || key === 'Escape')) begun.delete(target);
});

/** Is there unsaved typing in this field? Then undo is the field's own. */
export const hasBegunTyping = (target: EventTarget | null): boolean => target !== null && begun.has(target);

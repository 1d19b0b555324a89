/** Properties of the shapes and words that a file has itself which can be others: what they say, and what they are, stays. */
export const LOOKS = ['fill', 'outline', 'text', 'at', 'turn'] as const;

/** Is a property, or a part of one, among these? @param path as in an operation that sets it */
export const isLook = (path: string): boolean => LOOKS.some((look) => path === look || path.startsWith(`${look}.`));

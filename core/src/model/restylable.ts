/** What of pages can look otherwise in a kind of file: see `Capabilities.restyles` of its codec. */
export type Restyles = 'shapes' | 'all' | null;
/** Can its own shapes and words look otherwise? */
export const restylesShapes = (r: Restyles): boolean => r !== null;
/** Can the colour behind a page be another? */
export const restylesGround = (r: Restyles): boolean => r === 'all';

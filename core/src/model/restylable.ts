/** What of pages can look otherwise in a kind of file: see `Capabilities.restyles` of its codec. */
export type Restyles = 'ground' | 'all' | null;

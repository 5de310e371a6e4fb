/** Where a page's questions go, and what goes with each: an address, a saved page, or one being built. */
export type Asking = { path: string; with: object };

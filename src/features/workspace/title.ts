/** What a page is called in the browser's tab. */
export const titleOf = (name: string): string => `${name} · Next Ledger`;

/** From so many rows on a table is large: then the columnar copy is made, and asked. */
export const LARGE = Number(process.env.NEXT_LEDGER_LARGE ?? 50_000);

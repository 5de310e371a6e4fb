/** In a rollup's query, the id of the row the figure belongs to. */
export const PARENT = "^";

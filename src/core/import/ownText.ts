/** A text of its own: one that is a part of a larger text keeps all of that in memory. */
export const ownText = (value: string): string => JSON.parse(JSON.stringify(value)) as string;

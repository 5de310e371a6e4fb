/** The texts of a letter, in the order they stand on its first page. */
export const TEXTS = ["letterhead", "address", "body", "foot"] as const;

export type TextName = (typeof TEXTS)[number];

export const LETTER_FORMATS = ["pdf", "zip"] as const;

export type LetterFormat = (typeof LETTER_FORMATS)[number];

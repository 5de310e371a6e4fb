/** The texts of a letter, in the order they stand on its first page. */
export const TEXTS = ["letterhead", "address", "body", "foot"] as const;

export type TextName = (typeof TEXTS)[number];

export const LETTER_FORMATS = ["pdf", "zip"] as const;

export type LetterFormat = (typeof LETTER_FORMATS)[number];

/** Where an address stands behind the window of an envelope, in mm from the top and left edges of the paper. */
export type AddressWindow = {
  words: string;
  top: number;
  left: number;
  width: number;
  /** How many lines of the address are seen. */
  lines: number;
  /** Where the text of the letter begins at the earliest. */
  body: number;
  /** Where the paper is folded. */
  folds: readonly number[];
};

/**
 * DIN 5008:2020, forms A and B: a field of 85 × 45 mm whose lower 27.3 mm hold the address, 17.7 mm under its upper edge, and
 * folds at 87 and 192, or 105 and 210 mm. The window of a No. 10 envelope for a sheet folded in three: from memory, common
 * practice of the trade, not from a standard.
 */
export const ADDRESS_WINDOWS = {
  dinA: { words: "DIN 5008 form A", top: 44.7, left: 25, width: 80, lines: 6, body: 80.5, folds: [87, 192] },
  dinB: { words: "DIN 5008 form B", top: 62.7, left: 25, width: 80, lines: 6, body: 98.5, folds: [105, 210] },
  us10: { words: "US No. 10", top: 50.8, left: 24, width: 100, lines: 6, body: 89, folds: [93.1, 186.3] },
} as const satisfies Record<string, AddressWindow>;
export type AddressWindowName = keyof typeof ADDRESS_WINDOWS;
export const ADDRESS_WINDOW_NAMES = Object.keys(ADDRESS_WINDOWS) as [AddressWindowName, ...AddressWindowName[]];

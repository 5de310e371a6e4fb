/** How many texts are waited for at most: a page that takes none of them is not followed for ever. */
const MOST = 200;

/** One more text that an editor told the page, of which the page has not shown all yet. */
export const withTold = (told: string[], text: string): string[] => [...told, text].slice(-MOST);

/**
 * What a page gives back to an editor while somebody types: a text that the editor told it a moment ago is behind what
 * stands in the editor now, and must not be put in its place.
 * @param told what the editor told, oldest first
 * @returns what the page has still to show; null where the text is another one, which is to be put into the editor
 */
export function afterShown(told: string[], text: string): string[] | null {
  const at = told.lastIndexOf(text);
  return at < 0 ? null : told.slice(at + 1);
}

/** What keys are typed into: they mean their letters there. A sheet's cells are typed into too. */
export const TYPED_INTO = "input, textarea, select, [contenteditable=true], [role=grid], .cm-content";

type Key = Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey">;

/** What a key types into find-or-do while it is still on its way to the browser; nothing for keys that type nothing. */
export const typedAhead = ({ key, ctrlKey, metaKey, altKey }: Key): string => ([...key].length === 1 && !ctrlKey && !metaKey && !altKey ? key : "");

/**
 * What a key does on every page.
 * @param typing whether it is typed into a field
 * @returns null where it does nothing
 */
export function frameKey({ key, ctrlKey, metaKey, altKey }: Key, typing: boolean): "find" | "help" | null {
  if ((ctrlKey || metaKey) && key.toLowerCase() === "k") return "find";
  return key === "?" && !typing && !ctrlKey && !metaKey && !altKey ? "help" : null;
}

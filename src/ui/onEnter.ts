import type { KeyboardEvent } from "react";

/**
 * A key handler that acts on Enter. The key goes no further: a popover that closes gives focus back to its button,
 * which would otherwise take the same Enter and open it again.
 */
export const onEnter = (act: (event: KeyboardEvent) => void) => (event: KeyboardEvent) => {
  if (event.key !== "Enter") return;
  event.preventDefault();
  act(event);
};

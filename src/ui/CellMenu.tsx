import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { type KeyboardEvent, type ReactNode, type SyntheticEvent, useEffect, useRef } from "react";

export type CellMenuProps = {
  label: string;
  /** It opens by itself, as asked for by a right click or a key. */
  opening: boolean;
  onOpened: () => void;
  /** The focus goes back to the sheet. */
  onClosed: () => void;
  content: (close: () => void) => ReactNode;
};

/** What is done in the menu of a cell is not done to the cell. */
const within = (event: SyntheticEvent) => event.stopPropagation();

/** The button of the cell that has the focus, and the popover it opens. */
export function CellMenu({
  label,
  opening,
  onOpened,
  onClosed,
  content,
  right = false,
}: CellMenuProps & { /** The cell's text stands at its right. */ right?: boolean }) {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!opening) return;
    if (button.current?.getAttribute("aria-expanded") !== "true") button.current?.click();
    onOpened();
  }, [opening, onOpened]);
  return (
    <Popover
      as="span"
      className={`absolute inset-y-0 flex items-center ${right ? "left-0.5" : "right-0.5"}`}
      onMouseDown={within}
      onDoubleClick={within}
      onContextMenu={within}
      onKeyDown={(event: KeyboardEvent) => {
        within(event);
        // Once it is closed.
        if (event.key === "Escape") setTimeout(onClosed);
      }}
    >
      <PopoverButton ref={button} tabIndex={-1} aria-label={label} className="small-button rounded bg-sheet text-faint hover:text-bottle data-open:text-bottle">
        ▾
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 4, padding: 12 }} focus className="popover">
        {({ close }) => (
          <>
            {content(() => {
              close();
              onClosed();
            })}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

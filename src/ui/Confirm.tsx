import type { ReactNode } from "react";
import { BriefPopover } from "./Brief";

type Props = { label: string; button: string; act: () => void; children: ReactNode };

/** A button that says in a popover what it will do, and does it at a second press there. */
export const Confirm = ({ label, button, act, children }: Props) => (
  <BriefPopover label={label} className="button-primary">
    {(close) => (
      <div className="grid gap-2">
        <p>{children}</p>
        <button
          type="button"
          className="button-primary justify-self-start"
          onClick={() => {
            close();
            act();
          }}
        >
          {button}
        </button>
      </div>
    )}
  </BriefPopover>
);

"use client";

import { useState } from "react";
import { ShareButton } from "./people/ShareButton";
import { COMMON } from "./words";
import { PlaceName } from "./workspace/PageHeading";

/** The name of a saved object as the page's heading; it is renamed where it stands. */
export function SavedName({
  id,
  name,
  onRename,
  shared = true,
}: {
  id: string | null;
  name: string;
  onRename: (name: string) => void;
  /** Whether it is one person's, to be shared with others. */
  shared?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  function finish(): void {
    const next = typed?.trim() ?? "";
    setTyped(null);
    if (next !== "" && next !== name) onRename(next);
  }
  return (
    <span className="flex min-w-0 flex-wrap items-center gap-3">
      <PlaceName name={name || COMMON.withoutName} />
      <h1 className="min-w-0">
        <input
          aria-label={COMMON.name}
          placeholder={COMMON.withoutName}
          value={typed ?? name}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={finish}
          onKeyDown={(e) => {
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") {
              setTyped(null);
            }
          }}
          // As wide as its words, where the browser can; else about so.
          size={Math.max(12, (typed || name || COMMON.withoutName).length)}
          className="max-w-full min-w-24 rounded [field-sizing:content] bg-transparent font-serif text-title font-semibold hover:bg-sheet focus:bg-sheet"
        />
      </h1>
      {id !== null && shared && name !== "" && <ShareButton id={id} />}
    </span>
  );
}

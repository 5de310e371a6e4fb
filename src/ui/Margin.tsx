"use client";

import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { ChevronDoubleLeftIcon, ChevronDoubleRightIcon } from "@heroicons/react/16/solid";
import { type ReactNode, useState } from "react";
import { WORDS } from "./words";

/** The panel on the right of a page, with its parts as tabs; it folds away. */
export function Margin({
  parts,
  selected,
  onSelect,
}: {
  parts: { name: string; content: ReactNode }[];
  selected?: number;
  onSelect?: (index: number) => void;
}) {
  const [open, setOpen] = useState(true);
  if (!open)
    return (
      <aside className="w-8 shrink-0 border-l-[3px] border-double border-column bg-paper">
        <button type="button" onClick={() => setOpen(true)} className="w-full py-3" aria-label={WORDS.showMargin}>
          <ChevronDoubleLeftIcon className="mx-auto size-4" />
        </button>
      </aside>
    );
  return (
    <aside
      aria-label={WORDS.margin}
      className="flex w-70 shrink-0 flex-col border-l-[3px] border-double border-column bg-paper max-[1100px]:w-62 max-md:hidden"
    >
      <TabGroup
        className="flex min-h-0 flex-1 flex-col"
        {...(selected === undefined ? {} : { selectedIndex: selected })}
        {...(onSelect ? { onChange: onSelect } : {})}
      >
        <div className="flex border-b border-rule px-4 pt-3 max-[1100px]:px-3">
          <TabList className={`flex ${parts.length > 4 ? "gap-2 text-small max-[1100px]:gap-1.5 max-[1100px]:text-tiny" : "gap-3 max-[1100px]:gap-2.5"}`}>
            {parts.map((part) => (
              <Tab
                key={part.name}
                className="border-b-2 border-transparent pb-2 text-soft data-selected:border-bottle data-selected:font-semibold data-selected:text-ink"
              >
                {part.name}
              </Tab>
            ))}
          </TabList>
          <button type="button" onClick={() => setOpen(false)} className="small-button ml-auto" aria-label={WORDS.hideMargin}>
            <ChevronDoubleRightIcon className="size-4" />
          </button>
        </div>
        <TabPanels className="min-h-0 flex-1 overflow-auto px-4 py-4">
          {parts.map((part) => (
            <TabPanel key={part.name}>{part.content}</TabPanel>
          ))}
        </TabPanels>
      </TabGroup>
    </aside>
  );
}

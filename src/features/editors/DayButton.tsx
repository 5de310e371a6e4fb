"use client";

import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { CalendarIcon } from "@heroicons/react/16/solid";
import dynamic from "next/dynamic";
import { WORDS } from "./words";

const DayGrid = dynamic(() => import("./DayGrid"), { ssr: false });

/** Opens a calendar beside a field. */
export function DayButton({ label, day, choose }: { label: string; day: string; choose: (day: string) => void }) {
  return (
    <Popover className="absolute right-0.5">
      <PopoverButton
        aria-label={WORDS.calendarOf(label)}
        className="flex size-7 items-center justify-center rounded text-soft hover:bg-bottle-tint hover:text-bottle"
      >
        <CalendarIcon className="size-4" />
      </PopoverButton>
      <PopoverPanel anchor="bottom end" className="popover w-auto p-2">
        {({ close }) => (
          <DayGrid
            day={day}
            choose={(next) => {
              choose(next);
              close();
            }}
          />
        )}
      </PopoverPanel>
    </Popover>
  );
}

"use client";

import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";
import { COMMON } from "./words";

/** What is asked before something is made, at the side of the page it is made from. */
export const SidePanel = ({ title, close, children }: { title: string; close: () => void; children: ReactNode }) => (
  <Dialog open onClose={close} className="relative z-50">
    <DialogPanel className="fixed inset-y-0 right-0 w-96 max-w-full overflow-auto border-l-[3px] border-double border-column bg-paper px-5 py-4 shadow-lg">
      <div className="flex items-start justify-between gap-3 pb-3">
        <DialogTitle className="font-serif text-[1.125rem] font-semibold">{title}</DialogTitle>
        <button type="button" className="small-button" aria-label={COMMON.close} onClick={close}>
          ×
        </button>
      </div>
      {children}
    </DialogPanel>
  </Dialog>
);

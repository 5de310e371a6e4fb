"use client";

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { Schema } from "@/core/schema/schema";
import { ask } from "../ask";
import { COMMON } from "../words";
import { useSignedIn } from "../workspace/person";

type Item = { key: string; name: string; kind: string; href: string };

const DOING: Item[] = [
  { key: "new query", name: COMMON.newQuery, kind: "do", href: "/queries" },
  { key: "new pivot", name: COMMON.newPivot, kind: "do", href: "/pivots" },
  { key: "new chart", name: COMMON.newChart, kind: "do", href: "/charts" },
  { key: "new dashboard", name: COMMON.newDashboard, kind: "do", href: "/dashboards" },
  { key: "new report", name: COMMON.newReport, kind: "do", href: "/reports" },
  { key: "new letter", name: COMMON.newLetter, kind: "do", href: "/letters" },
  { key: "new page", name: COMMON.pageBreak, kind: "do", href: "/pages" },
  { key: "new schedule", name: COMMON.newSchedule, kind: "do", href: "/schedules?new=1" },
  { key: "new posting", name: COMMON.newPosting, kind: "do", href: "/postings" },
  { key: "import", name: COMMON.importFile, kind: "do", href: "/tables" },
  { key: "outbox", name: COMMON.outbox, kind: "do", href: "/outbox" },
];
const PEOPLE: Item = { key: "people", name: COMMON.peopleRowRulesLog, kind: "do", href: "/people" };
const ACCOUNT: Item = { key: "me", name: COMMON.myAccount, kind: "do", href: "/me" };
type Saved = { id: string; kind: "query" | "pivot" | "chart" | "dashboard" | "report" | "letter" | "page" | "schedule" | "posting"; name: string };
const FOUND = new Set<string>(["query", "pivot", "chart", "dashboard", "report", "letter", "page", "schedule", "posting"]);

const PLACES: Record<Saved["kind"], (id: string) => string> = {
  query: (id) => `/queries/${id}`,
  pivot: (id) => `/pivots/${id}`,
  chart: (id) => `/charts/${id}`,
  dashboard: (id) => `/dashboards/${id}`,
  report: (id) => `/reports/${id}`,
  letter: (id) => `/letters/${id}`,
  page: (id) => `/pages/${id}`,
  schedule: () => "/schedules",
  posting: (id) => `/postings/${id}`,
};

const savedItem = ({ id, kind, name }: Saved): Item => ({ key: id, name, kind, href: PLACES[kind](id) });
const tableItem = ({ name, label }: Schema["tables"][number]): Item => ({
  key: `table ${name}`,
  name: label,
  kind: "table",
  href: `/tables/${encodeURIComponent(name)}`,
});

/** Finds a saved object or a table by its name, or something to do. */
export function FindOrDo({ close }: { close: () => void }) {
  const router = useRouter();
  const [wanted, setWanted] = useState("");
  const [items, setItems] = useState<Item[]>([]);
  useEffect(() => {
    const saved = ask<Saved[]>("/api/objects").then((all) => all.filter((o) => FOUND.has(o.kind)).map(savedItem));
    const tables = ask<Schema>("/api/schema").then((schema) => schema.tables.map(tableItem));
    Promise.all([saved.catch(() => []), tables.catch(() => [])]).then((found) => setItems(found.flat()));
  }, []);
  const { person, role } = useSignedIn();
  const doing = [...(role === "viewer" ? [] : DOING), ...(role === "owner" ? [PEOPLE] : []), ...(person ? [ACCOUNT] : [])];
  const words = wanted.trim().toLowerCase();
  const begins = (i: Item) => Number(i.name.toLowerCase().startsWith(words));
  const found = [...items, ...doing]
    .filter((i) => `${i.name} ${i.kind}`.toLowerCase().includes(words))
    .sort((a, b) => begins(b) - begins(a))
    .slice(0, 14);
  const go = (item: Item | null) => {
    if (!item) return;
    close();
    router.push(item.href);
  };
  return (
    <Dialog open onClose={close} className="relative z-50">
      <div className="fixed inset-0 bg-ink/20" aria-hidden="true" />
      <DialogPanel className="fixed inset-x-4 top-20 mx-auto max-w-lg rounded-lg border border-rule bg-sheet p-2 shadow-xl">
        <Combobox<Item | null> value={null} onChange={go} immediate>
          <ComboboxInput
            autoFocus
            aria-label={COMMON.findOrDo}
            placeholder={COMMON.findOrDoHint}
            className="w-full bg-sheet px-3 py-2 text-brief"
            onChange={(e) => setWanted(e.target.value)}
          />
          <ComboboxOptions static modal={false} className="max-h-80 overflow-auto border-t border-hairline pt-1">
            {found.map((item) => (
              <ComboboxOption key={item.key} value={item} className="menu-item flex justify-between">
                {item.name} <span className="text-soft">{item.kind}</span>
              </ComboboxOption>
            ))}
            {found.length === 0 && <p className="px-3 py-2 text-soft">{COMMON.noMatches}</p>}
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </Dialog>
  );
}

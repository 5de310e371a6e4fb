import dynamic from "next/dynamic";
import { useRouter } from "next/navigation";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { addressWith } from "@/core/query/address";
import { queryTableName } from "@/core/query/choices";
import type { Plan } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { copyText } from "../copyText";
import { type Deed, makeFile } from "../DeedsMenu";
import { useMakeFrom } from "../useMakeFrom";
import { COMMON } from "../words";
import { WORDS } from "./words";

const ExportPanel = dynamic(() => import("./ExportPanel").then((m) => m.ExportPanel), { loading: () => null });

const SaveAsTable = dynamic(() => import("./SaveAsTable").then((m) => m.SaveAsTable), { loading: () => null });

type Asked = {
  stored: { id: string | null; name: string };
  spec: QuerySpec;
  values: ParameterValues /** Whether there are rows to make a file of. */;
  ready: boolean;
  plan: Plan | null;
};

/** What can be made from a query: files of its rows as it stands, pages on it as it is saved, a copy, a link. */
export function useQueryDeeds({ stored: { id, name }, spec, values, ready, plan }: Asked): { deeds: Deed[]; panel: ReactNode } {
  const [open, setOpen] = useState<"export" | "table" | null>(null);
  const router = useRouter();
  const make = useMakeFrom();
  const file = { spec, values, name };
  const makeFrom = async (path: string, place: string, more: object = {}): Promise<void> => {
    if (id === null) return void toast(WORDS.saveTheQueryFirstWhat);
    await make(path, place, { query: id, ...more });
  };
  const deeds: Deed[] = [
    ...ROW_FORMATS.map((format) => ({
      words: COMMON.export(format.toUpperCase()),
      disabled: !ready,
      act: () => makeFile("/api/query/export", file, format),
    })),
    { words: WORDS.exportWithOptions, disabled: !ready, act: () => setOpen("export") },
    { words: `${WORDS.saveRowsAsTable}…`, disabled: !ready, act: () => setOpen("table") },
    { words: COMMON.newReport, act: () => void makeFrom("/api/report/new", "/reports", { values }) },
    { words: COMMON.newPivot, act: () => void makeFrom("/api/pivots/new", "/pivots") },
    { words: COMMON.newChart, act: () => void makeFrom("/api/charts/new", "/charts") },
    ...(id === null
      ? []
      : [
          { words: WORDS.newQueryFromThis, act: () => router.push(`/queries/new?from=${encodeURIComponent(queryTableName(id))}`) },
          { words: WORDS.copyLink, act: () => void copyText(window.location.origin + addressWith(`/queries/${id}`, values), WORDS.linkCopied) },
        ]),
    { words: WORDS.duplicate, act: () => void make("/api/objects", "/queries", { kind: "query", name: WORDS.copyOf(name), spec, numbered: true }) },
  ];
  const close = () => setOpen(null);
  const panel = open === "export" ? <ExportPanel {...{ file, plan, close }} /> : open === "table" ? <SaveAsTable {...{ file, close }} /> : null;
  return { deeds, panel };
}

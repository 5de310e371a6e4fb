"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import type { Entry } from "@/server/jobs/posting/journal";
import type { ShapeUses } from "@/server/services/shape/uses";
import { BriefPopover } from "@/ui/Brief";
import { ask, sentenceOf } from "../ask";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { UsesNotice } from "./UsesNotice";
import { WORDS } from "./words";

/** Deletes a table, after it is said what would stop working without it. */
export function DeleteTable({ table, rows }: { table: Table; rows: number }) {
  return (
    <BriefPopover label={WORDS.deleteTable} className="small-button mt-4 text-vermilion">
      {(close) => <Question table={table} rows={rows} close={close} />}
    </BriefPopover>
  );
}

function Question({ table, rows, close }: { table: Table; rows: number; close: () => void }) {
  const router = useRouter();
  const locale = useLocale();
  const [refused, setRefused] = useState<string | null>(null);
  const { answer } = useAnswer<ShapeUses>("/api/tables/uses", { table: table.name }, { settleMs: 0 });
  const drop = () =>
    ask<Entry>("/api/tables/drop", { table: table.name }).then(
      (entry) => {
        close();
        toast(WORDS.tableDeleted(entry.number));
        router.push(`/postings/entry/${entry.number}`);
        router.refresh();
      },
      (error) => setRefused(sentenceOf(error)),
    );
  return (
    <div className="grid w-80 gap-2">
      <p>{WORDS.deleteQuestion(table.label, counted(rows, "row", locale))}</p>
      <UsesNotice uses={answer} />
      {refused && <p className="text-small text-vermilion">{refused}</p>}
      <button type="button" className="button-primary justify-self-start" disabled={!answer} onClick={() => void drop()}>
        {COMMON.delete}
      </button>
    </div>
  );
}

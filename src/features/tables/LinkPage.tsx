"use client";

import { useRouter } from "next/navigation";
import { comparisonWords } from "@/core/brief/brief";
import { comparisons, findTable, type Schema, type Link as TableLink } from "@/core/schema/schema";
import type { LinkEvidence } from "@/server/jobs/links/evidence";
import { Notice } from "@/ui/Notice";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { PageHeading } from "../workspace/PageHeading";
import { EvidenceTable } from "./EvidenceTable";
import { removeLink } from "./removeLink";
import { WORDS } from "./words";

/** A link's page: what is compared, and the rows of either side that find one, none or several of the other. */
export function LinkPage({ link, schema }: { link: TableLink; schema: Schema }) {
  const router = useRouter();
  const [near, far] = [findTable(schema, link.a.table), findTable(schema, link.b.table)];
  const { a, b } = link;
  const operators = comparisons(link, "b").map((c) => c.operator);
  const evidence = useAnswer<LinkEvidence>("/api/links/evidence", { spec: { version: 1, a: endOf(a), b: endOf(b), operators } }, { settleMs: 0 });
  if (!near || !far) return null;
  const words = comparisons(link, "b").map((c) => comparisonWords(c, near, far));
  return (
    <div className="max-w-3xl px-8 py-6">
      <div className="flex flex-wrap items-center gap-3">
        <PageHeading name={WORDS.linkName(near.label, b.name)} />
        {link.madeBy === "person" && (
          <button
            type="button"
            className="button ml-auto text-vermilion"
            onClick={() => void removeLink(link.id, b.name, () => router.push(`/tables/${encodeURIComponent(near.name)}`))}
          >
            {COMMON.remove}
          </button>
        )}
      </div>
      <p className="py-2 text-brief">
        {words.join(COMMON.and)}. <span className="text-small text-soft">{link.madeBy === "person" ? WORDS.linkByPerson : WORDS.linkByKey}</span>
      </p>
      {evidence.failure && <Notice tone="wrong">{evidence.failure.message}</Notice>}
      {evidence.running && <p className="appear-late text-soft">{WORDS.comparingValues}</p>}
      {evidence.answer && <EvidenceTable evidence={evidence.answer} near={near} far={far} link={link.id} />}
      {evidence.answer && evidence.answer.a.twice > 0 && b.leadsTo === "one" && <Notice tone="wrong">{WORDS.oneIsMany(b.name)}</Notice>}
    </div>
  );
}

const endOf = ({ table, columns, name }: TableLink["a"]) => ({ table, columns, name });

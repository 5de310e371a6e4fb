"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { ask, sentenceOf } from "../ask";

/** The saved reports, and the queries a new one can be laid out from. */
export function ReportList({ reports, queries }: { reports: { id: string; name: string; query: string | null }[]; queries: { id: string; name: string }[] }) {
  const router = useRouter();
  async function make(query: { id: string; name: string }): Promise<void> {
    try {
      const report = await ask<{ id: string }>("/api/report/new", { query: query.id, values: {} });
      router.push(`/reports/${report.id}`);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-6xl gap-10 px-8 py-6 md:grid-cols-[2fr_1fr]">
        <section>
          <h1 className="pb-4 font-serif text-title font-semibold">Reports</h1>
          {reports.length === 0 && <p className="text-soft">No report yet. Choose a query on the right to lay out the first.</p>}
          <ul>
            {reports.map((r) => (
              <li key={r.id} className="border-t border-rule py-3">
                <Link href={`/reports/${r.id}`} className="link text-brief">
                  {r.name}
                </Link>
                <p className={r.query ? "text-soft" : "text-vermilion"}>{r.query ? `from ${r.query}` : "Its query is gone. Open it to choose another."}</p>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="pt-2 pb-3 font-serif text-[1.125rem] font-semibold">Lay out a query</h2>
          {queries.length === 0 && <p className="text-soft">Save a query first; a report prints its rows.</p>}
          <ul>
            {queries.map((q) => (
              <li key={q.id} className="border-t border-hairline py-1.5">
                <button type="button" className="link text-left" onClick={() => make(q)}>
                  {q.name}
                </button>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}

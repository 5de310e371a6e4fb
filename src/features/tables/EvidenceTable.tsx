"use client";

import type { LinkRows } from "@/core/query/linkRows";
import { plural, type Table } from "@/core/schema/schema";
import { writeCount } from "@/core/types/format";
import type { LinkEvidence, Matches } from "@/server/jobs/links/evidence";
import { Link } from "../Link";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** How many rows of either side find one, none or several of the other. @param link of one that is made, whose rows open */
export function EvidenceTable({ evidence, near, far, link }: { evidence: LinkEvidence; near: Table; far: Table; link: string | null }) {
  const locale = useLocale();
  const write = (n: number) => writeCount(n, locale);
  const opened = (toward: "a" | "b", rows: LinkRows, figure: number) =>
    link === null || figure === 0 ? (
      write(figure)
    ) : (
      <Link className="link" href={`/queries/new?${new URLSearchParams({ link, toward, rows })}`}>
        {write(figure)}
      </Link>
    );
  const side = (of: Table, other: Table, m: Matches, toward: "a" | "b") => (
    <tbody key={`${of.name} ${other.name}`}>
      <tr className="border-t border-ink">
        <th scope="row" className="py-0.5 text-left font-normal">
          {link === null ? (
            plural(of.label)
          ) : (
            <Link className="link" href={`/tables/${encodeURIComponent(of.name)}`}>
              {plural(of.label)}
            </Link>
          )}
        </th>
        <td className="text-right">{write(m.rows)}</td>
      </tr>
      {(
        [
          [WORDS.matchARowOf(other.label), m.found, "", "found"],
          [WORDS.matchNone, m.missing, m.missing > 0 ? "text-ochre" : "", "none"],
          [WORDS.matchSeveral, m.twice, m.twice > 0 ? "text-ochre" : "", "several"],
        ] as const
      ).map(([words, figure, tone, rows]) => (
        <tr key={words} className="text-soft">
          <th scope="row" className="py-0.5 pl-3 text-left font-normal">
            {words}
            {words === WORDS.matchNone && m.missed.length > 0 && (
              <span className="block text-tiny text-ochre">{`${m.missed.join(" · ")}${m.others ? " …" : ""}`}</span>
            )}
          </th>
          <td className={`text-right ${tone}`}>{opened(toward, rows, figure)}</td>
        </tr>
      ))}
    </tbody>
  );
  return (
    <div>
      <table className="w-full text-small" data-testid="link-evidence">
        {side(near, far, evidence.a, "b")}
        {side(far, near, evidence.b, "a")}
      </table>
      <p className="pt-1 text-small text-soft">
        {WORDS.leadsTo(
          evidence.a.twice > 0 || evidence.sampled ? "many" : "one",
          near.label,
          evidence.b.twice > 0 || evidence.sampled ? "many" : "one",
          far.label,
          evidence.sampled ? WORDS.countedOnTheFirst2 : "",
        )}
      </p>
    </div>
  );
}

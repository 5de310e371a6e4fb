import { comparisonsIn } from "@/core/query/conditions";
import { addPair } from "@/core/query/editJoins";
import { isLinked } from "@/core/query/joinWays";
import { tablesOfJoin } from "@/core/query/proposePairs";
import { findColumn, plural } from "@/core/schema/schema";
import { writeCount } from "@/core/types/format";
import type { ComparedPair } from "@/server/services/queries/pairs";
import { Choice, type EditorProps } from "../../editors/parts";
import { useAnswer } from "../../useAnswer";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

/** The comparisons that names and the data suggest, with the pairs each would make; one that is chosen is no longer among them. */
export function PairProposals({ spec, schema, change, join }: Pick<EditorProps, "spec" | "schema" | "change"> & { join: string }) {
  const locale = useLocale();
  const given = spec.joins.find((j) => j.id === join);
  const tables = tablesOfJoin(spec, schema, join);
  // What pairs come to hangs on the two tables alone: it is not asked again with every change of the query.
  const bare = given && { ...spec, joins: spec.joins.map((j) => (j === given && !isLinked(j) ? { ...j, on: [] } : j)), columns: [], conditions: [], order: [] };
  const { answer } = useAnswer<ComparedPair[]>("/api/query/pairs", tables ? { spec: bare, join, values: {} } : null);
  if (!given || isLinked(given) || !tables || !answer) return null;
  const taken = new Set(comparisonsIn(given.on).flatMap((c) => (c.left.kind === "field" ? c.values.map((v) => JSON.stringify([v, c.left])) : [])));
  const isTaken = (p: ComparedPair) =>
    taken.has(
      JSON.stringify([
        { kind: "field", join: given.from, column: p.near },
        { kind: "field", join, column: p.far },
      ]),
    );
  const open = answer.filter((p) => !isTaken(p));
  if (open.length === 0) return null;
  const written = new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 1 });
  const share = (part: number, table: typeof tables.near) => `${written.format(part)} of ${plural(table.label)}`;
  const label = (table: typeof tables.near, column: string) => findColumn(table, column)?.label ?? column;
  return (
    <>
      <p className="caption pb-1">{WORDS.proposedComparisons}</p>
      <div className="max-h-48 overflow-auto border-b border-hairline px-1 pb-1">
        {open.map((p) => (
          <Choice key={`${p.near} ${p.far}`} onClick={() => change(addPair(spec, join, p))}>
            {tables.far.label} › {label(tables.far, p.far)} = {tables.near.label} › {label(tables.near, p.near)}
            <span className="block text-small text-soft">
              {WORDS.proposedPairs(share(p.share, tables.near), share(p.farShare, tables.far), writeCount(p.pairs, locale))}
            </span>
          </Choice>
        ))}
      </div>
    </>
  );
}

import { useMemo } from "react";
import { resolveQuery } from "@/core/query/resolve";
import { SAMPLE_PAIRS, samplePairs } from "@/core/query/samplePairs";
import { usualDay } from "@/core/types/calendar";
import { cellWriter } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { EditorProps } from "../../editors/parts";
import { useAnswer } from "../../useAnswer";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

/** The first rows that a join's comparisons put together, so that nobody finds their direction by trial. */
export function SamplePairs({ spec, schema, join }: Pick<EditorProps, "spec" | "schema"> & { join: string }) {
  const locale = useLocale();
  const asked = useMemo(() => samplePairs(spec, join), [spec, join]);
  const plan = useMemo(() => {
    const resolved = asked && resolveQuery(asked, schema, { today: usualDay("2000-01-01"), values: {} });
    return resolved?.ok ? resolved.value : null;
  }, [asked, schema]);
  const { answer } = useAnswer<Cell[][]>("/api/query/rows", plan && { spec: asked, values: {}, offset: 0, rows: SAMPLE_PAIRS });
  if (!plan || !answer) return null;
  if (answer.length === 0) return <p className="pt-2 text-small text-soft">{WORDS.noPairs}</p>;
  const write = plan.columns.map((c) => cellWriter(c.type, c.format, locale));
  return (
    <table className="mb-2 w-full border-b border-hairline text-small">
      <caption className="caption pb-1 text-left">{WORDS.pairsForExample}</caption>
      <thead>
        <tr>
          {plan.columns.map((c) => (
            <th key={c.id} scope="col" className="pr-3 text-left font-semibold">
              {c.origin}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {answer.map((row, i) => (
          <tr key={`pair ${i}`} className="border-t border-hairline">
            {write.map((text, k) => (
              <td key={plan.columns[k]?.id} className="pr-3">
                {text(row[k] ?? null).text}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

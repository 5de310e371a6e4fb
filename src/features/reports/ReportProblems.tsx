import type { Part } from "@/core/report/page";
import { placeInReport } from "@/core/report/place";
import type { ReportSpec } from "@/core/report/spec";
import { Notice } from "@/ui/Notice";
import type { AskError } from "../ask";
import { columnName } from "./partName";
import type { ReportColumn } from "./reportColumn";

/** What stands in the way of a report, each with its place, which leads to the settings that mend it. */
export function ReportProblems({
  failure,
  spec,
  columns,
  select,
}: {
  failure: AskError;
  spec: ReportSpec;
  columns: ReportColumn[];
  select: (part: Part) => void;
}) {
  const { sentence, problems } = failure.body;
  return (
    <div className="mx-auto w-full max-w-xl">
      <Notice tone="wrong">
        {problems.length === 0
          ? sentence
          : problems.map((p) => {
              const { words, part } = placeInReport(p.path, spec, (id) => columnName(id, spec, columns));
              return (
                <p key={`${p.code} ${p.path.join(" ")}`}>
                  {part ? (
                    <button type="button" className="font-semibold underline" onClick={() => select(part)}>
                      {words}
                    </button>
                  ) : (
                    words
                  )}
                  {words && ": "}
                  {p.sentence}
                </p>
              );
            })}
      </Notice>
    </div>
  );
}

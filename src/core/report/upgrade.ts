/*
 * Saved reports of earlier versions, brought up to the one of today. What is no report of an earlier version is handed on
 * as it is: the schema says what is wrong with it.
 */

type First = {
  version: 1;
  levels: { column: string; heading: string; direction: string; newPage: boolean; keepRows: number; repeat: boolean }[];
  columns: { column: string; widthMm: number | null; footing: string }[];
  header: string;
  footer: string;
};

const isFirst = (saved: unknown): saved is First =>
  typeof saved === "object" &&
  saved !== null &&
  "version" in saved &&
  saved.version === 1 &&
  "levels" in saved &&
  Array.isArray(saved.levels) &&
  "columns" in saved &&
  Array.isArray(saved.columns);

/** Version 1 named columns by those of the query, and had one line of footings, of three figures. */
function fromFirst({ levels, columns, header, footer, ...rest }: First): unknown {
  const parts = (left: string, right = "") => ({ left, center: "", right });
  const foot = parts([footer, "{printed}"].filter(Boolean).join(" · "), "page {page} of {pages}");
  const named = columns.map(({ column, widthMm }, i) => ({
    id: columns.findIndex((c) => c.column === column) === i ? column : `${column} ${i}`,
    value: { kind: "field", column },
    widthMm,
  }));
  // A count under the first column was said in the line's text.
  const cells = columns.flatMap(({ footing }, i) =>
    footing === "none" || (footing === "count" && i === 0) ? [] : [[named[i]?.id ?? "", { kind: "figure", figure: footing }] as const],
  );
  return {
    ...rest,
    version: 2,
    levels: levels.map(({ column, ...level }) => ({ ...level, id: column, value: { kind: "field", column }, order: { by: "value" } })),
    columns: named,
    lines: [{ id: "footing", text: "", cells: Object.fromEntries(cells) }],
    shape: { kind: "table" },
    header: parts(header),
    footer: foot,
    ...(header ? { first: { header: parts(""), footer: foot } } : {}),
  };
}

/** A saved report as the version of today has it. */
export const upgradeReport = (saved: unknown): unknown => (isFirst(saved) ? fromFirst(saved) : saved);

import { emptyQuery } from "../src/core/query/empty";
import type { QueryColumn, QuerySpec } from "../src/core/query/spec";

/* Sales of shops, and what is asked of them, on whichever engine they lie. */

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const joined = { ...emptyQuery("sale"), joins: [{ id: "s", from: "", link: "sale.shop_id", toward: "b" as const, way: "keep" as const }] };
const group = (key: QueryColumn, figure: Omit<QueryColumn, "id">, more: Partial<QuerySpec> = {}): QuerySpec => ({
  ...joined,
  grouped: true,
  columns: [key, { id: "f", ...figure }],
  ...more,
});
const BY_REGION = { id: "r", value: field("region", "s") };

/** What is asked, and the same by hand in DuckDB's SQL, in which amounts are whole cents. */
export const QUESTIONS: [string, QuerySpec, string][] = [
  [
    "grouped over a join",
    group(BY_REGION, { value: field("amount"), figure: "total" }),
    "SELECT s.region, SUM(t.amount) FROM sale t LEFT JOIN shop s ON s.id = t.shop_id GROUP BY s.region ORDER BY 1",
  ],
  [
    "median",
    group(BY_REGION, { value: field("amount"), figure: "median" }),
    "SELECT s.region, median(t.amount) FROM sale t LEFT JOIN shop s ON s.id = t.shop_id GROUP BY s.region ORDER BY 1",
  ],
  [
    "different values",
    group({ id: "i", value: field("item") }, { value: field("shop_id"), figure: "countDifferent" }, { joins: [] }),
    "SELECT item, COUNT(DISTINCT shop_id) FROM sale GROUP BY item ORDER BY 1",
  ],
  [
    "by month, of a range",
    group(
      { id: "m", value: { ...field("day"), part: "month" } },
      { value: field("amount"), figure: "total" },
      {
        conditions: [
          {
            id: "w",
            left: field("amount"),
            operator: "between",
            values: [
              { kind: "value", text: "1000" },
              { kind: "value", text: "5000" },
            ],
          },
        ],
      },
    ),
    "SELECT date_trunc('month', day), SUM(amount) FROM sale WHERE amount BETWEEN 100000 AND 500000 GROUP BY 1 ORDER BY 1",
  ],
  [
    "the first 200 of a sort",
    {
      ...joined,
      columns: ["id", "day", "item", "amount"].map((c) => ({ id: c, value: field(c) })),
      order: [{ column: "amount", direction: "down" }],
      limit: 200,
    },
    "SELECT id, day, item, amount FROM sale ORDER BY amount DESC, id LIMIT 200",
  ],
];

/** A small query: the first rows as they lie. */
export const FIRST_ROWS: QuerySpec = { ...emptyQuery("sale"), columns: ["id", "amount"].map((c) => ({ id: c, value: field(c) })) };

const FIGURES = [
  { value: field("amount"), figure: "total" },
  { value: field("pieces"), figure: "total" },
  { value: null, figure: "count" },
  { value: field("amount"), figure: "average" },
] as const;

const KEYS: QueryColumn[] = [BY_REGION, { id: "m", value: { ...field("day"), part: "month" } }, { id: "i", value: field("item") }];

/** What the twelve tiles of a dashboard ask. */
export const TILES: QuerySpec[] = KEYS.flatMap((key) => FIGURES.map((figure) => group(key, figure)));

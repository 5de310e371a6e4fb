import type { DerivedFieldSpec } from "../src/core/derive/spec";
import { type Block, docOf, fieldOf, firstLetter, type Inline, type LetterSpec } from "../src/core/letter/spec";
import { emptyQuery } from "../src/core/query/empty";
import type { QuerySpec } from "../src/core/query/spec";

const field = (join: string, column: string) => ({ kind: "field" as const, join, column });
const parameter = (name: string) => ({ kind: "parameter" as const, name });

/** What a shipper owes: charges less payments and credit notes, worked out when read. */
export const balance: { id: string; label: string; spec: DerivedFieldSpec } = {
  id: "shipper-balance",
  label: "balance",
  spec: {
    version: 1,
    table: "shipper",
    unit: "EUR",
    definition: {
      kind: "rollup",
      step: { link: "account_entry.shipper_id", toward: "a" },
      query: { ...emptyQuery("account_entry"), grouped: true, columns: [{ id: "figure", value: field("", "amount"), figure: "total" }] },
    },
  },
};

/** Every shipper with its desk officer and what it owes. */
export const shippersAndDesks: QuerySpec = {
  ...emptyQuery("shipper"),
  joins: [{ id: "officer", from: "", link: "shipper.desk_officer_id", toward: "b", way: "keep" }],
  columns: [
    { id: "name", value: field("", "name") },
    { id: "island", value: field("", "island") },
    { id: "trade", value: field("", "trade") },
    { id: "officer", value: field("officer", "crew-printed-name"), label: "Desk officer" },
    { id: "balance", value: field("", balance.id), label: "Balance" },
    { id: "limit", value: field("", "credit_limit"), label: "Credit limit" },
    { id: "hold", value: field("", "on_hold"), label: "On hold" },
  ],
  order: [{ column: "name", direction: "up" }],
  parameters: [
    { name: "start", type: "date", default: { kind: "fixed", text: "2026-10-05" } },
    { name: "end", type: "date", default: { kind: "fixed", text: "2026-10-31" } },
  ],
};

const words = (text: string): Inline => ({ type: "text", text });
const strong = (text: string): Inline => ({ type: "text", text, marks: [{ type: "bold" }] });
const line = (...content: Inline[]): Block => ({ type: "paragraph", content });
const day = (formula: string): Inline => ({ type: "field", attrs: { formula, format: { date: "short" } } });

/** A statement of account to each shipper, with what was entered in the period; some had no entry. */
export const statementOfAccount = (query: string): LetterSpec => ({
  ...firstLetter(query, "Brindle Sound Ferries", []),
  letterhead: docOf(
    { type: "heading", attrs: { level: 1 }, content: [words("Brindle Sound Ferries")] },
    line(words("Freight office, Old Pier, Great Brindle")),
    { type: "horizontalRule" },
  ),
  address: docOf(line(fieldOf("name")), line(fieldOf("island"))),
  body: docOf(
    { type: "paragraph", attrs: { align: "right" }, content: [{ type: "field", attrs: { formula: "CURRENT_DATE", format: { date: "long" } } }] },
    { type: "heading", attrs: { level: 2 }, content: [words("Statement of account, "), fieldOf("name")] },
    line(words("Dear shipper,")),
    line(
      words("your account with us stands at "),
      strong("EUR "),
      fieldOf("balance", [{ type: "bold" }]),
      words(" today. You are looked after by "),
      fieldOf('"Desk officer"'),
      words("."),
    ),
    {
      type: "passage",
      attrs: { when: { kind: "formula", text: 'balance > 0.8 * "Credit limit"' } },
      content: [
        line(
          words("That is more than four fifths of your credit limit of EUR "),
          fieldOf('"Credit limit"'),
          words(". Please pay by "),
          day("CURRENT_DATE + INTERVAL '14' DAY"),
          words(", so that your goods go on sailing."),
        ),
      ],
    },
    {
      type: "passage",
      attrs: { when: { kind: "formula", text: '"On hold"' } },
      content: [line(strong("Your account is on hold: "), words("we carry your goods against payment at the quay only."))],
    },
    { type: "related", attrs: { table: "entries" } },
    {
      type: "passage",
      attrs: { when: { kind: "rows", table: "entries", some: false } },
      content: [line(words("Nothing was entered in your account from "), day(":start"), words(" to "), day(":end"), words("."))],
    },
    line(words("With kind regards,")),
    line(words("the freight office")),
  ),
  foot: docOf(line(words("Brindle Sound Ferries · an invented company on invented islands"))),
  tables: [
    {
      id: "entries",
      title: "Entered in your account",
      match: { kind: "link", step: { link: "account_entry.shipper_id", toward: "a" } },
      hideEmpty: true,
      query: {
        ...emptyQuery("account_entry"),
        conditions: [{ id: "period", left: field("", "entered_on"), operator: "between", values: [parameter("start"), parameter("end")] }],
        columns: [
          { id: "day", value: field("", "entered_on"), label: "Date" },
          { id: "kind", value: field("", "kind"), label: "Entry" },
          { id: "reference", value: field("", "reference"), label: "Reference" },
          { id: "amount", value: field("", "amount"), label: "Amount" },
        ],
        order: [{ column: "day", direction: "up" }],
      },
    },
  ],
  fileName: "name || ' ' || CURRENT_DATE",
});

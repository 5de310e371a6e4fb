import { expect, it } from "vitest";
import { sampleDerived, sampleSchema } from "../../../test/support/sample";
import { resolveQuery } from "../query/resolve";
import { usualDay } from "../types/calendar";
import { asChanged, CHANGED, differingRows } from "./changed";
import { withDerivedFields, withDraft } from "./derive";
import type { DerivedField } from "./spec";

const today = usualDay("2026-11-23");
const schema = withDerivedFields(sampleSchema, sampleDerived, today);
const now = sampleDerived.find((f) => f.id === "fees") as DerivedField;
const next = (definition: DerivedField["definition"]) => asChanged({ ...now, definition }, "fees, changed");
const made = (definition: DerivedField["definition"]) => differingRows(now, next(definition), schema, today);

it("asks for the rows in which a changed field differs from what it is today, beside it", () => {
  const spec = made({ kind: "formula", text: "price * 2" });
  expect(spec?.columns.map((c) => c.id)).toEqual(["fees", CHANGED]);
  const draft = next({ kind: "formula", text: "price * 2" });
  expect(spec && resolveQuery(spec, withDraft(schema, draft, today), { today, values: {} }).ok).toBe(true);
});
it("asks nothing where the two cannot be compared", () => {
  expect([made({ kind: "formula", text: "mark" }), made({ kind: "formula", text: "gone + 1" }), made({ kind: "formula", text: "" })]).toEqual([
    null,
    null,
    null,
  ]);
});

import fc from "fast-check";
import { it, expect } from "vitest";
import { withDerivedFields } from "@/core/derive/derive";
import { resolveQuery } from "@/core/query/resolve";
import { compileRows, compileFooting } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { recountRows } from "@/core/recount/recount";
import { cellOfValue } from "@/core/recount/value";
import { readRows } from "@/server/engine/readers";
import { tableReader } from "@/server/engine/tables";
import { specArbitrary } from "../support/arbitrary";
import { threeEngines } from "../support/engines";
import { sampleDerived, sampleRows, sampleSchema } from "../support/sample";
it("recount", async () => {
  const engines = await threeEngines(sampleSchema, sampleRows(1));
  const schema = withDerivedFields(sampleSchema, sampleDerived, "2026-11-23");
  let n=0;
  fc.assert(fc.property(specArbitrary, (spec) => {
    const r = resolveQuery(spec, schema, { today: "2026-11-23", values: {} });
    if (!r.ok) throw new Error(JSON.stringify(r.problems));
    const a = [...readRows(engines.lite, compileRows(r.value, sqlite))];
    const b = recountRows(r.value, tableReader(engines.lite)).map(row => row.map(cellOfValue));
    expect(b).toEqual(a); n++;
  }), { numRuns: 500, seed: 5 });
  console.log(n);
  await engines.close();
}, 120000);

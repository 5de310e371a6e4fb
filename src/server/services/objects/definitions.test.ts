import { readFileSync, writeFileSync } from "node:fs";
import { expect, it } from "vitest";
import { definitionsJsonSchema } from "./definitions";

const PUBLISHED = "docs/schema/definitions.schema.json";

it("publishes the shape of a file of definitions as it is (UPDATE_SCHEMA=1 writes it anew)", () => {
  const schema = JSON.stringify(definitionsJsonSchema(), null, 2);
  if (process.env.UPDATE_SCHEMA) writeFileSync(PUBLISHED, `${schema}\n`);
  expect(JSON.parse(readFileSync(PUBLISHED, "utf8"))).toEqual(JSON.parse(schema));
});

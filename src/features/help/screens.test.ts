import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { GUIDE_PAGES } from "@/core/help/guidePages";
import { guidePageFor, guidePageOf } from "./screens";

describe("the help of a screen", () => {
  it("is the page of the guide for its address", () => {
    expect(["/", "/queries/a1", "/tables/crate", "/tables/crate/folio", "/tables/import/x", "/outbox", "/nowhere"].map(guidePageFor)).toEqual([
      "desk",
      "queries",
      "tables",
      "folio",
      "import",
      "schedules",
      "README",
    ]);
  });
  it("has every page of the guide, and follows the links between them alone", () => {
    expect(
      readdirSync("docs/guide")
        .map((f) => f.replace(".md", ""))
        .sort(),
    ).toEqual([...GUIDE_PAGES].sort());
    expect(guidePageOf("prove.md#when")).toBe("prove");
    expect(guidePageOf("https://example.org/prove.md")).toBe(null);
    for (const page of GUIDE_PAGES)
      for (const [, href = ""] of readFileSync(`docs/guide/${page}.md`, "utf8").matchAll(/\]\(([^)]+\.md[^)]*)\)/g))
        expect([page, href, guidePageOf(href)]).not.toContain(null);
  });
});

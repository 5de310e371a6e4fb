import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { WholeFile, writeWhole } from "./files";
import { writeWorkbook } from "./workbook";

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "next-ledger-"));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe("a file that is written whole", () => {
  it("stands under its name only when it is done, and until then the one before it stands", () => {
    const path = join(folder, "deep", "out.csv");
    writeWhole(path, "old");
    const file = new WholeFile(path);
    file.write("né");
    file.write(Buffer.from("w"));
    expect(readFileSync(path, "utf8")).toBe("old");
    file.finish();
    expect([readFileSync(path, "utf8"), file.bytes]).toEqual(["néw", 4]);
    expect(readdirSync(join(folder, "deep"))).toEqual(["out.csv"]);
  });
  it("keeps pieces of every size in their order", () => {
    const path = join(folder, "out.csv");
    const pieces = [1, 65_535, 1, 65_536, 0, 7, 200_000, 3, 65_530, 9].map((size, at) => String.fromCharCode(97 + at).repeat(size));
    const file = new WholeFile(path);
    for (const piece of pieces) file.write(piece);
    file.finish();
    expect(readFileSync(path, "utf8") === pieces.join("")).toBe(true);
    expect(file.bytes).toBe(pieces.join("").length);
  });
  it("leaves nothing where it is given up, and what was there before", () => {
    const path = join(folder, "out.csv");
    writeWhole(path, "old");
    const file = new WholeFile(path);
    file.write("half");
    file.abandon();
    expect([readFileSync(path, "utf8"), readdirSync(folder)]).toEqual(["old", ["out.csv"]]);
  });
  it("fails with what the disk says, also where it fails only at the end", () => {
    symlinkSync("/dev/full", join(folder, "full.csv.part"));
    expect(() => writeWhole(join(folder, "full.csv"), "x")).toThrow("ENOSPC");
    expect(readdirSync(folder)).toEqual([]);
    // It cannot be moved into a place where a folder stands.
    const taken = join(folder, "taken");
    writeWhole(join(taken, "inside"), "x");
    expect(() => writeWhole(taken, "y")).toThrow(/EISDIR|ENOTEMPTY|EEXIST/);
    expect(readdirSync(folder)).toEqual(["taken"]);
  });
});

describe("a workbook", () => {
  const rows = (count: number) => async (workbook: Parameters<Parameters<typeof writeWorkbook>[1]>[0], breath: (rows: number) => Promise<void>) => {
    const sheet = workbook.addWorksheet("rows");
    let made = 0;
    for (; made < count; made++) {
      sheet.addRow([made]).commit();
      await breath(made + 1);
    }
    return made;
  };
  it("is there when it is done", async () => {
    expect(await writeWorkbook(join(folder, "out.xlsx"), rows(3))).toBe(3);
    expect(readdirSync(folder)).toEqual(["out.xlsx"]);
    // A ZIP archive begins with PK (APPNOTE.TXT 4.3.7)
    expect(readFileSync(join(folder, "out.xlsx")).subarray(0, 2).toString()).toBe("PK");
  });
  it("stops making rows once the disk is full, before it says so, and leaves nothing", async () => {
    const path = join(folder, "out.xlsx");
    symlinkSync("/dev/full", `${path}.part`);
    let made = 0;
    let ended = false;
    const filling = writeWorkbook(path, async (workbook, breath) => {
      const sheet = workbook.addWorksheet("rows");
      try {
        for (; made < 500_000; made++) {
          sheet.addRow(["a word that takes room", made]).commit();
          await breath(made + 1);
        }
      } finally {
        ended = true;
      }
    });
    await expect(filling).rejects.toThrow("ENOSPC");
    expect(ended).toBe(true);
    expect(made).toBeLessThan(500_000);
    expect(existsSync(path)).toBe(false);
    expect(readdirSync(folder)).toEqual([]);
  });
  it("leaves nothing where filling it fails, and what was there before", async () => {
    const path = join(folder, "out.xlsx");
    writeFileSync(path, "old");
    await expect(writeWorkbook(path, () => Promise.reject(new Error("no rows")))).rejects.toThrow("no rows");
    expect([readFileSync(path, "utf8"), readdirSync(folder)]).toEqual(["old", ["out.xlsx"]]);
  });
});

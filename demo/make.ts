import { existsSync, mkdirSync, renameSync, rmSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { USUAL_CALENDAR } from "../src/core/types/calendar";
import { Catalogue } from "../src/server/catalogue/catalogue";
import { generateCompany } from "./generate";
import { liveDemo } from "./life";
import { demoLogo } from "./logo";
import { saveDemoObjects } from "./objects";
import { saveDemoPeople } from "./people";
import { UNITS } from "./tables";

/**
 * Makes the demo company in a data folder, unless it is there: the business database, the saved objects, and what its people did in the
 * days before. With `--bare` nobody has done anything yet.
 */
const folder = resolve(process.argv[2] ?? "data");
const path = join(folder, "business.sqlite");
mkdirSync(folder, { recursive: true });
if (!existsSync(path)) {
  const part = `${path}.part`;
  rmSync(part, { force: true });
  const db = new Database(part);
  db.pragma("synchronous = OFF");
  generateCompany(db);
  db.close();
  renameSync(part, path);
}
const catalogue = new Catalogue(folder, resolve("src/server/catalogue/migrations"));
if (catalogue.setting("demo") === undefined) {
  for (const { table, column, unit } of UNITS) catalogue.setColumn(table, column, { unit });
  catalogue.setSetting("locale", { locale: "en-GB", zone: "Europe/Paris" });
  catalogue.setSetting("company", "Brindle Sound Ferries");
  catalogue.setSetting("logo", demoLogo());
  catalogue.setSetting("calendar", { ...USUAL_CALENDAR, yearStart: "04-01", holidays: ["2026-12-25", "2026-12-26", "2027-01-01"] });
  saveDemoObjects(catalogue);
  await saveDemoPeople(catalogue);
  catalogue.setSetting("demo", true);
  catalogue.close();
  if (!process.argv.includes("--bare")) await liveDemo(folder, path);
} else catalogue.close();

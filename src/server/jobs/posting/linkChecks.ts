import type { Stored } from "@/core/posting/coerce";
import type { PlanLink, TableLinks } from "@/core/posting/plan";
import { quoted } from "@/core/query/dialect/dialect";
import { type Column, plural } from "@/core/schema/schema";
import { type Connection, type Statement, tableSql } from "@/server/source/connection";
import { encodeImage, type Image } from "./target";

type Outward = { link: PlanLink; known: Map<string, boolean>; find: Statement };
type Inward = {
  link: PlanLink;
  at: number[] /** Of a link within the table: where a row says what it leads to. */;
  own: number[] | null;
  count: Statement;
};

const where = (columns: string[]) => columns.map((c) => `${quoted(c)} = ?`).join(" AND ");

/** Whether a change would leave a link leading nowhere, in either direction; the answer in words. */
export class LinkChecks {
  private readonly leadingOut: Outward[];
  private readonly leadingIn: Inward[];

  /** @param table its columns are in the order of its images */
  constructor(db: Connection, links: TableLinks, { name: table, columns }: { name: string; columns: Column[] }) {
    const at = (names: string[]) => names.map((name) => columns.findIndex((c) => c.name === name));
    this.leadingOut = links.outward.map((link) => ({
      link,
      known: new Map(),
      find: db.prepare(`SELECT 1 FROM ${tableSql(db, link.table)} WHERE ${where(link.far)} LIMIT 1`),
    }));
    this.leadingIn = links.inward.map((link) => ({
      link,
      at: at(link.far),
      own: link.table === table ? at(link.near) : null,
      count: db.prepare(`SELECT COUNT(*) FROM ${tableSql(db, link.table)} WHERE ${where(link.near)}`).pluck(),
    }));
  }

  /**
   * Why values may not be written: a row that they lead to is not there.
   * @param written what is written into a column; undefined where nothing is
   */
  outward(written: (column: string) => Stored | undefined): string | null {
    for (const { link, known, find } of this.leadingOut) {
      const values = link.near.map(written);
      if (values.some((v) => v === undefined || v === null)) continue;
      const key = JSON.stringify(values.map(String));
      const there = known.get(key) ?? find.get(values) !== undefined;
      known.set(key, there);
      if (!there) return `“${values.join(", ")}”: no such ${link.name}`;
    }
    return null;
  }

  /**
   * Why a row may not go, or not change its columns: rows elsewhere lead to it.
   * @param only the columns that change; all where the row goes
   */
  inward(image: Image, only?: string[]): string | null {
    for (const { link, at, own, count } of this.leadingIn) {
      if (only && !link.far.some((c) => only.includes(c))) continue;
      const values = (places: number[]): Image => places.map((i) => image[i] ?? null);
      // A row that leads to itself does not stand in its own way.
      const itself = !only && own !== null && !values(at).includes(null) && encodeImage(values(own)) === encodeImage(values(at)) ? 1 : 0;
      const rows = Number(count.get(values(at))) - itself;
      if (rows > 0) return `${rows} ${rows === 1 ? link.label : plural(link.label)} ${rows === 1 ? "leads" : "lead"} to it`;
    }
    return null;
  }
}

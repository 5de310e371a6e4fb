import { randomUUID } from "node:crypto";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type ReadTable, tablesToCopy } from "@/core/query/onCopy";
import type { Schema } from "@/core/schema/schema";
import { CopyReading } from "@/server/source/columnar/client";
import { serveReadings } from "@/server/source/columnar/serve";
import { ColumnarStore } from "@/server/source/columnar/store";
import { copyReader } from "@/server/source/read";
import type { Reader } from "@/server/source/reading";
import { versionOf } from "@/server/source/sqlite/version";

/** A database's columnar copy, asked over its socket as jobs ask it, however few rows there are. */
export async function copied(folder: string, database: string) {
  const store = await ColumnarStore.open(folder, database, 2);
  const socket = join(tmpdir(), `next-ledger-${randomUUID().slice(0, 12)}.sock`);
  const server = serveReadings(store, socket);
  const begin = (tables: ReadTable[]) => CopyReading.begin(socket, database, String(versionOf(database)), tables);
  return {
    store,
    socket,
    refresh: (schema: Schema) => store.refresh(tablesToCopy(schema, 0)),
    begin,
    /** Work over the copy; undefined where it has not the tables as the file is now. */
    read: async <T>(tables: ReadTable[], work: (reader: Reader) => Promise<T>): Promise<T | undefined> => {
      const copy = await begin(tables);
      if (!copy) return undefined;
      try {
        return await work(copyReader(copy));
      } finally {
        copy.close();
      }
    },
    close: () => {
      server.close();
      store.close();
    },
  };
}

import { isServer } from "./postgres/address";
import { ServerWatch } from "./postgres/watch";
import { fileStamp } from "./sqlite/fileStamp";
import type { Stamp } from "./stamp";

/** Looks whether a database has changed, for whoever keeps what was read of it. */
export type Watching = { stamp: () => Promise<Stamp>; close: () => void };

/** Of a file the shape is read from its values, so that any change may be one of the shape. */
const watchingFile = (path: string): Watching => ({
  async stamp() {
    const data = fileStamp(path);
    return { data, shape: data };
  },
  close() {},
});

export const watching = (database: string): Watching => (isServer(database) ? new ServerWatch(database) : watchingFile(database));

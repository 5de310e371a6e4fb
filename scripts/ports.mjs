import { createServer } from "node:net";

const isFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(null));
    probe.listen(port, "127.0.0.1", () => {
      const { port: found } = probe.address();
      probe.close(() => resolve(found));
    });
  });

/** The port asked for if it is free, else any free one. */
export const freePort = async (wanted) => (await isFree(wanted)) ?? (await isFree(0));

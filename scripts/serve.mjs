import { spawn } from "node:child_process";

/**
 * Starts the built application, on loopback unless told otherwise, and waits until it answers.
 * @returns {Promise<{ address: string, stop: () => Promise<void>, child: import("node:child_process").ChildProcess }>}
 */
export async function serve({ data, database, port, listen = "127.0.0.1", quiet = true, env = {} }) {
  const child = spawn(process.execPath, ["node_modules/next/dist/bin/next", "start", "--hostname", listen, "--port", String(port)], {
    stdio: ["ignore", quiet ? "ignore" : "inherit", "inherit"],
    env: {
      ...process.env,
      NODE_ENV: "production",
      NEXT_TELEMETRY_DISABLED: "1",
      NEXT_LEDGER_DATA: data,
      ...(database ? { NEXT_LEDGER_DATABASE: database } : {}),
      ...env,
    },
  });
  const address = `http://${listen === "0.0.0.0" ? "127.0.0.1" : listen}:${port}`;
  let ended = false;
  child.once("exit", () => (ended = true));
  for (let tries = 0; tries < 1200 && !ended; tries++) {
    const up = await fetch(`${address}/icon.svg`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return { address, child, stop: () => stopChild(child) };
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  child.kill();
  throw new Error("The application did not start; the lines above say why.");
}

const stopChild = (child) =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
    setTimeout(() => child.kill("SIGKILL"), 5000).unref();
  });

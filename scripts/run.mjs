import { spawn } from "node:child_process";

/**
 * Runs a command to its end. Quiet ones are heard only when they fail.
 * @returns {Promise<void>}
 */
export function run(command, args, { quiet = false, env = {} } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      stdio: quiet ? ["ignore", "pipe", "pipe"] : "inherit",
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1", ...env },
    });
    let output = "";
    child.stdout?.on("data", (chunk) => (output += chunk));
    child.stderr?.on("data", (chunk) => (output += chunk));
    child.on("error", reject);
    child.on("exit", (code) => {
      if (code === 0) return resolve();
      if (quiet) process.stderr.write(output);
      reject(new Error(`“${[command, ...args].join(" ")}” failed (exit ${code}).`));
    });
  });
}

/** Says a step in one plain line. */
export const say = (words) => console.log(words);

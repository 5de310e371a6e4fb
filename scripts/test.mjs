import { buildApplication, installPackages, installTestTools } from "./install.mjs";
import { run, say } from "./run.mjs";

const step = async (words, command, ...args) => {
  say(words);
  await run(command, args, { quiet: true });
};

try {
  await installPackages();
  await installTestTools();
  await step("Checking lint, format and the direction of imports…", "npx", "biome", "check", ".");
  await buildApplication();
  await step("Checking types…", "npx", "tsc", "--noEmit");
  say("Running the tests…");
  await run("npx", ["vitest", "run", ...process.argv.slice(2)]);
} catch (error) {
  console.error(error.message);
  process.exit(1);
}

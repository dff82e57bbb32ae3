// Runs a piece of the page's own code for the tests in crates/e2e: takes JSON with
// `imports` (names and the modules of src that export them), a function body, and the
// `input` that it is given; prints what it returns as JSON.
import { text } from "node:stream/consumers";
import { runnerImport } from "vite";

const { imports, body, input } = JSON.parse(await text(process.stdin));
const options = { configFile: false, logLevel: "error", root: import.meta.dirname + "/.." };
const found = {};
for (const [name, path] of Object.entries(imports)) {
  const { module } = await runnerImport(`./src/${path}`, options);
  found[name] = module[name];
}
const run = new Function(...Object.keys(found), "input", body);
process.stdout.write(JSON.stringify(await run(...Object.values(found), input)));

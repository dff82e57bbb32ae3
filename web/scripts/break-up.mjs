// For crates/e2e/tests/browser/shading.rs: takes places as JSON (rows of u, v, rise east,
// rise north) and prints what the page's own code makes of them, and its shaders' code.
import { text } from "node:stream/consumers";
import { runnerImport } from "vite";

const load = async (path) =>
  (await runnerImport(path, { configFile: false, root: import.meta.dirname + "/.." })).module;
const { patches, faces } = await load("./src/land/scene/breakUp.ts");
const { BREAK_UP } = await load("./src/land/scene/shaders/breakUp.ts");
const places = JSON.parse(await text(process.stdin));
const values = places.map(([u, v, east, north]) => [patches(u, v), faces(east, north)]);
process.stdout.write(JSON.stringify({ glsl: BREAK_UP, values }));

// Prints what Khronos' validator says of a GLB file, as JSON; for the tests.
import { readFile } from "node:fs/promises";
import { validateBytes } from "gltf-validator";

const bytes = new Uint8Array(await readFile(process.argv[2]));
const { issues, info } = await validateBytes(bytes);
process.stdout.write(JSON.stringify({ issues, info }));

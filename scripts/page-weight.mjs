/**
 * The scripts that a browser brings for each page before anything is touched, compressed as it gets them, against what
 * the page may weigh. `--all` lists every page. Part of `npm run lint`; reads the build.
 */
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";

/** kB. A page with an editor, a drawing that is worked on or a table that edits itself brings that with it. */
const MOST = 235;
const MOST_OF = {
  "today/routes/today": 200,
  "replies/routes/replies": 200,
  "sequences/routes/sequences": 200,
  "results/routes/results": 200,
  "settings/routes/settings": 265,
  "pages/routes/page": 250,
  "prospects/routes/prospects-find": 265,
  "prospects/routes/prospects": 420,
  "sequences/routes/sequence": 420,
  "emails/routes/new": 420,
  "emails/routes/email": 420,
};

const client = join(import.meta.dirname, "../build/client");
const manifestName = existsSync(join(client, "assets"))
  ? readdirSync(join(client, "assets")).find((name) => /^manifest-\w+\.js$/.test(name))
  : undefined;
if (!manifestName) {
  console.error("There is no build to weigh: run `npm run build` first.");
  process.exit(1);
}
const text = readFileSync(join(client, "assets", manifestName), "utf8");
const { entry, routes } = JSON.parse(text.slice(text.indexOf("{"), text.lastIndexOf("}") + 1));

const sizes = new Map();
function sizeOf(path) {
  if (!sizes.has(path)) {
    const file = join(client, path);
    sizes.set(
      path,
      existsSync(`${file}.br`) ? statSync(`${file}.br`).size : brotliCompressSync(readFileSync(file)).length,
    );
  }
  return sizes.get(path);
}

let tooHeavy = 0;
for (const route of Object.values(routes)) {
  const scripts = new Set([`/assets/${manifestName}`, entry.module, ...entry.imports]);
  for (let each = route; each; each = routes[each.parentId])
    for (const script of [each.module, ...(each.imports ?? [])]) scripts.add(script);
  const weight = [...scripts].reduce((sum, script) => sum + sizeOf(script), 0) / 1_000;
  const most = MOST_OF[route.id] ?? MOST;
  if (weight > most) {
    tooHeavy++;
    console.error(`${route.id} brings ${weight.toFixed(0)} kB of scripts; it may bring ${most}.`);
  } else if (process.argv.includes("--all")) console.log(`${weight.toFixed(0).padStart(5)} kB  ${route.id}`);
}
process.exit(tooHeavy === 0 ? 0 : 1);

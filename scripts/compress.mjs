/** Writes each file that a browser gets also as .br and .gz beside it, once, at build: nobody waits for it later. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { brotliCompress, constants, gzip } from "node:zlib";

const folder = join(import.meta.dirname, "../build/client");
const WORTH_IT = /\.(m?js|css|svg|csv|html|json)$/;

/** Each on a thread of its own. */
async function compress(path) {
  const bytes = readFileSync(path);
  const params = { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
  const [gz, br] = await Promise.all([
    promisify(gzip)(bytes, { level: 9 }),
    promisify(brotliCompress)(bytes, { params }),
  ]);
  writeFileSync(`${path}.gz`, gz);
  writeFileSync(`${path}.br`, br);
}

await Promise.all(
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && WORTH_IT.test(entry.name))
    .map((entry) => compress(join(entry.parentPath, entry.name))),
);

/** Writes each file that a browser gets also as .br and .gz beside it, once, at build: nobody waits for it later. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const folder = join(import.meta.dirname, "../build/client");
const WORTH_IT = /\.(js|css|svg|csv|html|json)$/;

for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
  if (!entry.isFile() || !WORTH_IT.test(entry.name)) continue;
  const path = join(entry.parentPath, entry.name);
  const bytes = readFileSync(path);
  writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
  const params = { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
  writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params }));
}

/** Writes client/api.d.ts out of the API's description. */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { apiTypes } from "./api-types.ts";

writeFileSync(join(import.meta.dirname, "../client/api.d.ts"), await apiTypes());

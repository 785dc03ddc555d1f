/** Writes docs/schema.sql from the migrations. */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { migrate, openDb } from "../server/db/open.ts";
import { schemaOf } from "../server/db/schema.ts";

const db = openDb(":memory:");
migrate(db);
writeFileSync(join(import.meta.dirname, "../docs/schema.sql"), schemaOf(db));

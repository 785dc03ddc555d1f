/** Writes docs/permissions.md from the table of who may do what. */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { permissionsPage } from "../core/team/permissions-page.ts";

writeFileSync(join(import.meta.dirname, "../docs/permissions.md"), permissionsPage());

/** Before any test: what is started as a process of its own comes from the build, which must not be older than the sources. */
import { execFileSync } from "node:child_process";
import { join } from "node:path";
import { projectRoot } from "../config.ts";

export default function build(): void {
  execFileSync(process.execPath, [join(projectRoot, "scripts/setup.mjs"), "--build"], { stdio: "inherit" });
}

/** The directory of people and companies, a page at a time over HTTP. */
import { z } from "zod";
import { countryName } from "../../../core/countries.ts";
import { synonymsOf, type TargetProfile } from "../../../core/prospects/profile.ts";
import type { App } from "../../app.ts";
import { AppError, unreachedWords } from "../../errors.ts";
import { askOutside } from "../../outside/ask.ts";

const text = z.string().catch("").default("");
const pageSchema = z.object({
  total: z.number(),
  pages: z.number(),
  people: z.array(
    z.object({
      id: z.string(),
      firstName: text,
      lastName: text,
      title: text,
      email: text,
      phone: text,
      profile: text,
      company: z.object({
        name: text,
        domain: text,
        industry: text,
        employees: z.union([z.number(), z.string()]).nullable().catch(null),
        city: text,
        country: text,
        region: text,
        about: text,
      }),
    }),
  ),
});
export type DirectoryPage = z.infer<typeof pageSchema>;
export type DirectoryPerson = DirectoryPage["people"][number];

const PATIENCE = 30_000;

/** One page of what the directory has for a profile; it decides less narrowly than we do. Throws `directory_failed`. */
export async function askDirectory(
  { config }: App,
  profile: TargetProfile,
  page: number,
): Promise<DirectoryPage> {
  if (!config.directory)
    throw new AppError("directory_failed", "None is set up: name its address in SAUDADE_DIRECTORY.");
  const url = new URL("/people", config.directory);
  const add = (name: string, values: readonly string[]) => {
    for (const value of values) url.searchParams.append(name, value);
  };
  add("industry", profile.industries);
  add("country", profile.countries.map(countryName));
  add("q", profile.titles.flatMap(synonymsOf));
  if (profile.employeesFrom !== null) url.searchParams.set("from", String(profile.employeesFrom));
  if (profile.employeesTo !== null) url.searchParams.set("to", String(profile.employeesTo));
  url.searchParams.set("page", String(page));
  try {
    const { status, text: page } = await askOutside(config, url.href, {
      patience: PATIENCE,
      mostBytes: 20 * 1024 * 1024,
      isConfigured: true,
    });
    if (status !== 200) throw new Error(`it answered ${status}`);
    return pageSchema.parse(JSON.parse(page));
  } catch (error) {
    throw new AppError(
      "directory_failed",
      `At ${config.directory}: ${unreachedWords(error)}. Try again in a while.`,
    );
  }
}

/** What can be chosen of a CRM: its saved filters, the stages of its deals, and who works there. */
import { z } from "zod";
import { valueAt } from "../../core/connections/json-path.ts";
import type { Dialect, Things } from "../../core/crm/dialect.ts";
import { type CrmClient, CrmProblem } from "./ask-crm.ts";

const named = z.array(z.object({ id: z.string(), name: z.string() }));
export const choicesSchema = z.object({
  views: named,
  stages: named,
  /** By their addresses they are known here. */
  owners: named,
});
export type Choices = z.infer<typeof choicesSchema>;

const MOST = 1_000;

/** Throws a `CrmProblem`. What a CRM does not have at all is an empty choice. */
export async function askChoices(client: CrmClient, dialect: Dialect): Promise<Choices> {
  const listed = async (things: Things, name: string) => {
    const found: Choices["views"] = [];
    let cursor: string | null = null;
    try {
      do {
        const page: { items: unknown[]; next: string | null } = await client.page(things, { cursor });
        for (const item of page.items) {
          const id = valueAt(item, things.id);
          if (id !== "") found.push({ id, name: valueAt(item, name) || id });
        }
        cursor = page.next;
      } while (cursor !== null && found.length < MOST);
    } catch (error) {
      if (!(error instanceof CrmProblem && error.what === "gone")) throw error;
    }
    return found;
  };
  // The people first: whoever has none of these is no CRM.
  await client.page(dialect.people, {});
  return {
    views: await listed(dialect.views, dialect.named),
    stages: await listed(dialect.stages, dialect.named),
    owners: (await listed(dialect.owners, dialect.ownerEmail)).map(({ id, name }) => ({
      id,
      name: name.toLowerCase(),
    })),
  };
}

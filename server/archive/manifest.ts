/** What an archive says of itself. The schema file docs/archive.schema.json is made from this. */
import { z } from "zod";

export const ARCHIVE_FORMAT = "saudade-archive";

export const manifestSchema = z.strictObject({
  format: z.literal(ARCHIVE_FORMAT),
  version: z.literal(1),
  /** The database's schema, by the number of its newest migration. */
  schema: z.number().int().positive(),
  madeAt: z.iso.datetime(),
  /** Where the installation was reached: its links lead there. */
  url: z.string(),
  /** 64 hexadecimal digits: what is sealed is opened by it, and links are signed. */
  key: z.string().regex(/^[0-9a-f]{64}$/i),
  /** By table, how many rows `tables/NAME.jsonl` has. */
  tables: z.record(z.string().regex(/^[a-z_]+$/), z.number().int().nonnegative()),
  /** By table, the last number that was given, where none is given twice. */
  numbers: z.record(z.string().regex(/^[a-z_]+$/), z.number().int()),
});
export type Manifest = z.infer<typeof manifestSchema>;

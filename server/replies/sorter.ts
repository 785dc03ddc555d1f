/** The model that sorts replies here: the one that ships, or a newer one learned from this team's corrections. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Model } from "../../core/replies/model.ts";
import { unpackModel } from "../../core/replies/model-file.ts";
import { projectRoot } from "../config.ts";
import { type Db, sql } from "../db/open.ts";

let shipped: Model | null = null;
const learned = new WeakMap<Db, { id: number; model: Model }>();

export function shippedModel(): Model {
  shipped ??= unpackModel(JSON.parse(readFileSync(join(projectRoot, "core/replies/model.json"), "utf8")));
  return shipped;
}

/** The newest learned model in use, else the one that ships. One that cannot be read counts as none. */
export function modelInUse(db: Db): Model {
  const row = sql(
    db,
    "SELECT id, model FROM reply_models WHERE state = 'used' ORDER BY id DESC LIMIT 1",
  ).get<{ id: number; model: string }>([]);
  if (!row) return shippedModel();
  const known = learned.get(db);
  if (known?.id === row.id) return known.model;
  let model: Model;
  try {
    model = unpackModel(JSON.parse(row.model));
  } catch {
    model = shippedModel();
  }
  learned.set(db, { id: row.id, model });
  return model;
}

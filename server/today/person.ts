/** A person as Today and its call sheet name them. */
import { nameSql } from "../db/names.ts";
import { type Db, sql } from "../db/open.ts";

export interface Person {
  id: number;
  name: string;
  company: string;
  title: string;
  phone: string;
  profile: string;
  zone: string | null;
}

/** The columns of a `Person`, of prospects as `p`. */
export const PERSON = `p.id, ${nameSql()} AS name,
  p.company, p.title, p.phone, p.profile, p.time_zone AS zone`;

export const personById = (db: Db, id: number): Person | null =>
  sql(db, `SELECT ${PERSON} FROM prospects p WHERE p.id = @id AND p.live = 1`).get<Person>({
    id,
  }) ?? null;

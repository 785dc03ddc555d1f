/** Companies, found by web domain, else by name. */
import { isFreeMail } from "../../core/prospects/free-mail.ts";
import { type Db, sql } from "./open.ts";

/** What a company may be known by; "" is unknown. A domain of addresses for everybody is no company's. */
export interface CompanyNames {
  name: string;
  domain: string;
}

/**
 * Finds or makes companies, and remembers them for as long as it lives: an import meets the same ones
 * again and again. A merged company's domain leads to the one that remains.
 */
export function companyFinder(db: Db): (names: CompanyNames) => number | null {
  const byDomain = sql(db, "SELECT coalesce(merged_into, id) AS id FROM companies WHERE domain = @domain");
  const byName = sql(
    db,
    "SELECT coalesce(merged_into, id) AS id FROM companies WHERE name = @name ORDER BY domain IS NULL, id LIMIT 1",
  );
  const add = sql(db, "INSERT INTO companies (name, domain) VALUES (@name, @domain)");
  const known = new Map<string, number>();
  return ({ name, domain: host }) => {
    const domain = host !== "" && isFreeMail(host) ? "" : host;
    if (name === "" && domain === "") return null;
    const key = domain || `name ${name}`;
    let id = known.get(key);
    if (id === undefined) {
      id =
        (domain !== "" ? byDomain.get<{ id: number }>({ domain }) : byName.get<{ id: number }>({ name }))
          ?.id ?? Number(add.run({ name: name || domain, domain: domain || null }).lastInsertRowid);
      known.set(key, id);
    }
    return id;
  };
}

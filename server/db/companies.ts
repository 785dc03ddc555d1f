/** Companies, found by web domain, else by name. */
import { mayBeSameCompany } from "../../core/prospects/cleaning/companies.ts";
import { isFreeMail } from "../../core/prospects/free-mail.ts";
import { type Db, sql } from "./open.ts";

/** What a company may be known by; "" is unknown. A domain of addresses for everybody is no company's. */
export interface CompanyNames {
  name: string;
  domain: string;
}

/**
 * Finds or makes companies, and remembers them for as long as it lives: an import meets the same ones
 * again and again. A merged company's domain leads to the one that remains. Who has another name at a domain that is
 * known is another company, without a domain: a city's museums share the city's.
 */
export function companyFinder(db: Db): (names: CompanyNames) => number | null {
  const byDomain = sql(
    db,
    `SELECT coalesce(c.merged_into, c.id) AS id, coalesce(m.name, c.name) AS name
       FROM companies c LEFT JOIN companies m ON m.id = c.merged_into WHERE c.domain = @domain`,
  );
  const byName = sql(
    db,
    "SELECT coalesce(merged_into, id) AS id FROM companies WHERE name = @name ORDER BY domain IS NULL, id LIMIT 1",
  );
  const besideName = sql(
    db,
    "SELECT coalesce(merged_into, id) AS id FROM companies WHERE name = @name AND domain IS NULL ORDER BY id LIMIT 1",
  );
  const add = sql(db, "INSERT INTO companies (name, domain) VALUES (@name, @domain)");
  const known = new Map<string, number>();
  const make = (name: string, domain: string | null) => Number(add.run({ name, domain }).lastInsertRowid);
  const find = (name: string, domain: string): number => {
    if (domain === "") return byName.get<{ id: number }>({ name })?.id ?? make(name, null);
    const house = byDomain.get<{ id: number; name: string }>({ domain });
    if (!house) return make(name || domain, domain);
    if (name === "" || house.name === domain || mayBeSameCompany(house.name, name)) return house.id;
    return besideName.get<{ id: number }>({ name })?.id ?? make(name, null);
  };
  return ({ name, domain: host }) => {
    const domain = host !== "" && isFreeMail(host) ? "" : host;
    if (name === "" && domain === "") return null;
    const key = `${domain}\n${name}`;
    let id = known.get(key);
    if (id === undefined) {
      id = find(name, domain);
      known.set(key, id);
    }
    return id;
  };
}

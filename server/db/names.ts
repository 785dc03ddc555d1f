/** How a person is called in lists, in SQL: by name, else by address. `fullName` in prospects.ts says the same of one. */
export const nameSql = (prospects = "p"): string =>
  `coalesce(nullif(trim(${prospects}.first_name || ' ' || ${prospects}.last_name), ''), ${prospects}.email,
     iif(${prospects}.erased_at IS NULL, 'Somebody without a name', 'Erased'))`;

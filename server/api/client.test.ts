/** The client that is made from the description, against the door that the description is of. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Api, startApi } from "../../app/tests/api.ts";
import { saudade } from "../../client/saudade.ts";
import { apiTypes } from "../../scripts/api-types.ts";
import { projectRoot } from "../config.ts";
import { openApi } from "./openapi.ts";
import { OPERATIONS } from "./operations.ts";

let api: Api;
beforeAll(async () => {
  api = await startApi();
});
afterAll(() => api.close());

const client = () => saudade({ url: api.url.replace("/api/v1", "/"), key: api.keyOf("owner") });

it("adds somebody, starts them, and reads where they are", async () => {
  const { data: added } = await client().POST("/prospects", {
    body: { email: "nele@quay.example", firstName: "Nele", list: "Quay" },
  });
  const prospectId = added?.prospect.id ?? 0;
  expect(added?.isNew).toBe(true);
  const { data: enrolled } = await client().POST("/sequences/{id}/journeys", {
    params: { path: { id: 1 }, header: { "Idempotency-Key": "one" } },
    body: { prospectIds: [prospectId, 1] },
  });
  expect(enrolled?.results).toEqual([
    { prospectId, result: "started", because: null },
    { prospectId: 1, result: "left_out", because: "already" },
  ]);
  const { data: journeys } = await client().GET("/journeys", { params: { query: { prospect: prospectId } } });
  expect(journeys?.data).toMatchObject([{ sequenceId: 1, prospectId, state: "active", placeId: "one" }]);
  const { error, response } = await client().GET("/prospects/{id}", { params: { path: { id: 999 } } });
  expect([response.status, error?.type]).toEqual([404, "urn:saudade:problem:not_found"]);
});

it("client/api.d.ts is as the operations are (`npm run api-client` writes it)", async () => {
  expect(readFileSync(join(projectRoot, "client/api.d.ts"), "utf8") === (await apiTypes())).toBe(true);
});

it("the description tells every operation with its example, and is served without a key", async () => {
  const { paths } = openApi("https://outreach.quillwater.example") as {
    paths: Record<
      string,
      Record<string, { operationId: string; requestBody?: { content: Record<string, { example: unknown }> } }>
    >;
  };
  for (const { path, method, name, example } of OPERATIONS) {
    expect(paths[path]?.[method]?.operationId).toBe(name);
    if (example.body !== undefined)
      expect(paths[path]?.[method]?.requestBody?.content["application/json"]?.example).toEqual(example.body);
  }
  const served = await api.ask("GET", "/openapi.json", { key: "" });
  expect(served.body).toEqual(JSON.parse(JSON.stringify(openApi(api.world.app.config.url))));
});

/** Every operation as its documentation shows it: it works for whom it should, answers what it says, and not for others. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { z } from "zod";
import { type Answered, type Api, startApi } from "../../app/tests/api.ts";
import { type Act, lineOf } from "../../core/team/may.ts";
import { AREA_NAMES, type Scope } from "../../core/team/scopes.ts";
import { type Operation, powerOf } from "./operation.ts";
import { OPERATIONS } from "./operations.ts";
import { problemSchema } from "./problems.ts";

let api: Api;
beforeAll(async () => {
  api = await startApi();
});
afterAll(() => api.close());

function requestOf({ method, path, example }: Operation) {
  const { params = {}, query = {}, body } = example;
  const at = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(params[name] ?? ""));
  return { method: method.toUpperCase(), path: `${at}?${new URLSearchParams(query)}`, body };
}

/** Asks as the example does, says what was written, and takes it back. */
async function attempt(operation: Operation, key: string): Promise<Answered & { wrote: number }> {
  const { db } = api.world.app;
  const { method, path, body } = requestOf(operation);
  const total = () => (db.prepare("SELECT total_changes() AS n").get() as { n: number }).n;
  db.exec("SAVEPOINT attempt");
  const from = total();
  const answer = await api.ask(method, path, { key, ...(body === undefined ? {} : { body }) });
  const wrote = total() - from;
  db.exec("ROLLBACK TO attempt; RELEASE attempt");
  return { ...answer, wrote };
}

/** Whom an operation asks about, where not everybody of the team may: by it a colleague is refused. */
const ASKS: Partial<Record<string, Act>> = {
  addProspect: "list.change",
  addProspects: "list.change",
  changeProspect: "prospect.change",
  eraseProspect: "prospect.erase",
  stopProspect: "journey.stop",
  renameList: "list.change",
  deleteList: "list.change",
  putOnList: "list.change",
  takeOffList: "list.change",
  enrol: "sequence.change",
  changeJourneys: "sequence.change",
  setSequenceState: "sequence.change",
  doTouch: "touch.end",
  skipTouch: "touch.end",
  labelReply: "reply.change",
  markReply: "reply.change",
  noteMeeting: "meeting.note",
  setMailboxState: "mailbox.change",
  unblock: "block.remove",
  runImport: "import.change",
  keepFound: "search.keep",
  getJob: "job.stop",
  stopJob: "job.stop",
  getWebhook: "webhook.change",
  changeWebhook: "webhook.change",
  removeWebhook: "webhook.change",
  rotateSecret: "webhook.change",
  testWebhook: "webhook.change",
  replayWebhook: "webhook.change",
  callRule: "rule.change",
};

describe.each(OPERATIONS.map((operation) => [operation.name, operation] as const))(
  "%s",
  (name, operation) => {
    it("works as its example says, and answers what its description promises", async () => {
      const answer = await attempt(operation, api.keyOf("owner"));
      expect(answer.body).not.toHaveProperty("errors");
      expect(answer.status).toBe(200);
      const results = operation.item
        ? (answer.body.results ?? []).flatMap(({ value }) => (value === undefined ? [] : [value]))
        : [answer.body];
      expect(results.length).toBeGreaterThan(0);
      const isPartial = operation.example.query?.fields !== undefined;
      if (!isPartial)
        for (const each of results) expect(strictly(operation.answer).parse(each)).toEqual(each);
      if (powerOf(operation) === "write") expect(answer.wrote).toBeGreaterThan(0);
    });

    it("needs its scope, and no other does", async () => {
      const others = AREA_NAMES.filter((area) => area !== operation.area).map(
        (area): Scope => `${area}:write`,
      );
      const less: Scope[] = powerOf(operation) === "write" ? [`${operation.area}:read`] : [];
      const refused = await attempt(operation, api.keyOf("owner", [...others, ...less]));
      expect(refused).toMatchObject({ status: 403, body: { type: "urn:saudade:problem:scope_missing" } });
      expect(refused.headers.get("content-type")).toContain("application/problem+json");
      const enough = await attempt(
        operation,
        api.keyOf("owner", [`${operation.area}:${powerOf(operation)}`]),
      );
      expect(enough.status).toBe(200);
    });

    it("is as far for a colleague as the one table says", async () => {
      const answer = await attempt(operation, api.keyOf("colleague"));
      const act = ASKS[name];
      if (act === undefined) {
        expect(answer.status).toBe(200);
        return;
      }
      expect(["owners", "changers"]).toContain(lineOf(act).who);
      if (operation.item) {
        for (const each of answer.body.results ?? []) expect(each.status).not.toBe(200);
        return;
      }
      expect([403, 404]).toContain(answer.status);
      expect(problemSchema.parse(answer.body).detail ?? "").not.toContain("Error");
    });
  },
);

it("every name is there once, and every path once with its method", () => {
  const names = OPERATIONS.map(({ name }) => name);
  expect(new Set(names).size).toBe(names.length);
  const paths = OPERATIONS.map(({ method, path }) => `${method} ${path}`);
  expect(new Set(paths).size).toBe(paths.length);
});

/** What is answered beyond the description is a mistake too. */
const strictly = (schema: z.ZodType): z.ZodType => (schema instanceof z.ZodObject ? schema.strict() : schema);

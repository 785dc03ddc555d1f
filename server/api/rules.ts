/** Rules: which there are, and one that another program calls. */
import { z } from "zod";
import { whenDone } from "../errors.ts";
import { collection, id, listingQuery, pageOfAll, pathId } from "../resources/listing.ts";
import { allRules, callRule } from "../rules/rules.ts";
import { read, write } from "./operation.ts";

export const ruleOperations = [
  read({
    name: "listRules",
    path: "/rules",
    area: "rules",
    does: "The team's rules, and how they stand.",
    query: listingQuery,
    answer: collection(
      z
        .object({
          ...{ id, name: z.string(), owner: z.string(), state: z.enum(["on", "off", "held"]) },
          ...{ heldBecause: z.string().nullable(), isCalled: z.boolean() },
          runs: z.number().int().meta({ description: "How often it acted in the last 30 days." }),
        })
        .meta({ id: "Rule" }),
    ),
    example: {},
    run: ({ app }, { query }) =>
      pageOfAll(
        allRules(app).map(({ id, name, owner, state, heldBecause, runs, rule }) => ({
          ...{ id, name, owner, state, heldBecause, runs, isCalled: rule.when.kind === "called" },
        })),
        query,
      ),
  }),
  write("post", {
    name: "callRule",
    path: "/rules/{id}/call",
    area: "rules",
    does: "Sets off a rule that waits for a call, for somebody.",
    params: { id: pathId },
    body: z.strictObject({ prospectId: id }),
    answer: z.object({}),
    example: { params: { id: "1" }, body: { prospectId: 1 } },
    run: ({ app, user }, { params, body }) =>
      whenDone(callRule(app, user.id, params.id, body.prospectId), () => ({})),
  }),
];

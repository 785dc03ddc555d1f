/** Sequences, people's ways through them, and the touches that wait for somebody. */
import { z } from "zod";
import { daysOfPath } from "../../core/sequence/lay-out-path.ts";
import { everyStep } from "../../core/sequence/path.ts";
import { STANDINGS } from "../../core/sequence/standing.ts";
import { sql, transact } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused, whenDone } from "../errors.ts";
import {
  journeyResource,
  journeySchema,
  journeysQuery,
  listJourneys,
  listTouches,
  touchesQuery,
  touchResource,
  touchSchema,
} from "../resources/journey.ts";
import { collection, id, listingQuery, pageOfAll, pathId } from "../resources/listing.ts";
import { addToSequence } from "../sequences/add-people.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { setSequenceState } from "../sequences/save-sequence.ts";
import { changePeople } from "../sequences/sequence-people.ts";
import { standingSql } from "../sequences/start-check.ts";
import { CALL_OUTCOMES, endTouch } from "../today/end-touch.ts";
import { type Call, read, write } from "./operation.ts";

const one = { id: pathId };
const STATES = ["draft", "running", "paused"] as const;

const sequenceSchema = z
  .object({
    id,
    name: z.string(),
    owner: z.string(),
    state: z.enum(STATES),
    isPersonal: z.boolean(),
    isArchived: z.boolean(),
    tags: z.array(z.string()),
    version: z.number().int(),
    steps: z.number().int(),
    days: z.number().int(),
  })
  .meta({ id: "Sequence" });

const sequencesSeen = ({ app, user }: Call) =>
  listSequences(app, user.id).map(
    ({ id, name, ownerName, state, isPersonal, isArchived, tags, version, steps, days }) => ({
      ...{ id, name, owner: ownerName, state, isPersonal, isArchived, tags, version, steps, days },
    }),
  );

const prospectIds = z.array(id).min(1).max(1_000).meta({ description: "Up to 1,000." });

/** What became of each who was to be enrolled. */
const enrolled = z.object({
  results: z.array(
    z.object({
      prospectId: id,
      result: z.enum(["started", "listed", "left_out"]).meta({
        description: "“listed”: the sequence is a draft, and begins with its list.",
      }),
      because: z
        .enum([...STANDINGS, "not_found"])
        .nullable()
        .meta({ description: "Why they were left out." }),
    }),
  ),
});

/** Brings people onto a sequence as the Prospects page does, and says of each what became of them. */
function enrol(
  { app, user }: Call,
  sequenceId: number,
  ids: readonly number[],
): Outcome<z.infer<typeof enrolled>> {
  return transact(app, (app): Outcome<z.infer<typeof enrolled>> => {
    const sequence = sequenceById(app.db, sequenceId);
    // Before they are started: afterwards all of them are on it.
    const { standing, values } = sequence
      ? standingSql("start", sequence, app.clock.now())
      : { standing: "'ready'", values: {} };
    const stood = new Map(
      sql(
        app.db,
        `SELECT p.id, ${standing} AS standing FROM prospects p
         WHERE p.live = 1 AND p.id IN (SELECT value FROM json_each(@ids))`,
      )
        .all<{ id: number; standing: (typeof STANDINGS)[number] }>({ ...values, ids: JSON.stringify(ids) })
        .map((row) => [row.id, row.standing]),
    );
    const added = addToSequence(
      app,
      user,
      sequenceId,
      ids.filter((each) => stood.has(each)),
    );
    if (!added.ok) return added;
    const started = new Set(added.value.started);
    const isDraft = sequence?.state === "draft";
    return done({
      results: ids.map((prospectId) => {
        const how = stood.get(prospectId);
        if (how === undefined) return { prospectId, result: "left_out", because: "not_found" };
        if (isDraft) return { prospectId, result: "listed", because: null };
        return started.has(prospectId)
          ? { prospectId, result: "started", because: null }
          : { prospectId, result: "left_out", because: how };
      }),
    });
  });
}

const CHANGES = ["pause", "resume", "take_out"] as const;

function change(
  { app, user }: Call,
  sequenceId: number,
  journeyIds: readonly number[],
  what: (typeof CHANGES)[number],
) {
  const sequence = sequenceOf(app, user.id, sequenceId);
  if (!sequence) return null;
  return whenDone(changePeople(app, user.id, sequence, journeyIds, { do: what }), ({ changed }) => ({
    changed,
  }));
}

const changed = z.object({
  changed: z.number().int().meta({ description: "For how many it could be done." }),
});

export const outreach = [
  read({
    name: "listSequences",
    path: "/sequences",
    area: "sequences",
    does: "Sequences, but for those that colleagues keep to themselves.",
    query: { ...listingQuery, state: z.enum(STATES).optional() },
    answer: collection(sequenceSchema),
    example: { query: { state: "running" } },
    run: (call, { query: { state, ...listing } }) =>
      pageOfAll(
        sequencesSeen(call).filter((each) => state === undefined || each.state === state),
        listing,
      ),
  }),
  read({
    name: "getSequence",
    path: "/sequences/{id}",
    area: "sequences",
    does: "One sequence with its path, as its file has it.",
    params: one,
    answer: sequenceSchema.extend({
      path: z.array(z.record(z.string(), z.unknown())).meta({
        description: "Steps, forks and ends, in the form that the sequence file's schema describes.",
      }),
    }),
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => {
      const sequence = sequenceOf(app, user.id, params.id);
      if (!sequence) return null;
      const { id, name, ownerName, state, isPersonal, archivedAt, settings, version, path } = sequence;
      return {
        ...{
          id,
          name,
          owner: ownerName,
          state,
          isPersonal,
          isArchived: archivedAt !== null,
          tags: settings.tags,
          version,
        },
        ...{ steps: everyStep(path).length, days: daysOfPath(path), path: path.map((node) => ({ ...node })) },
      };
    },
  }),
  write("post", {
    name: "enrol",
    path: "/sequences/{id}/journeys",
    area: "sequences",
    does: "Starts people on a running sequence; of a draft they come onto its list.",
    params: one,
    body: z.strictObject({ prospectIds }),
    answer: enrolled,
    example: { params: { id: "1" }, body: { prospectIds: [4, 1, 999] } },
    run: (call, { params, body }) => enrol(call, params.id, body.prospectIds),
  }),
  write("post", {
    name: "changeJourneys",
    path: "/sequences/{id}/journeys/change",
    area: "sequences",
    does: "Lets people of a sequence pause, go on, or takes them out.",
    params: one,
    body: z.strictObject({ do: z.enum(CHANGES), journeyIds: z.array(id).min(1).max(1_000) }),
    answer: changed,
    example: { params: { id: "1" }, body: { do: "pause", journeyIds: [1] } },
    run: (call, { params, body }) => change(call, params.id, body.journeyIds, body.do),
  }),
  write("post", {
    name: "setSequenceState",
    path: "/sequences/{id}/state",
    area: "sequences",
    does: "Lets a started sequence pause, or go on.",
    params: one,
    body: z.strictObject({ state: z.enum(["running", "paused"]) }),
    answer: z.object({ state: z.enum(["running", "paused"]) }),
    example: { params: { id: "1" }, body: { state: "paused" } },
    run: ({ app, user }, { params, body: { state } }) => {
      const known = sequenceOf(app, user.id, params.id);
      if (!known) return null;
      if (known.state === "draft")
        return refused({
          state: "It has not started yet: that is pressed on its page, once somebody has read it.",
        });
      return whenDone(setSequenceState(app, user.id, params.id, state), () => ({ state }));
    },
  }),

  read({
    name: "listJourneys",
    path: "/journeys",
    area: "sequences",
    does: "People's ways through sequences.",
    query: { ...listingQuery, ...journeysQuery },
    answer: collection(journeySchema),
    example: { query: { sequence: "1", state: "active" } },
    run: ({ app, user }, { query }) => listJourneys(app, user.id, query, query),
  }),
  read({
    name: "getJourney",
    path: "/journeys/{id}",
    area: "sequences",
    does: "One way through a sequence, and why it waits.",
    params: one,
    answer: journeySchema,
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => journeyResource(app, user.id, params.id),
  }),

  read({
    name: "listTouches",
    path: "/touches",
    area: "touches",
    does: "Touches: what was sent and done, and what is open.",
    query: { ...listingQuery, ...touchesQuery },
    answer: collection(touchSchema),
    example: { query: { state: "open" } },
    run: ({ app, user }, { query }) => listTouches(app, user.id, query, query),
  }),
  read({
    name: "getTouch",
    path: "/touches/{id}",
    area: "touches",
    does: "One touch.",
    params: one,
    answer: touchSchema,
    example: { params: { id: "2" } },
    run: ({ app, user }, { params }) => touchResource(app, user.id, params.id),
  }),
  ...(["done", "skipped"] as const).map((how) =>
    write("post", {
      name: how === "done" ? "doTouch" : "skipTouch",
      path: `/touches/{id}/${how}`,
      area: "touches",
      does: how === "done" ? "Says that an open touch is done, and how a call went." : "Skips an open touch.",
      params: one,
      body: z.strictObject({
        outcome: z.enum(CALL_OUTCOMES).optional(),
        note: z.string().max(2_000).default(""),
      }),
      answer: touchSchema,
      example: {
        params: { id: "2" },
        body: how === "done" ? { outcome: "voicemail", note: "Rings until Friday." } : {},
      },
      run: ({ app, user }, { params, body }) => {
        if (hiddenTouch(app, user.id, params.id)) return null;
        const ended = endTouch(app, user, { id: params.id, ...body }, how);
        return ended.ok ? touchResource(app, user.id, params.id) : ended;
      },
    }),
  ),
];

/** Whether it is not there, for this user. */
const hiddenTouch = (app: Call["app"], userId: number, touchId: number): boolean =>
  touchResource(app, userId, touchId) === null;

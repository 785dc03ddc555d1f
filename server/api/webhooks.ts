/** Webhooks: who is told of what. */
import { z } from "zod";
import { channelSchema } from "../../core/connections/channel.ts";
import { HAPPENING_KINDS } from "../../core/connections/happenings.ts";
import { mayNot } from "../accounts/may-not.ts";
import { whenDone } from "../errors.ts";
import { at, collection, id, listingQuery, pageOfAll, pathId, time } from "../resources/listing.ts";
import {
  allWebhooks,
  makeWebhook,
  pressTest,
  removeWebhook,
  replay,
  rotateSecret,
  saveWebhook,
  switchWebhook,
  webhookById,
} from "../webhooks/webhooks.ts";
import { type Call, read, write } from "./operation.ts";

const one = { id: pathId };
const kinds = z.array(z.enum(HAPPENING_KINDS));

const webhookSchema = z
  .object({
    id,
    name: z.string(),
    url: z.string(),
    kinds,
    filter: z.string().meta({ description: "Of whom it is told, as JSON; “” for everybody." }),
    channel: channelSchema
      .nullable()
      .meta({ description: "Of a chat channel: in which words, and when it is quiet." }),
    owner: z.string(),
    state: z.enum(["on", "off"]),
    offBecause: z.string().nullable(),
    failingSince: time.nullable(),
    due: z.number().int().meta({ description: "How many happenings wait to be told." }),
  })
  .meta({ id: "Webhook" });

const settings = {
  name: z.string().min(1).max(60),
  url: z.string().max(1_000),
  kinds,
  filter: z.string().max(8_000).default(""),
  channel: channelSchema.nullable().default(null),
};

/** Those that somebody may change: an address is as good as a key to whoever listens there. */
const shown = ({ app, user }: Call) =>
  allWebhooks(app)
    .filter((each) => mayNot(app, user.id, "webhook.change", each.id) === null)
    .map(({ id, name, url, kinds, filter, channel, owner, state, offBecause, failingSince, due }) => ({
      ...{
        id,
        name,
        url,
        kinds,
        filter,
        channel,
        owner,
        state,
        offBecause,
        failingSince: at(failingSince),
        due,
      },
    }));
const shownOne = (call: Call, webhookId: number) => shown(call).find((each) => each.id === webhookId) ?? null;

export const webhookOperations = [
  read({
    name: "listWebhooks",
    path: "/webhooks",
    area: "webhooks",
    does: "The webhooks that you may change.",
    query: listingQuery,
    answer: collection(webhookSchema),
    example: {},
    run: (call, { query }) => pageOfAll(shown(call), query),
  }),
  read({
    name: "getWebhook",
    path: "/webhooks/{id}",
    area: "webhooks",
    does: "One webhook.",
    params: one,
    answer: webhookSchema,
    example: { params: { id: "1" } },
    run: (call, { params }) => shownOne(call, params.id),
  }),
  write("post", {
    name: "makeWebhook",
    path: "/webhooks",
    area: "webhooks",
    does: "Makes a webhook; its secret is answered once.",
    body: z.strictObject(settings),
    answer: z.object({ id, secret: z.string() }),
    example: { body: { name: "Warehouse", url: "https://hooks.quay.example/in", kinds: ["reply.labelled"] } },
    run: ({ app, user }, { body }) => makeWebhook(app, user.id, body),
  }),
  write("patch", {
    name: "changeWebhook",
    path: "/webhooks/{id}",
    area: "webhooks",
    does: "Changes a webhook, or switches it on or off.",
    params: one,
    body: z.strictObject({
      ...{ name: settings.name.optional(), url: settings.url.optional(), kinds: kinds.optional() },
      ...{ filter: z.string().max(8_000).optional(), state: z.enum(["on", "off"]).optional() },
      channel: channelSchema.nullable().optional(),
    }),
    answer: webhookSchema,
    example: { params: { id: "1" }, body: { kinds: ["reply.received", "meeting.booked"] } },
    run: (call, { params, body: { state, ...changes } }) => {
      const { app, user } = call;
      const known = webhookById(app, params.id);
      if (!known || !shownOne(call, params.id)) return null;
      const { name, url, kinds, filter, channel } = known;
      if (Object.keys(changes).length > 0) {
        const saved = saveWebhook(app, user.id, params.id, { name, url, kinds, filter, channel, ...changes });
        if (!saved.ok) return saved;
      }
      if (state !== undefined && state !== known.state) {
        const switched = switchWebhook(app, user.id, params.id, state === "on");
        if (!switched.ok) return switched;
      }
      return shownOne(call, params.id);
    },
  }),
  write("delete", {
    name: "removeWebhook",
    path: "/webhooks/{id}",
    area: "webhooks",
    does: "Removes a webhook with what waited for it.",
    params: one,
    answer: z.object({}),
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => whenDone(removeWebhook(app, user.id, params.id), () => ({})),
  }),
  write("post", {
    name: "rotateSecret",
    path: "/webhooks/{id}/secret",
    area: "webhooks",
    does: "A new secret, answered once; the one before signs beside it for a day.",
    params: one,
    answer: z.object({ secret: z.string() }),
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) =>
      whenDone(rotateSecret(app, user.id, params.id), (secret) => ({ secret })),
  }),
  write("post", {
    name: "testWebhook",
    path: "/webhooks/{id}/test",
    area: "webhooks",
    does: "Tells a webhook something of no consequence.",
    params: one,
    answer: z.object({}),
    example: { params: { id: "1" } },
    run: ({ app, user }, { params }) => whenDone(pressTest(app, user.id, params.id), () => ({})),
  }),
  write("post", {
    name: "replayWebhook",
    path: "/webhooks/{id}/replay",
    area: "webhooks",
    does: "Tells everything since then once more, also what happened while it was off. What is older than 30 days is gone.",
    params: one,
    body: z.strictObject({ since: z.iso.datetime({ offset: true }) }),
    answer: z.object({ again: z.number().int() }),
    example: { params: { id: "1" }, body: { since: "2026-06-01T00:00:00Z" } },
    run: ({ app, user }, { params, body }) =>
      whenDone(replay(app, user.id, params.id, body), (again) => ({ again })),
  }),
];

/** Replies with their labels, booked calls, and free times. */
import { z } from "zod";
import { daySchema } from "../../core/day-and-time.ts";
import { AppError, type Outcome } from "../errors.ts";
import { noteMeeting } from "../meetings/book-meeting.ts";
import { bookingPage } from "../meetings/booking-page.ts";
import { bookingPages } from "../meetings/booking-pages.ts";
import { labelReply } from "../replies/label-reply.ts";
import { allLabels } from "../replies/labels.ts";
import { markRead } from "../replies/list-replies.ts";
import { at, collection, id, listingQuery, pathId, time } from "../resources/listing.ts";
import {
  listMeetings,
  meetingResource,
  meetingSchema,
  meetingsQuery,
  tokenOfMeeting,
} from "../resources/meeting.ts";
import { listReplyResources, repliesQuery, replyResource, replySchema } from "../resources/reply.ts";
import { type Call, read, write } from "./operation.ts";

const one = { id: pathId };

/** What was done to a reply, answered with the reply as it is then. */
function replyAfter({ app }: Call, replyId: number, outcome: Outcome<unknown>) {
  if (!outcome.ok) return outcome;
  return replyResource(app, replyId);
}

export const answers = [
  read({
    name: "listReplies",
    path: "/replies",
    area: "replies",
    does: "Replies, and what else came back.",
    query: { ...listingQuery, ...repliesQuery },
    answer: collection(replySchema),
    example: { query: { unread: "true", order: "desc" } },
    run: ({ app }, { query }) => listReplyResources(app, query, query),
  }),
  read({
    name: "getReply",
    path: "/replies/{id}",
    area: "replies",
    does: "One reply.",
    params: one,
    answer: replySchema,
    example: { params: { id: "1" } },
    run: ({ app }, { params }) => replyResource(app, params.id),
  }),
  write("post", {
    name: "labelReply",
    path: "/replies/{id}/label",
    area: "replies",
    does: "Says what a reply means; everything follows that the label does.",
    params: one,
    body: z.strictObject({
      label: z.string().min(1).max(40).meta({ description: "A label's code." }),
      day: daySchema.optional().meta({ description: "When they are back, or want to be asked again." }),
    }),
    answer: replySchema,
    example: { params: { id: "1" }, body: { label: "interested" } },
    run: (call, { params, body }) => {
      if (!replyResource(call.app, params.id)) return null;
      return replyAfter(call, params.id, labelReply(call.app, call.user.id, { replyId: params.id, ...body }));
    },
  }),
  write("post", {
    name: "markReply",
    path: "/replies/{id}/read",
    area: "replies",
    does: "Marks a reply as read, or as to be read again.",
    params: one,
    body: z.strictObject({ read: z.boolean() }),
    answer: replySchema,
    example: { params: { id: "1" }, body: { read: true } },
    run: (call, { params, body }) => {
      if (!replyResource(call.app, params.id)) return null;
      return replyAfter(call, params.id, markRead(call.app, call.user.id, params.id, body.read));
    },
  }),
  read({
    name: "listLabels",
    path: "/labels",
    area: "replies",
    does: "The labels that replies get.",
    answer: z.object({
      data: z.array(z.object({ code: z.string(), name: z.string(), isPositive: z.boolean() })),
    }),
    example: {},
    run: ({ app }) => ({
      data: allLabels(app.db).map(({ code, name, isPositive }) => ({ code, name, isPositive })),
    }),
  }),

  read({
    name: "listMeetings",
    path: "/meetings",
    area: "meetings",
    does: "Booked calls.",
    query: { ...listingQuery, ...meetingsQuery },
    answer: collection(meetingSchema),
    example: { query: { from: "1970-01-01T00:00:00Z" } },
    run: ({ app }, { query }) => listMeetings(app, query, query),
  }),
  read({
    name: "getMeeting",
    path: "/meetings/{id}",
    area: "meetings",
    does: "One booked call.",
    params: one,
    answer: meetingSchema,
    example: { params: { id: "1" } },
    run: ({ app }, { params }) => meetingResource(app, params.id),
  }),
  write("post", {
    name: "noteMeeting",
    path: "/meetings/{id}/outcome",
    area: "meetings",
    does: "Notes whether a call took place; what comes next is put on Today.",
    params: one,
    body: z.strictObject({ how: z.enum(["held", "missed"]), note: z.string().max(2_000).default("") }),
    answer: meetingSchema,
    example: { params: { id: "1" }, body: { how: "held", note: "Sends the loan list." } },
    run: ({ app, user }, { params, body }) => {
      const token = tokenOfMeeting(app, params.id);
      if (token === null) return null;
      const noted = noteMeeting(app, user.id, { token, ...body });
      return noted.ok ? meetingResource(app, params.id) : noted;
    },
  }),
  read({
    name: "listBookingPages",
    path: "/booking-pages",
    area: "meetings",
    does: "One's own booking pages.",
    answer: z.object({
      data: z.array(
        z.object({
          id,
          slug: z.string(),
          name: z.string(),
          url: z.string(),
          lengths: z.array(z.number().int()),
        }),
      ),
    }),
    example: {},
    run: ({ app, user }) => ({
      data: bookingPages(app, user).map(({ id, slug, name, rules }) => ({
        ...{ id, slug, name, url: `${app.config.url}/book/${slug}`, lengths: rules.lengths },
      })),
    }),
  }),
  read({
    name: "listFreeTimes",
    path: "/booking-pages/{slug}/times",
    area: "meetings",
    does: "When a call can be booked on a page.",
    params: { slug: z.string().max(80).meta({ description: "The end of the page's address." }) },
    query: {
      minutes: z.coerce.number().int().optional().meta({ description: "One of the page's lengths." }),
    },
    answer: z.object({ minutes: z.number().int(), data: z.array(time) }),
    example: { params: { slug: "marta-quintela" } },
    run: ({ app }, { params: { slug }, query: { minutes } }) => {
      try {
        const { times, length } = bookingPage(app, slug, null, { length: minutes ?? null });
        return { minutes: length, data: times.map((each) => at(each)) };
      } catch (error) {
        if (error instanceof AppError && error.code === "not_found") return null;
        throw error;
      }
    },
  }),
];

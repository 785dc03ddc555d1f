import { index, layout, type RouteConfig, route } from "@react-router/dev/routes";

export default [
  route("sign-in", "routes/sign-in.tsx"),
  route("first-run", "routes/first-run.tsx"),
  route("sign-out", "routes/sign-out.tsx"),
  route("book/:slug", "routes/booking.tsx"),
  route("booked/:token", "routes/booked.tsx"),
  route("booked/:token/call.ics", "routes/booked-calendar.tsx"),
  route("opt-out/:token", "routes/opt-out.tsx"),
  layout("routes/desk.tsx", [
    index("routes/today.tsx"),
    route("prospects", "routes/prospects.tsx"),
    route("prospects/import", "routes/prospects-import.tsx"),
    route("prospects/:id", "routes/prospect.tsx"),
    route("sequences", "routes/sequences.tsx"),
    route("sequences/:id", "routes/sequence.tsx"),
    route("sending", "routes/sending.tsx"),
    route("sending/mailboxes/:id", "routes/mailbox.tsx"),
    route("replies", "routes/replies.tsx"),
    route("results", "routes/results.tsx"),
    route("day-line", "routes/day-line.tsx"),
    route("finder", "routes/finder.tsx"),
  ]),
] satisfies RouteConfig;

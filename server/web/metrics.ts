/** Numbers for machines that watch, in Prometheus' text format: counts only, nobody's address or words. */
import type { RequestHandler } from "express";
import { collectDefaultMetrics, Gauge, Registry } from "prom-client";
import type { App } from "../app.ts";
import { isLoopback } from "../config.ts";
import { failures } from "../db/failures.ts";
import { sql } from "../db/open.ts";
import { health } from "./health.ts";

/** Whether a program on this machine asks: a proxy in front says who is from elsewhere. */
export const isFromHere = (ip: string | undefined): boolean =>
  ip !== undefined && isLoopback(ip.replace(/^::ffff:/, ""));

export function metricsDoor(app: App): RequestHandler {
  const { db } = app;
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: "saudade_web_" });
  /** A gauge whose values are counted when it is asked for. */
  const gauge = (
    name: string,
    help: string,
    labels: string[],
    rows: () => { labels: Record<string, string>; value: number }[],
  ) =>
    new Gauge({
      name: `saudade_${name}`,
      help,
      labelNames: labels,
      registers: [registry],
      collect() {
        this.reset();
        for (const row of rows()) this.set(row.labels, row.value);
      },
    });
  const counted = (text: string, label: string) => () =>
    sql(db, text)
      .all<{ name: string; count: number }>([])
      .map(({ name, count }) => ({ labels: { [label]: name }, value: count }));
  gauge(
    "events_total",
    "What happened, by kind.",
    ["kind"],
    counted("SELECT kind AS name, count(*) AS count FROM events GROUP BY kind", "kind"),
  );
  gauge(
    "journeys",
    "People in sequences, by state.",
    ["state"],
    counted("SELECT state AS name, count(*) AS count FROM journeys GROUP BY state", "state"),
  );
  gauge(
    "waiting",
    "People who wait, by reason.",
    ["reason"],
    counted(
      "SELECT wait_reason AS name, count(*) AS count FROM journeys WHERE state = 'active' AND wait_reason IS NOT NULL GROUP BY wait_reason",
      "reason",
    ),
  );
  gauge(
    "mailboxes",
    "Mailboxes, by state.",
    ["state"],
    counted(
      "SELECT state AS name, count(*) AS count FROM mailboxes WHERE removed_at IS NULL GROUP BY state",
      "state",
    ),
  );
  gauge(
    "touches_open",
    "Touches that are not over, by state.",
    ["state"],
    counted(
      "SELECT state AS name, count(*) AS count FROM touches WHERE state IN ('queued', 'claimed', 'draft', 'approved', 'open') GROUP BY state",
      "state",
    ),
  );
  gauge(
    "jobs",
    "Jobs of the worker, by state.",
    ["state"],
    counted("SELECT state AS name, count(*) AS count FROM jobs GROUP BY state", "state"),
  );
  gauge("failures_total", "Threads, jobs and processes that failed.", ["kind", "name"], () =>
    failures(db).map(({ kind, name, count }) => ({ labels: { kind, name }, value: count })),
  );
  gauge("engine_tick_age_seconds", "Since the engine finished its last look.", [], () => {
    const at = sql(db, "SELECT ticked_wall AS at FROM engine_lease").get<{ at: number | null }>([])?.at;
    return at == null ? [] : [{ labels: {}, value: (Date.now() - at) / 1000 }];
  });
  gauge("healthy", "1 while everything runs.", [], () => [{ labels: {}, value: health(app).ok ? 1 : 0 }]);
  return async (request, response) => {
    if (!isFromHere(request.ip)) return void response.status(404).end();
    response.type(registry.contentType).send(await registry.metrics());
  };
}

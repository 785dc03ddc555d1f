/** Who may import whom: app → server → core, and nobody upwards. */

const { readdirSync } = require("node:fs");

/** The rooms of server/, each of which may import those before it only. */
const SERVER_ROOMS = [
  "db",
  "outside",
  "consequences",
  "accounts",
  "mail",
  "jobs",
  "assistant",
  "sequences",
  "replies",
  "sending",
  "social",
  "meetings",
  "prospects",
  "research",
  "pages",
  "results",
  "why",
  "today",
  "notices",
  "undo",
  "desk",
  "resources",
  "webhooks",
  "crm",
  "rules",
  "engine",
  "api",
  "archive",
  "workers",
  "web",
];
/** The same inside server/prospects/. */
const PROSPECT_ROOMS = [
  "block-list",
  "cleaning",
  "filters",
  "addresses",
  "duplicates",
  "people",
  "imports",
  "searches",
  "forms",
  "lists",
  "privacy",
];
/** Every folder stands in its order: one that does not would be free to import anything. */
for (const [folder, rooms] of [
  ["server", [...SERVER_ROOMS, "prospects", "tests"]],
  ["server/prospects", PROSPECT_ROOMS],
]) {
  const missing = readdirSync(folder, { withFileTypes: true }).filter(
    (each) => each.isDirectory() && !rooms.includes(each.name),
  );
  if (missing.length > 0)
    throw new Error(`${folder}/${missing.map(({ name }) => name)} has no place in the order of rooms.`);
}

const downwards = (folder, rooms) =>
  rooms.slice(0, -1).map((room, index) => ({
    name: `${folder}/${room}-looks-down`,
    severity: "error",
    from: { path: `^${folder}/${room}/`, pathNot: "\\.test\\.ts$" },
    to: { path: `^${folder}/(${rooms.slice(index + 1).join("|")})/` },
  }));

module.exports = {
  forbidden: [
    {
      name: "core-is-pure",
      comment: "core computes; it imports no other room and touches nothing outside.",
      severity: "error",
      from: { path: "^core/" },
      to: { path: "^(app|server|standins|demo|e2e|bench)/" },
    },
    {
      name: "core-does-no-io",
      severity: "error",
      from: { path: "^core/", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["core"] },
    },
    {
      name: "server-below-app",
      severity: "error",
      from: { path: "^server/", pathNot: "\\.test\\.ts$" },
      to: { path: "^(app|standins|demo|e2e|bench)/" },
    },
    {
      name: "standins-know-only-protocols",
      severity: "error",
      from: { path: "^standins/" },
      to: { path: "^(app|server|core|demo|e2e|bench)/" },
    },
    {
      name: "nobody-imports-the-outer-rooms",
      severity: "error",
      from: { path: "^(app|core|standins)/" },
      to: { path: "^(demo|e2e|bench)/" },
    },
    {
      name: "app-leaves-the-database-to-the-server",
      severity: "error",
      from: { path: "^app/" },
      to: { path: "^(server/db|standins)/|node_modules/better-sqlite3" },
    },
    ...downwards("server", SERVER_ROOMS),
    ...downwards("server/prospects", PROSPECT_ROOMS),
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "^(build|\\.react-router)/" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: { exportsFields: ["exports"], conditionNames: ["import", "node"] },
  },
};

/** The API described (OpenAPI 3.1), made from the schemas that check what is asked. */
import { z } from "zod";
import { HAPPENING_KINDS, HAPPENINGS } from "../../core/connections/happenings.ts";
import { AREA_NAMES, AREAS, SCOPES } from "../../core/team/scopes.ts";
import { payloadSchema } from "../webhooks/payload.ts";
import { bulkBody, fieldsParameter, MOST_ITEMS } from "./carry-out.ts";
import { type Operation, powerOf } from "./operation.ts";
import { OPERATIONS } from "./operations.ts";
import { PROBLEM_CODES, problemSchema, statusOf } from "./problems.ts";

type Json = { [name: string]: unknown };
const VERSION = "1.0.0";

/** Named schemas are told once, among the components; elsewhere they are pointed at. */
class Components {
  readonly schemas: Json = {};

  of(schema: z.ZodType, io: "input" | "output"): Json {
    const { $defs, $schema: _, ...own } = z.toJSONSchema(schema, { io, unrepresentable: "any" }) as Json;
    for (const [name, each] of Object.entries(($defs ?? {}) as Json)) this.keep(name, each as Json);
    // A schema that has a name itself may come whole, and not as a pointer; it is kept like the others.
    const name = z.globalRegistry.get(schema)?.id;
    if (name === undefined || "$ref" in own) return moved(own) as Json;
    this.keep(name, own);
    return { $ref: `#/components/schemas/${name}` };
  }

  private keep(name: string, { id: _, ...schema }: Json): void {
    this.schemas[name] = moved(schema);
  }
}

/** With pointers into the components. */
const moved = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value).replaceAll('"#/$defs/', '"#/components/schemas/'));

const json = (schema: Json, example?: unknown) => ({
  "application/json": { schema, ...(example === undefined ? {} : { example }) },
});

function bulkAnswer(components: Components, operation: Operation): Json {
  return {
    type: "object",
    required: ["results"],
    properties: {
      results: {
        type: "array",
        items: {
          type: "object",
          required: ["index", "status"],
          properties: {
            index: { type: "integer", description: "Which of the items it answers, from 0." },
            status: { type: "integer", description: "200, or the status of its problem." },
            value: components.of(operation.answer, "output"),
            problem: components.of(problemSchema, "output"),
          },
        },
      },
    },
  };
}

const parameter = (
  components: Components,
  where: "path" | "query",
  name: string,
  schema: z.ZodType,
): Json => {
  const { description, ...shape } = components.of(schema, "input");
  return {
    ...{ name, in: where },
    ...(description === undefined ? {} : { description }),
    required: where === "path",
    schema: shape,
  };
};

const header = (name: string, description: string): Json => ({
  ...{ name, in: "header", required: false, description },
  schema: { type: "string" },
});

function operationOf(components: Components, operation: Operation): Json {
  const { area, name, does, method, params, query, body, item, answer, path } = operation;
  const isRead = method === "get";
  const hasReader = OPERATIONS.some((each) => each.method === "get" && each.path === path);
  const example = (of: "params" | "query", parameter: string) => {
    const given = operation.example[of]?.[parameter];
    return given === undefined ? {} : { example: given };
  };
  const bodySchema = item
    ? {
        ...components.of(bulkBody, "input"),
        properties: { items: { type: "array", maxItems: MOST_ITEMS, items: components.of(item, "input") } },
      }
    : body && components.of(body, "input");
  return {
    ...{ operationId: name, tags: [area], summary: does },
    description: `Needs the scope \`${area}:${powerOf(operation)}\`.`,
    parameters: [
      ...Object.entries(params).map(([each, schema]) => ({
        ...parameter(components, "path", each, schema),
        ...example("params", each),
      })),
      ...Object.entries(isRead ? { ...query, fields: fieldsParameter } : {}).map(([each, schema]) => ({
        ...parameter(components, "query", each, schema),
        ...example("query", each),
      })),
      ...(isRead
        ? [header("If-None-Match", "The ETag of what you have: 304 where it is still the same.")]
        : []),
      ...(isRead || operation.isLook
        ? []
        : [
            header(
              "Idempotency-Key",
              "The same request with the same key is carried out once; kept for a day.",
            ),
          ]),
      ...(!isRead && hasReader && method !== "post"
        ? [header("If-Match", "The ETag of what you read: 412 where it has changed since.")]
        : []),
    ],
    ...(bodySchema
      ? { requestBody: { required: true, content: json(bodySchema as Json, operation.example.body) } }
      : {}),
    responses: {
      200: {
        description: item ? "What became of each." : "Done.",
        ...(isRead ? { headers: { ETag: { schema: { type: "string" } } } } : {}),
        content: json(item ? bulkAnswer(components, operation) : components.of(answer, "output")),
      },
      default: {
        description: "It could not be done; the problem says why.",
        content: { "application/problem+json": { schema: components.of(problemSchema, "output") } },
      },
    },
  };
}

let made: Json | null = null;

/** The description as JSON; `url`: where this installation is reached. */
export function openApi(url: string): Json {
  made ??= make();
  return { ...made, servers: [{ url: `${url}/api/v1` }] };
}

function make(): Json {
  const components = new Components();
  const paths: Record<string, Json> = {};
  for (const operation of OPERATIONS)
    paths[operation.path] = {
      ...paths[operation.path],
      [operation.method]: operationOf(components, operation),
    };
  return {
    openapi: "3.1.0",
    info: {
      title: "Saudade",
      version: VERSION,
      description: [
        "What the pages do, for programs: with the same checks, consequences and permissions.",
        "Times are RFC 3339, in UTC. Collections are read with `cursor`; `next` is null at the end.",
        `Problems follow RFC 9457: ${PROBLEM_CODES.map((code) => `\`${code}\` (${statusOf(code)})`).join(", ")}.`,
        "How much a key may still ask stands in the headers `RateLimit` and `RateLimit-Policy`.",
      ].join("\n\n"),
    },
    security: [{ key: [] }],
    tags: AREA_NAMES.map((name) => ({
      name,
      description: `${AREAS[name][0]?.toUpperCase()}${AREAS[name].slice(1)}.`,
    })),
    paths,
    webhooks: Object.fromEntries(
      HAPPENING_KINDS.map((kind) => [
        kind,
        {
          post: {
            summary: `Told when ${HAPPENINGS[kind]}.`,
            description:
              "Signed as Standard Webhooks ask: `webhook-id`, `webhook-timestamp`, `webhook-signature`. The same id is the same happening.",
            requestBody: { content: json(components.of(payloadSchema, "output")) },
            responses: { "2XX": { description: "Taken. Anything else is tried again for three days." } },
          },
        },
      ]),
    ),
    components: {
      schemas: components.schemas,
      securitySchemes: {
        key: {
          type: "http",
          scheme: "bearer",
          description: `A key with the scopes that an operation asks for: ${SCOPES.join(", ")}.`,
        },
      },
    },
  };
}

/** The API's description as its page in the app shows it: line by line, without a browser that reads schemas. */
import { AREA_NAMES, AREAS, type Area } from "../../core/team/scopes.ts";
import { openApi } from "./openapi.ts";
import { OPERATIONS } from "./operations.ts";

type Json = { [name: string]: unknown };

export interface FieldLine {
  /** "company.name", "data[].id". */
  name: string;
  type: string;
  isRequired: boolean;
  about: string;
}

export interface DocumentedOperation {
  name: string;
  method: string;
  path: string;
  does: string;
  scope: string;
  parameters: FieldLine[];
  body: FieldLine[];
  answer: FieldLine[];
  /** A request that works, as a command. */
  example: string;
}

export interface DocumentedArea {
  area: Area;
  about: string;
  operations: DocumentedOperation[];
}

const MOST_DEPTH = 4;
const LONGEST_CHOICE = 8;

class Lines {
  constructor(private readonly schemas: Record<string, Json>) {}

  private whole(schema: Json): Json {
    const name = typeof schema.$ref === "string" ? schema.$ref.replace("#/components/schemas/", "") : null;
    return name === null ? schema : (this.schemas[name] ?? {});
  }

  /** Every field below a schema, the outer ones first. */
  of(schema: Json, before = "", depth = 0): FieldLine[] {
    const { properties, required, items } = this.bare(schema);
    if (items) return this.of(items as Json, `${before}[]`, depth);
    const needed = (required ?? []) as string[];
    return Object.entries((properties ?? {}) as Record<string, Json>).flatMap(([name, each]) => {
      const path = before === "" ? name : `${before}.${name}`;
      const line: FieldLine = {
        ...{ name: path, type: this.typeOf(each), isRequired: needed.includes(name) },
        about: String(each.description ?? this.bare(each).description ?? ""),
      };
      return depth >= MOST_DEPTH ? [line] : [line, ...this.of(each, path, depth + 1)];
    });
  }

  /** Of "this or null", this. */
  private bare(schema: Json): Json {
    const whole = this.whole(schema);
    const some = (whole.anyOf as Json[] | undefined)?.find((each) => each.type !== "null");
    return some ? this.bare(some) : whole;
  }

  typeOf(schema: Json): string {
    const whole = this.whole(schema);
    if (Array.isArray(whole.anyOf)) {
      const types = (whole.anyOf as Json[]).map((each) => this.typeOf(each));
      return [...new Set(types)].join(" or ");
    }
    if (Array.isArray(whole.enum)) {
      const choices = whole.enum.map(String);
      const shown = choices.slice(0, LONGEST_CHOICE).join(", ");
      return choices.length > LONGEST_CHOICE ? `${shown}, …` : shown;
    }
    if (whole.const !== undefined) return String(whole.const);
    if (whole.type === "array") return `list of ${this.typeOf((whole.items ?? {}) as Json)}`;
    if (whole.type === "string" && typeof whole.format === "string") return whole.format;
    return typeof whole.type === "string" ? whole.type : "anything";
  }
}

const quoted = (text: string) => `'${text.replaceAll("'", "'\\''")}'`;

let made: { url: string; areas: DocumentedArea[] } | null = null;

/** By area, every operation; `url`: where this installation is reached. */
export function documentation(url: string): DocumentedArea[] {
  if (made?.url === url) return made.areas;
  const described = openApi(url) as {
    paths: Record<string, Record<string, Json>>;
    components: { schemas: Record<string, Json> };
  };
  const lines = new Lines(described.components.schemas);
  const contentOf = (holder: unknown): Json =>
    ((holder as { content?: Record<string, { schema: Json }> } | undefined)?.content?.["application/json"]
      ?.schema ?? {}) as Json;
  const areas = AREA_NAMES.map((area) => ({
    area,
    about: AREAS[area],
    operations: OPERATIONS.filter((each) => each.area === area).map(
      ({ name, method, path, does, example }) => {
        const told = described.paths[path]?.[method] ?? {};
        const parameters = (told.parameters ?? []) as (Json & { name: string; in: string; schema: Json })[];
        return {
          ...{ name, method: method.toUpperCase(), path, does },
          scope: String(told.description).match(/`(.*)`/)?.[1] ?? "",
          parameters: parameters
            .filter((each) => each.in !== "header")
            .map((each) => ({
              ...{ name: each.name, type: lines.typeOf(each.schema), isRequired: each.required === true },
              about: String(each.description ?? ""),
            })),
          body: lines.of(contentOf(told.requestBody)),
          answer: lines.of(contentOf((told.responses as Json)[200])),
          example: commandOf(url, { method, path, example }),
        };
      },
    ),
  }));
  made = { url, areas };
  return areas;
}

function commandOf(
  url: string,
  { method, path, example }: Pick<(typeof OPERATIONS)[number], "method" | "path" | "example">,
): string {
  const { params = {}, query, body } = example;
  const at = path.replace(/\{(\w+)\}/g, (_, name: string) => params[name] ?? "");
  const asked = query ? `?${new URLSearchParams(query)}` : "";
  return [
    `curl ${method === "get" ? "" : `-X ${method.toUpperCase()} `}${quoted(`${url}/api/v1${at}${asked}`)}`,
    `-H "Authorization: Bearer $SAUDADE_KEY"`,
    ...(body === undefined
      ? []
      : [`-H 'Content-Type: application/json'`, `-d ${quoted(JSON.stringify(body))}`]),
  ].join(" \\\n  ");
}

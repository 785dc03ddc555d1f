/** The API's door in a test: the world of every route, a key for each of its users, and requests over HTTP. */
import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import express from "express";
import { SCOPES, type Scope } from "../../core/team/scopes";
import { apiDoor } from "../../server/api/door";
import { makeKey } from "../../server/api/keys";
import { createWorld, type World } from "../../server/tests/world";
import { SEED, USERS, type Who } from "./every-route";

const NOWHERE = { city: "", country: "", timeZone: "", phone: "", profile: "" };

export interface Answered {
  status: number;
  headers: Headers;
  body: Record<string, unknown> & { data?: unknown[]; results?: Record<string, unknown>[] };
}

export interface Api {
  world: World;
  url: string;
  keyOf(who: Who, scopes?: readonly Scope[]): string;
  ask(
    method: string,
    path: string,
    options?: { key?: string; body?: unknown; headers?: Record<string, string> },
  ): Promise<Answered>;
  close(): Promise<void>;
}

export async function startApi(): Promise<Api> {
  const world = await createWorld({ standin: false });
  world.app.db.exec(SEED);
  world.app.db.exec("UPDATE booking_pages SET slug = 'marta-quintela' WHERE user_id = 1");
  const found = {
    email: "found@pier.example",
    fields: {
      ...{ firstName: "Finn", lastName: "Pier", company: "Pier", companyDomain: "pier.example", title: "" },
      ...NOWHERE,
    },
    changes: [],
    company: { industry: "", employees: null, region: "", about: "" },
  };
  world.app.db
    .prepare(
      "INSERT INTO found_people (search_id, reference, raw, fields, name, fits) VALUES (1, 'r1', '{}', @fields, 'Finn Pier', 1)",
    )
    .run({ fields: JSON.stringify(found) });
  const web = express();
  web.disable("x-powered-by");
  web.use("/api/v1", apiDoor(world.app));
  const server: Server = await new Promise((resolve) => {
    const listening = web.listen(0, "127.0.0.1", () => resolve(listening));
  });
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`;
  const keys = new Map<string, string>();
  const keyOf: Api["keyOf"] = (who, scopes = SCOPES) => {
    const name = `${who} ${scopes}`;
    const known = keys.get(name);
    if (known) return known;
    const made = makeKey(world.app, USERS[who], { name: "Test", scopes, days: 30 });
    if (!made.ok) throw new Error(JSON.stringify(made.errors));
    keys.set(name, made.value);
    return made.value;
  };
  return {
    world,
    url,
    keyOf,
    async ask(method, path, { key = keyOf("owner"), body, headers = {} } = {}) {
      const answer = await fetch(url + path, {
        method,
        headers: {
          ...(key === "" ? {} : { authorization: `Bearer ${key}` }),
          ...(body === undefined ? {} : { "content-type": "application/json" }),
          connection: "close",
          ...headers,
        },
        ...(body === undefined ? {} : { body: typeof body === "string" ? body : JSON.stringify(body) }),
      });
      const text = await answer.text();
      return { status: answer.status, headers: answer.headers, body: text === "" ? {} : JSON.parse(text) };
    },
    async close() {
      server.closeAllConnections();
      server.close();
      await world.close();
    },
  };
}

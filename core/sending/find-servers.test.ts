import { describe, expect, it } from "vitest";
import { fromSrv, SERVICES, usualServers } from "./find-servers.ts";

const srv = (name: string, priority: number, weight: number, port = 465) => ({
  name,
  port,
  priority,
  weight,
});

describe("the servers that DNS names", () => {
  it("are tried by priority, of one by weight", () => {
    const answers = [srv("c.example", 20, 9), srv("b.example", 10, 1), srv("a.example", 10, 5, 587)];
    expect(fromSrv(answers, "starttls")).toEqual([
      { host: "a.example", port: 587, security: "starttls", by: "srv" },
      { host: "b.example", port: 465, security: "starttls", by: "srv" },
      { host: "c.example", port: 465, security: "starttls", by: "srv" },
    ]);
  });

  it("are none where it says that there is none", () => {
    expect(fromSrv([srv(".", 0, 0), srv("", 0, 0)], "tls")).toEqual([]);
  });

  it("are asked for with encryption from the start first", () => {
    expect(SERVICES).toEqual({
      smtp: [
        { service: "_submissions._tcp", security: "tls" },
        { service: "_submission._tcp", security: "starttls" },
      ],
      imap: [
        { service: "_imaps._tcp", security: "tls" },
        { service: "_imap._tcp", security: "starttls" },
      ],
    });
  });
});

describe("the servers by their usual names", () => {
  const shown = (...asked: Parameters<typeof usualServers>) =>
    usualServers(...asked).map(({ host, port, security, by }) => `${by} ${host}:${port} ${security}`);

  it("are those of whoever takes the mail, then those under the domain itself", () => {
    expect(shown("smtp", "q.example", ["host.example"])).toEqual([
      "mx smtp.host.example:465 tls",
      "mx smtp.host.example:587 starttls",
      "mx mail.host.example:465 tls",
      "mx mail.host.example:587 starttls",
      "name smtp.q.example:465 tls",
      "name smtp.q.example:587 starttls",
      "name mail.q.example:465 tls",
      "name mail.q.example:587 starttls",
    ]);
    expect(shown("imap", "q.example", ["q.example"])).toEqual([
      "name imap.q.example:993 tls",
      "name imap.q.example:143 starttls",
      "name mail.q.example:993 tls",
      "name mail.q.example:143 starttls",
    ]);
  });
});

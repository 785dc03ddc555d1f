import { createServer } from "node:net";
import { describe, expect, it } from "vitest";
import { projectRoot, readConfig } from "./config.ts";
import { AppError } from "./errors.ts";
import { requireFreePort } from "./processes.ts";
import { freePort } from "./tests/free-port.ts";

describe("settings", () => {
  it("have values that work on one machine", () => {
    expect(readConfig({})).toMatchObject({
      database: `${projectRoot}/data/saudade.db`,
      url: "http://127.0.0.1:3000",
      demo: false,
      settleSeconds: 600,
    });
    expect(readConfig({ SAUDADE_URL: "https://desk.example/" }).url).toBe("https://desk.example");
  });

  it.each([
    ["SAUDADE_PORT", "http"],
    ["SAUDADE_PORT", "70000"],
    ["SAUDADE_KEY", "short"],
    ["SAUDADE_URL", "desk.example"],
    ["SAUDADE_TICK", "0"],
  ])("that cannot be used are named: %s=%s", (name, value) => {
    expect(() => readConfig({ [name]: value })).toThrow(name);
  });
});

it("a port in use is named with the setting that chooses another; a free one passes", async () => {
  const port = await freePort();
  await requireFreePort(port, "127.0.0.1", "SAUDADE_PORT");
  const busy = createServer();
  await new Promise<void>((ready) => busy.listen(port, "127.0.0.1", ready));
  await expect(requireFreePort(port, "127.0.0.1", "SAUDADE_PORT")).rejects.toThrow(
    `${port} on 127.0.0.1 is busy. Choose another with SAUDADE_PORT=`,
  );
  await expect(requireFreePort(port, "127.0.0.1", "X")).rejects.toBeInstanceOf(AppError);
  await new Promise((closed) => busy.close(closed));
});

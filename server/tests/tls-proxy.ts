/** What any reverse proxy does: ends TLS, hands on by plain HTTP, and says who asked and how. */
import { request } from "node:http";
import { createServer } from "node:https";
import { generate } from "selfsigned";

export interface TlsProxy {
  stop(): void;
}

/** Listens on `port` for `host`, with a certificate of its own, before the web server on `to`; a request may name its caller (`x-test-caller`). */
export async function startTlsProxy(host: string, port: number, to: number): Promise<TlsProxy> {
  const pems = await generate([{ name: "commonName", value: host }], { keySize: 2048 });
  const proxy = createServer({ key: pems.private, cert: pems.cert }, (asked, answer) => {
    const forward = request(
      {
        port: to,
        host: "127.0.0.1",
        method: asked.method,
        path: asked.url,
        headers: {
          ...asked.headers,
          "x-forwarded-for": String(asked.headers["x-test-caller"] ?? asked.socket.remoteAddress),
          "x-forwarded-proto": "https",
        },
      },
      (got) => {
        answer.writeHead(got.statusCode ?? 502, got.headers);
        got.pipe(answer);
      },
    );
    forward.on("error", () => answer.destroy());
    asked.pipe(forward);
  });
  await new Promise<void>((ready) => proxy.listen(port, "127.0.0.1", ready));
  return {
    stop() {
      proxy.closeAllConnections();
      proxy.close();
    },
  };
}

/** Reading 1,000 hostile messages, in the thread where they can be given up, against 1,000 ordinary ones. */
import { seeded } from "../core/random.ts";
import { readMessage, stopReading } from "../server/mail/read-message.ts";
import type { Figure } from "./figure.ts";

const MESSAGES = 1_000;
const SIZE = 60_000;

const head = (nth: number) =>
  `From: Ilse <ilse${nth}@kai.example>\r\nMessage-ID: <${nth}@kai.example>\r\nSubject: Re: Loans\r\n`;
const usual = (nth: number) =>
  `${head(nth)}\r\nYes, please tell me more.\r\n\r\nOn Tue, 9 Jun 2026, Marta wrote:\r\n${"> A line of the email that they quote.\r\n".repeat(60)}`;

/** Shapes that made parsers slow, each message another one. */
const SHAPES: ((draw: () => number) => string)[] = [
  () => `\r\n${"\r\n".repeat(SIZE / 2)}`,
  () => `\r\n<${"a@".repeat(SIZE / 2)}`,
  () => `\r\n${"> ".repeat(SIZE / 2)}`,
  () => `Content-Type: text/html\r\n\r\n${"<div>".repeat(SIZE / 5)}`,
  () => `Content-Type: text/html\r\n\r\n${"<a href='".repeat(SIZE / 9)}`,
  () => `X-Long: ${"a".repeat(SIZE)}\r\n\r\nYes`,
  () => `References: ${"<a@b.example> ".repeat(SIZE / 14)}\r\n\r\nYes`,
  (draw) => {
    const parts = Array.from(
      { length: 40 },
      (_, depth) => `Content-Type: multipart/mixed; boundary="b${depth}"\r\n\r\n--b${depth}\r\n`,
    );
    return `${parts.join("")}\r\n${"x".repeat(Math.floor(draw() * 1_000))}`;
  },
  () =>
    `Content-Type: multipart/report; boundary="b"\r\n\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\n${"Action: failed\r\n\r\n".repeat(SIZE / 18)}--b--`,
  () =>
    `Content-Type: text/plain; charset=utf-7\r\nContent-Transfer-Encoding: base64\r\n\r\n${"=".repeat(SIZE)}`,
];

async function read(messages: readonly string[]): Promise<{ ms: number; givenUp: number; slowest: number }> {
  let givenUp = 0;
  let slowest = 0;
  const began = performance.now();
  for (const message of messages) {
    const from = performance.now();
    await readMessage(Buffer.from(message), 0).catch(() => givenUp++);
    slowest = Math.max(slowest, performance.now() - from);
  }
  return { ms: performance.now() - began, givenUp, slowest };
}

export async function benchHostileMail(): Promise<Figure> {
  const draw = seeded("hostile mail");
  const all = Array.from({ length: MESSAGES }, (_, nth) => nth);
  await read([usual(0)]);
  const plain = await read(all.map(usual));
  const hostile = await read(
    all.map((nth) => head(nth) + (SHAPES[nth % SHAPES.length] as (typeof SHAPES)[number])(draw)),
  );
  await stopReading();
  return {
    bench: "hostile-mail",
    ratio: Number((hostile.ms / plain.ms).toFixed(1)),
    limit: 60,
    kind: "most",
    messages: MESSAGES,
    kilobytesEach: SIZE / 1_000,
    msEach: Number((hostile.ms / MESSAGES).toFixed(1)),
    usualMsEach: Number((plain.ms / MESSAGES).toFixed(1)),
    slowestMs: Math.round(hostile.slowest),
    givenUp: hostile.givenUp,
  };
}

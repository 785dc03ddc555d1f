/** The thread so far, below an email. */
import { dayOf } from "../calendar.ts";

const DAY = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  month: "long",
  year: "numeric",
  timeZone: "UTC",
});

/** Plain text, and the same as Markdown in which nothing is a sign. Begins with two line ends. */
export function quoteBelow(
  earlier: { body: string; sentAt: number; senderName: string },
  zone: string,
): { text: string; markup: string } {
  const day = DAY.format(new Date(`${dayOf(earlier.sentAt, zone)}T12:00:00Z`));
  const head = `On ${day}, ${earlier.senderName} wrote:`;
  const lines = earlier.body.split("\n");
  const protectedLine = (line: string) => line.trimStart().replace(/[!-/:-@[-`{-~]/g, "\\$&");
  return {
    text: `\n\n${head}\n${lines.map((line) => (line === "" ? ">" : `> ${line}`)).join("\n")}`,
    markup: `\n\n${protectedLine(head)}\n\n${lines.map((line) => `> ${protectedLine(line)}`).join("\n")}`,
  };
}

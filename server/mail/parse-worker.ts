/** What the worker thread does: parses one message. */
import { type ParsedMessage, parseMessage } from "./parse.ts";

export default function parse({
  source,
  arrivedAt,
}: {
  source: Uint8Array;
  arrivedAt: number;
}): Promise<ParsedMessage> {
  return parseMessage(Buffer.from(source), arrivedAt);
}

/** What a chat channel is told of a happening: a line, and links in place of buttons. */
import { channelText } from "../../core/connections/channel.ts";
import { HAPPENINGS } from "../../core/connections/happenings.ts";
import { plainLine } from "../../core/plain-line.ts";
import { STAGE_NAMES, type Stage } from "../../core/prospects/stages.ts";
import type { Payload } from "./payload.ts";

const EXCERPT = 160;

export interface ChannelMessage {
  text: string;
  links: { text: string; url: string }[];
}

/** `url`: where this installation is reached. */
export function channelMessage({ type, data }: Payload, words: string, url: string): ChannelMessage {
  const { prospect, reply, sequence, detail, to } = data;
  const name = prospect ? `${prospect.firstName} ${prospect.lastName}`.trim() || (prospect.email ?? "") : "";
  const links = prospect ? [{ text: `Open ${name}`, url: `${url}/prospects/${prospect.id}` }] : [];
  if (reply) links.push({ text: "Read the letter", url: `${url}/replies?reply=${reply.id}&show=people` });
  // A rule says it in its own words.
  if (type === "test" || type === "rule.acted") return { text: detail ?? "", links };
  const says =
    to !== null
      ? `Now “${STAGE_NAMES[to as Stage] ?? to}”`
      : reply
        ? [reply.label?.name, `“${plainLine(reply.text, EXCERPT)}”`].filter(Boolean).join(": ")
        : (data.meeting?.startsAt ?? data.mailbox?.address ?? detail ?? "");
  return {
    text: channelText(words, {
      what: HAPPENINGS[type],
      first_name: prospect?.firstName || (prospect ? name : "Somebody"),
      last_name: prospect?.lastName ?? "",
      title: prospect?.title ?? "",
      company: prospect?.company?.name ?? "",
      stage: prospect ? STAGE_NAMES[prospect.stage] : "",
      owner: prospect?.owner?.name ?? "",
      sequence: sequence?.name ?? "",
      says,
    }),
    links,
  };
}

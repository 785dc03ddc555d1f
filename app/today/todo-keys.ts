import type { TodoItem } from "../../server/today/todo-item";

/** The keys of an open thing, and what each does to it. */
export function pressed(item: TodoItem, key: string): [intent: string, body: Record<string, unknown>] | null {
  const done = key === "d";
  const skip = key === "s";
  const later = key === "l";
  if ("touchId" in item) {
    const outcomes = ["reached", "voicemail", "no_answer", "wrong_number"];
    const outcome = item.kind === "call" ? outcomes[Number(key) - 1] : undefined;
    if (outcome) return ["done", { id: item.touchId, outcome }];
    if (done && item.kind !== "call") return ["done", { id: item.touchId }];
    if (skip) return ["skip", { id: item.touchId }];
    return later ? ["later", { id: item.touchId, days: 1 }] : null;
  }
  if ("reminderId" in item && item.reminderId !== null) {
    if (done) return ["reminder-done", { id: item.reminderId }];
    if (skip) return ["reminder-skip", { id: item.reminderId }];
    return later ? ["reminder-later", { id: item.reminderId, days: 1 }] : null;
  }
  if (item.kind === "warm" && (done || skip))
    return [done ? "warm-done" : "warm-skip", { prospectId: item.person.id }];
  if (item.kind === "drift" && done)
    return ["drift-seen", { mailboxId: item.mailboxId, of: item.of, since: item.since }];
  if (item.kind === "meeting_over" && done) return ["met", { token: item.token, how: "held" }];
  if (item.kind === "company" && done) return ["release", { companyId: item.company.companyId }];
  return null;
}

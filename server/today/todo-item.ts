import type { RepStep } from "../../core/sequence/path.ts";
import type { Place, SeenLately } from "../../core/today/order.ts";
import type { SenderDrift } from "../results/senders.ts";
import type { HeldCompany } from "./own-touches.ts";
import type { Person } from "./person.ts";

/** What there is to do, by its kind; `key` says which one it is through every change of the list. */
export type TodoItem = { key: string; place: Place; dueAt: number } & (
  | { kind: "replies"; count: number; readings: { label: string; count: number }[] }
  | {
      kind: "call" | "social" | "errand";
      touchId: number;
      step: RepStep["kind"];
      person: Person;
      stepName: string;
      sequenceName: string;
      text: string;
    }
  | {
      kind: "reminder" | "come_back" | "errand" | "thanks" | "next_step";
      reminderId: number;
      person: Person;
      text: string;
      replyId: number | null;
    }
  | { kind: "drafts"; count: number; behind: number }
  | {
      kind: "meeting" | "meeting_over";
      token: string;
      person: Person | null;
      name: string;
      startsAt: number;
      phone: string;
      where: string;
      attendance: string;
    }
  | ({ kind: "warm"; person: Person } & SeenLately)
  | { kind: "field"; field: string; sequenceName: string; people: number; first: Person }
  | {
      kind: "hold";
      reason: string;
      detail: string | null;
      people: number;
      sequenceId: number;
      sequenceName: string;
      listId: number | null;
    }
  | { kind: "company"; company: HeldCompany }
  | {
      kind: "mailbox";
      mailboxId: number;
      address: string;
      state: string;
      restReason: string | null;
      restUntil: number | null;
      trouble: string | null;
      people: number;
    }
  | { kind: "connection"; title: string; because: string; path: string }
  | ({ kind: "drift"; mailboxId: number; address: string } & SenderDrift)
  | { kind: "next_step"; reminderId: null; people: Person[]; total: number }
);

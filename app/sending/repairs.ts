/** Where what keeps somebody waiting is mended, if it can be. */
import type { WaitReason } from "../../core/sending/reasons";

export interface Repair {
  to: string;
  words: string;
}

const limits: Repair = { to: "/sending#what-if", words: "see what more would do" };
const sequences: Repair = { to: "/sequences", words: "open Sequences" };
const mailboxes: Repair = { to: "/sending", words: "look at the mailboxes" };
const accounts: Repair = { to: "/settings?show=sending", words: "look at the accounts" };
const today: Repair = { to: "/", words: "do it on Today" };
const rules: Repair = { to: "/settings?show=sending", words: "change the rule" };

export const REPAIRS: Record<WaitReason, Repair | null> = {
  wait_days: null,
  outside_hours: null,
  holiday: sequences,
  mailbox_limit: limits,
  ramp: limits,
  hour_limit: limits,
  gap: limits,
  new_a_day: sequences,
  ratio: rules,
  domain_cap: rules,
  pace: sequences,
  touched_lately: rules,
  account_limit: accounts,
  account_signed_out: accounts,
  account_paused: accounts,
  in_line: null,
  settling: null,
  undecided: { to: "/sending#undecided", words: "decide about them" },
  likely_reply: { to: "/replies", words: "decide on Replies" },
  merge_field_empty: { to: "/prospects", words: "fill it in" },
  line_unread: { to: "/prospects", words: "read it on the list's research" },
  picture_unmade: null,
  text_broken: sequences,
  sequence_paused: { to: "/sequences", words: "let it run again" },
  mailbox_paused: mailboxes,
  mailbox_resting: mailboxes,
  mailbox_unreachable: mailboxes,
  mailbox_stopped: mailboxes,
  no_mailbox: sequences,
  refused_for_now: null,
  address_not_good: { to: "/prospects", words: "check the addresses" },
  no_address: { to: "/prospects", words: "find an address" },
  task_open: today,
  draft_open: today,
  first_ones: today,
  fork_open: null,
  paused_by_rep: sequences,
  colleague_replied: today,
  away: null,
  came_back_twice: today,
  challenged: { to: "/replies", words: "decide on Replies" },
  refused_by_host: { to: "/sequences", words: "let them go on, or take them out" },
  after_restore: { to: "/sending#restored", words: "decide about them" },
};

/** Rules to begin with: what they name (a list, a sequence, a colleague) is chosen by whoever takes one; 0 stands for it. */
import type { Rule, RuleStep } from "./rule.ts";

export interface RuleExample {
  name: string;
  about: string;
  rule: Rule;
}

const now = (act: RuleStep["act"]): RuleStep => ({ after: { kind: "now" }, act });
const rule = (when: Rule["when"], isOnce: boolean, ...steps: RuleStep[]): Rule => ({
  when,
  filter: "",
  isOnce,
  steps,
});

export const RULE_EXAMPLES: readonly RuleExample[] = [
  {
    name: "Welcome from the web form",
    about: "Whoever fills in a list's form is started on a welcome, and the list's owner knows of it.",
    rule: rule(
      { kind: "form", listId: 0 },
      true,
      now({ kind: "start", sequenceId: 0 }),
      now({ kind: "notify", userId: null, text: "{{first_name}} {{last_name}} filled in the form." }),
    ),
  },
  {
    name: "Enough once they are won",
    about: "At the stage “Won” everything that is planned for somebody stops.",
    rule: rule({ kind: "stage", to: "won" }, false, now({ kind: "stop" })),
  },
  {
    name: "A yes goes to a seller",
    about:
      "An answer that is labelled “Interested” sets the stage, goes to sellers by turns, and asks for a call that day.",
    rule: rule(
      { kind: "label", label: "interested" },
      false,
      now({ kind: "stage", to: "in_conversation" }),
      now({ kind: "owner", userIds: [] }),
      now({ kind: "remind", what: "call", text: "{{first_name}} of {{company}} wants to talk.", inDays: 0 }),
    ),
  },
  {
    name: "Looked three times, wrote nothing",
    about: "Who opens one email three times is worth a call the next morning.",
    rule: rule({ kind: "opened", times: 3 }, true, {
      after: { kind: "at", time: "09:00" },
      act: {
        kind: "remind",
        what: "call",
        text: "{{first_name}} looked at the email three times.",
        inDays: 0,
      },
    }),
  },
  {
    name: "Nobody came to the call",
    about: "Half an hour after a call that was missed, whoever it was with is asked to offer another time.",
    rule: rule({ kind: "missed" }, false, {
      after: { kind: "wait", amount: 30, unit: "minutes" },
      act: { kind: "remind", what: "errand", text: "Offer {{first_name}} another time.", inDays: 0 },
    }),
  },
  {
    name: "Before a contract ends",
    about: "Ninety days before the date in a field, a colleague gets an email and somebody an errand.",
    rule: rule(
      { kind: "date", field: "custom:contract_ends", days: 90 },
      false,
      now({
        kind: "mail",
        userId: null,
        subject: "{{company}}: the contract ends in 90 days",
        body: "{{first_name}} {{last_name}} is who we know there. A good time to ask how it went.",
      }),
      now({ kind: "remind", what: "errand", text: "Ask {{company}} how the year went.", inDays: 7 }),
    ),
  },
  {
    name: "A deal is won",
    about:
      "When the sales team wins a deal in the CRM, the chat channel reads it, and the person's stage says so.",
    rule: rule(
      { kind: "deal", to: "Won" },
      false,
      now({ kind: "stage", to: "won" }),
      now({ kind: "webhook", webhookId: 0, text: "{{company}} is won. Well done." }),
    ),
  },
];

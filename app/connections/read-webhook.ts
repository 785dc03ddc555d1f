import { readText } from "../desk/read-form";

/** What a webhook's form says, as its use case takes it; what is wrong with its channel stands at the field. */
export const readWebhook = ({
  format,
  words,
  quietFrom,
  quietUntil,
  kinds,
  ...form
}: Record<string, string>) => ({
  ...form,
  kinds: readText(kinds || "[]"),
  channel: format === "channel" ? { words, quietFrom, quietUntil } : null,
});

/** The errors of a channel by the names of the form's fields. */
export const atFields = <T extends { ok: boolean; errors?: Record<string, string> }>(outcome: T): T =>
  outcome.errors
    ? {
        ...outcome,
        errors: Object.fromEntries(
          Object.entries(outcome.errors).map(([field, message]) => [
            field.replace(/^channel\./, ""),
            message,
          ]),
        ),
      }
    : outcome;

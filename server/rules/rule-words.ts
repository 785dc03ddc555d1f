/** Why a rule acted, in the words of its log and of “Why?”. */
import { STAGE_NAMES } from "../../core/prospects/stages.ts";
import type { When } from "../../core/rules/rule.ts";
import { type Db, sql } from "../db/open.ts";

export function becauseOf(db: Db, when: When): string {
  const listName = (id: number) =>
    sql(db, "SELECT name FROM lists WHERE id = @id").get<{ name: string }>({ id })?.name ?? "a list";
  switch (when.kind) {
    case "form":
      return `they filled in the form of “${listName(when.listId)}”`;
    case "listed":
      return `they came onto “${listName(when.listId)}”`;
    case "stage":
      return `they came to “${STAGE_NAMES[when.to]}”`;
    case "field":
      return when.to === "" ? `“${when.field}” changed` : `“${when.field}” became “${when.to}”`;
    case "owner":
      return "they were given to somebody else";
    case "label": {
      const name = sql(db, "SELECT name FROM labels WHERE coalesce(key, 'own-' || id) = @label").get<{
        name: string;
      }>({
        label: when.label,
      })?.name;
      return `their answer was labelled “${name ?? when.label}”`;
    }
    case "answered":
      return "they answered";
    case "opened":
      return when.times === 1 ? "they opened an email" : `they opened an email ${when.times} times`;
    case "clicked":
      return "they followed a link";
    case "watched":
      return when.share === 0 ? "they began to watch the film" : `they watched ${when.share} % of the film`;
    case "booked":
      return "they booked a call";
    case "missed":
      return "they did not come to a call";
    case "silent":
      return `they were silent for ${when.days} ${when.days === 1 ? "day" : "days"}`;
    case "date":
      return `“${when.field.replace(/^custom:/, "")}” is ${when.days === 0 ? "today" : when.days > 0 ? `in ${when.days} days` : `${-when.days} days ago`}`;
    case "deal":
      return when.to === "" ? "their deal moved on in the CRM" : `their deal came to “${when.to}” in the CRM`;
    case "called":
      return "another program called it";
  }
}

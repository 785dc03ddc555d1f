/** What a label would do, in words, before it is set: the same consequences that setting it applies. */
import { STAGE_NAMES, type Stage } from "../../core/prospects/stages.ts";
import { consequences, type StopSettings } from "../../core/replies/consequences.ts";
import type { LabelEffects } from "../../core/replies/label-effects.ts";
import { settingsFor } from "../db/holds.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql } from "../db/open.ts";
import type { LabelRow } from "./labels.ts";

export interface PreviewLine {
  verb:
    | "Stops"
    | "Lets go on"
    | "Waits"
    | "Keeps waiting"
    | "Holds"
    | "Releases"
    | "Moves"
    | "Blocks"
    | "Adds"
    | "Reminds"
    | "Changes";
  words: string;
}

export interface LabelFacts {
  name: string;
  stage: Stage;
  /** What is still planned for them, and the sequence; null if none runs. */
  running: { sequence: string; steps: number } | null;
  /** The sequence that this reply stopped, if it can go on. */
  stopped: string | null;
  colleagues: string[];
  company: string;
  holdsCompany: boolean;
  lists: ReadonlyMap<number, string>;
  /** Of the sequence that it is about; undefined for none. */
  settings: StopSettings | undefined;
}

/** The same consequences that setting the label applies, in words. */
export function previewLabel(
  label: Pick<LabelRow, "code" | "name"> & { effects: LabelEffects },
  facts: LabelFacts,
  day: string | null,
): PreviewLine[] {
  const first = facts.name.split(" ")[0] ?? facts.name;
  const lines: PreviewLine[] = [];
  const add = (verb: PreviewLine["verb"], words: string) => lines.push({ verb, words });
  for (const each of consequences(
    {
      kind: "labelled",
      label: label.code,
      name: label.name,
      effects: label.effects,
      day,
    },
    facts.settings,
  ))
    switch (each.do) {
      case "stop":
        if (facts.running)
          add(
            "Stops",
            `${facts.running.sequence} for ${first}: ${count(facts.running.steps, "step")} that ${facts.running.steps === 1 ? "was" : "were"} to come`,
          );
        break;
      case "resume":
        if (each.awaited && (facts.stopped || facts.running))
          add(
            "Lets go on",
            `${facts.stopped ?? facts.running?.sequence} for ${first}, on the way of this label`,
          );
        else if (facts.stopped) add("Lets go on", `${facts.stopped} for ${first}, as if nobody had answered`);
        break;
      case "leave_until":
        add("Waits", `until the working day after ${each.day}`);
        break;
      case "hold_company":
        if (facts.colleagues.length > 0)
          add(
            facts.holdsCompany ? "Keeps waiting" : "Holds",
            `${count(facts.colleagues.length, "colleague")} at ${facts.company}: ${named(facts.colleagues)}`,
          );
        break;
      case "release_company":
        if (facts.holdsCompany && facts.colleagues.length > 0)
          add(
            "Releases",
            `${count(facts.colleagues.length, "colleague")} at ${facts.company}: ${named(facts.colleagues)}`,
          );
        break;
      case "set_stage":
        if (each.to !== facts.stage)
          add("Moves", `${first} from ${STAGE_NAMES[facts.stage]} to ${STAGE_NAMES[each.to]}`);
        break;
      case "block":
        add("Blocks", `every address of ${first}: nothing is ever sent there again`);
        break;
      case "errand":
        add("Adds", `to Today: ${each.text}`);
        break;
      case "add_to_list": {
        const list = facts.lists.get(each.listId);
        if (list) add("Adds", `${first} to the list ${list}`);
        break;
      }
      case "remind":
        add("Reminds", each.kind === "come_back" ? `you on ${each.day} to write again` : `you: ${each.text}`);
        break;
    }
  return lines;
}

const count = (number: number, word: string) => `${number} ${word}${number === 1 ? "" : "s"}`;
const named = (names: readonly string[]) =>
  names.length <= 3 ? names.join(", ") : `${names.slice(0, 3).join(", ")} and ${names.length - 3} more`;

/** What the preview needs to know about the prospect of a reply. */
export function labelFacts(db: Db, replyId: number, steps: (journeyId: number) => number): LabelFacts | null {
  const row = sql(
    db,
    `SELECT p.id AS prospectId, p.company_id AS companyId, ${nameSql()} AS name,
       p.stage, p.company, t.journey_id AS journeyId,
       (SELECT s.name FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE j.id = t.journey_id AND j.state = 'stopped' AND j.stop_reason = 'replied') AS stopped,
       EXISTS (SELECT 1 FROM holds h WHERE h.scope = 'company' AND h.scope_id = p.company_id AND h.cause_prospect_id = p.id) AS held
     FROM replies r JOIN prospects p ON p.id = r.prospect_id LEFT JOIN touches t ON t.id = r.touch_id WHERE r.id = @replyId`,
  ).get<
    Omit<LabelFacts, "running" | "colleagues" | "lists" | "holdsCompany" | "settings"> & {
      prospectId: number;
      journeyId: number | null;
      companyId: number | null;
      held: 0 | 1;
    }
  >({ replyId });
  if (!row) return null;
  const running = sql(
    db,
    `SELECT j.id, s.name AS sequence FROM journeys j JOIN sequences s ON s.id = j.sequence_id
     WHERE j.prospect_id = @prospectId AND j.state = 'active'`,
  ).get<{ id: number; sequence: string }>({ prospectId: row.prospectId });
  const { name, stage, company, stopped } = row;
  return {
    name,
    stage,
    company,
    stopped,
    holdsCompany: row.held === 1,
    settings: settingsFor(db, row.prospectId, row.journeyId),
    running: running ? { sequence: running.sequence, steps: steps(running.id) } : null,
    colleagues: sql(
      db,
      `SELECT ${nameSql()} AS name FROM prospects p
       JOIN journeys j ON j.prospect_id = p.id AND j.state = 'active' JOIN companies c ON c.id = p.company_id
       WHERE p.company_id = @companyId AND p.id != @prospectId AND c.domain IS NOT NULL AND NOT is_free_mail(c.domain) ORDER BY p.last_name LIMIT 50`,
    )
      .all<{ name: string }>({ companyId: row.companyId, prospectId: row.prospectId })
      .map((each) => each.name),
    lists: new Map(
      sql(db, "SELECT id, name FROM lists")
        .all<{ id: number; name: string }>([])
        .map((list) => [list.id, list.name]),
    ),
  };
}

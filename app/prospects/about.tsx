/** What is known of one person: every value with where it comes from, notes, the history of changes, and their own rights. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { Link } from "react-router";
import { countryName } from "../../core/countries";
import { employeesText } from "../../core/prospects/employees";
import { PERSON_FIELDS } from "../../core/prospects/fields";
import type { ProspectStory } from "../../server/prospects/people/prospect-story";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { Row } from "../components/row";
import { useAction } from "../components/use-action";
import { count, dayTime } from "../components/words";
import { BeforeAfter } from "./import-review";
import { fieldName, RULE_NAMES, SOURCE_WORDS } from "./words";

const ORIGIN_WORDS = {
  import: "from the file",
  directory: "from the search",
  form: "from the web form of",
  typed: "typed in",
};

/** How the person came in, which is where every value is from of which nothing else is said. */
const cameFrom = ({ prospect, originName }: ProspectStory) =>
  `${ORIGIN_WORDS[prospect.origin]}${originName ? ` “${originName}”` : ""}`;

/** Where what is shown of a field comes from, if not from where the person came from: its latest change, or the cleaning. */
function sourceOf(
  { changes, cleanings }: ProspectStory,
  field: string,
  shown: string,
  zone: string,
): string | null {
  const change = changes.find((each) => each.field === field);
  if (change)
    return `${SOURCE_WORDS[change.source]}${change.by ? ` by ${change.by}` : ""}, ${dayTime(change.at, zone)}${change.detail ? `: ${change.detail}` : ""}`;
  const cleaning = cleanings.find((each) => each.field === field);
  // A country is kept as its code, and shown as the file had it.
  if (!cleaning || cleaning.original === shown) return null;
  if (cleaning.original !== "") return `cleaned, was “${cleaning.original}”`;
  return field === "timeZone" ? "read from the place" : "parted from the first name";
}

export const capitalised = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

export function AboutThem({ story, zone }: { story: ProspectStory; zone: string }) {
  const { prospect, company } = story;
  const fields: [label: string, field: string, value: string][] = [
    ...PERSON_FIELDS.map((field): [string, string, string] => [
      fieldName(field),
      field,
      field === "country" ? countryName(prospect.country) : (prospect[field] ?? ""),
    ]),
    ...Object.entries(prospect.custom).map(([name, value]): [string, string, string] => [
      name.replaceAll("_", " "),
      `custom:${name}`,
      value,
    ]),
  ];
  return (
    <Box component="section" aria-label="What is known">
      <Typography variant="h2">What is known, and from where</Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        {capitalised(cameFrom(story))}, unless something else is said.
      </Typography>
      <Box component="dl" sx={{ m: 0 }}>
        {fields.map(([label, field, value]) => {
          const source = sourceOf(story, field, value, zone);
          return (
            <Row columns="96px minmax(0,1fr)" key={field} sx={{ gap: 1, py: 0.6 }}>
              <Typography component="dt" variant="body2" color="textSecondary">
                {label}
              </Typography>
              <Box component="dd" sx={{ m: 0, minWidth: 0 }}>
                <Typography sx={{ wordBreak: "break-word" }}>{value || "–"}</Typography>
                {value !== "" && source !== null && (
                  <Typography variant="caption" color="textSecondary" component="div">
                    {source}
                  </Typography>
                )}
              </Box>
            </Row>
          );
        })}
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {story.owner ? `Owner: ${story.owner}. ` : ""}
        {story.lists.length > 0 ? "On " : "On no list"}
        {story.lists.map(({ id, name }, nth) => (
          <span key={id}>
            {nth > 0 && ", "}
            <Link to={`/prospects?list=${id}`}>{name}</Link>
          </span>
        ))}
        {". "}
        {company?.industry && `${prospect.company}: ${company.industry}`}
        {company?.employees && `, ${employeesText(company.employees)} employees`}
        {company?.industry && "."}
      </Typography>
    </Box>
  );
}

export function Notes({ story, zone }: { story: ProspectStory; zone: string }) {
  const form = useRef<HTMLFormElement>(null);
  const add = useAction({}, () => form.current?.reset());
  return (
    <Box component="section" aria-label="Notes">
      <Typography variant="h2" sx={{ mb: 1 }}>
        Notes
      </Typography>
      <add.Form method="post" ref={form}>
        <TextField
          name="text"
          multiline
          minRows={2}
          label="What your teammates should know"
          error={!!add.errors.note}
          helperText={add.errors.note}
        />
        <Button type="submit" name="intent" value="note" size="small" sx={{ mt: 1 }} disabled={add.isBusy}>
          Note it
        </Button>
      </add.Form>
      {story.notes.map(({ id, text, by, at }) => (
        <Box key={id} sx={{ borderTop: "1px solid", borderColor: "divider", py: 1, mt: 1 }}>
          <Typography sx={{ whiteSpace: "pre-wrap" }}>{text}</Typography>
          <Typography variant="caption" color="textSecondary">
            {by}, {dayTime(at, zone)}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** The history of changes, and what cleaning did. */
export function Story({ story, zone }: { story: ProspectStory; zone: string }) {
  const { changes, cleanings } = story;
  if (changes.length + cleanings.length === 0) return null;
  return (
    <Box component="section" aria-label="Changes" sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        What was changed
      </Typography>
      {changes.map(({ id, field, before, after, source, by, at }) => (
        <Line
          key={id}
          label={fieldName(field)}
          what={<BeforeAfter before={before} after={after} />}
          who={`${SOURCE_WORDS[source]}${by ? ` by ${by}` : ""}, ${dayTime(at, zone)}`}
        />
      ))}
      {cleanings.map(({ field, original, cleaned, rules }) => (
        <Line
          key={field}
          label={fieldName(field)}
          what={<BeforeAfter before={original} after={cleaned} />}
          who={rules.map((rule) => RULE_NAMES[rule] ?? rule).join("; ")}
        />
      ))}
    </Box>
  );
}

function Line({ label, what, who }: { label: string; what: React.ReactNode; who: string }) {
  return (
    <Row columns={{ xs: "minmax(0,1fr)", sm: "110px minmax(0,1fr) minmax(0,1fr)" }} sx={{ py: 0.6 }}>
      <Typography variant="body2" color="textSecondary">
        {label}
      </Typography>
      <Typography variant="body2" component="div" noWrap>
        {what}
      </Typography>
      <Typography variant="body2" color="textSecondary">
        {who}
      </Typography>
    </Row>
  );
}

export function EraseDialog({
  story,
  open,
  onClose,
}: {
  story: ProspectStory;
  open: boolean;
  onClose: () => void;
}) {
  const { prospect } = story;
  const name = `${prospect.firstName} ${prospect.lastName}`.trim() || prospect.email;
  return (
    <FormDialog
      open={open}
      title={`The data of ${name}`}
      keep="Close"
      act="Erase them for good"
      intent="erase"
      isDanger
      width="sm"
      onClose={onClose}
    >
      {(errors) => (
        <div>
          <Typography sx={{ mb: 1.5 }}>
            If they ask what you keep about them, give them this file: everything, with the emails, the calls
            and the notes. Anybody in the team may hand it out; only their owner or a manager erases them.
          </Typography>
          <Button component="a" href={`/prospects/${prospect.id}/letters`} download>
            Letters (EML)
          </Button>
          <Button component="a" href={`/prospects/${prospect.id}/data`} download>
            Download everything about them
          </Button>
          <Typography variant="h3" sx={{ mt: 3, mb: 1 }}>
            Erase them for good
          </Typography>
          <Typography sx={{ mb: 2 }}>
            {count(story.conversation.length, "email")}, {count(story.notes.length, "note")} and every field
            go, with the uploaded files in which they stand. Nothing brings them back: of the address only a
            hash stays, so that no file adds them again. Numbers in Results stay as they are.
          </Typography>
          <Typography sx={{ mb: 2 }} color="textSecondary">
            Nightly copies of the database fade within 14 days; one that is restored erases them again. Copies
            in the mailboxes' own folders are not touched; delete those there.
          </Typography>
          <Field name="name" label={`Type “${name}” to erase them`} errors={errors} />
        </div>
      )}
    </FormDialog>
  );
}

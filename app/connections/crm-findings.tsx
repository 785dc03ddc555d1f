/** What a look through the CRM found, what asks for a person's word, and what was told there. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Conflict, Gone, Told } from "../../server/crm/decide";
import type { Finding, Report } from "../../server/crm/report";
import { Pill } from "../components/pill";
import { Row } from "../components/row";
import { count, when } from "../components/words";
import { FINDING_WORDS } from "./crm-words";

export function CrmReport({ report, isTrial }: { report: Report; isTrial: boolean }) {
  const lines = (Object.keys(FINDING_WORDS) as Finding[]).flatMap((finding) => {
    const line = report[finding];
    return line && line.count > 0 ? [{ finding, ...line }] : [];
  });
  if (lines.length === 0 && !isTrial) return null;
  return (
    <Box component="section" aria-label="What it found" sx={{ mb: 4, maxWidth: 820 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {lines.length === 0
          ? "Nothing would follow: its filter holds nobody"
          : isTrial
            ? "What would follow"
            : "What the last look brought"}
      </Typography>
      {lines.map(({ finding, count: found, examples }) => (
        <Row
          key={finding}
          columns={{ xs: "48px 1fr", sm: "48px 300px minmax(0, 1fr)" }}
          sx={{ py: 1 }}
          data-row
        >
          <Typography sx={{ fontWeight: 600, fontVariantNumeric: "tabular-nums" }}>
            {found.toLocaleString("en-GB")}
          </Typography>
          <Typography>{isTrial ? FINDING_WORDS[finding].would : FINDING_WORDS[finding].did}</Typography>
          <Box sx={{ gridColumn: { xs: "2", sm: "auto" }, minWidth: 0 }}>
            {examples.slice(0, 3).map(({ name, words }) => (
              <Typography key={`${name} ${words}`} variant="body2" color="textSecondary" noWrap>
                {name}
                {words && ` · ${words}`}
              </Typography>
            ))}
          </Box>
        </Row>
      ))}
    </Box>
  );
}

export function CrmConflicts(props: {
  conflicts: { shown: readonly Conflict[]; total: number };
  name: string;
  onDecide: (side: "here" | "there", id?: number) => void;
  isDisabled: boolean;
}) {
  const { conflicts, name, onDecide, isDisabled } = props;
  if (conflicts.total === 0) return null;
  return (
    <Box component="section" aria-label="Differences" sx={{ mb: 4, maxWidth: 820 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 1, flexWrap: "wrap" }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {count(conflicts.total, "field was changed on both sides", "fields were changed on both sides")}
        </Typography>
        {conflicts.total > 1 && (
          <>
            <Button size="small" disabled={isDisabled} onClick={() => onDecide("here")}>
              Ours everywhere
            </Button>
            <Button size="small" disabled={isDisabled} onClick={() => onDecide("there")}>
              The CRM's everywhere
            </Button>
          </>
        )}
      </Box>
      {conflicts.shown.map(({ id, prospectId, name: person, field, here, there }) => (
        <Row
          key={id}
          columns={{ xs: "1fr", sm: "200px minmax(0, 1fr) minmax(0, 1fr)" }}
          sx={{ py: 1, alignItems: "center" }}
          data-row
        >
          <Box sx={{ minWidth: 0 }}>
            <Typography noWrap>
              <Link to={`/prospects/${prospectId}`}>{person}</Link>
            </Typography>
            <Typography variant="body2" color="textSecondary">
              {field}
            </Typography>
          </Box>
          <Side
            where="here"
            value={here}
            disabled={isDisabled}
            person={person}
            onChoose={() => onDecide("here", id)}
          />
          <Side
            where={name}
            value={there}
            disabled={isDisabled}
            person={person}
            onChoose={() => onDecide("there", id)}
          />
        </Row>
      ))}
      {conflicts.total > conflicts.shown.length && (
        <Typography variant="body2" color="textSecondary">
          and {conflicts.total - conflicts.shown.length} more
        </Typography>
      )}
    </Box>
  );
}

function Side(props: {
  where: string;
  value: string;
  person: string;
  disabled: boolean;
  onChoose: () => void;
}) {
  const { where, value, person, disabled, onChoose } = props;
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", minWidth: 0 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography sx={{ overflowWrap: "anywhere" }}>{value || "nothing"}</Typography>
        <Typography variant="caption" color="textSecondary">
          {where}
        </Typography>
      </Box>
      <Button
        size="small"
        disabled={disabled}
        onClick={onChoose}
        aria-label={`${person}: “${value || "nothing"}” counts`}
      >
        This one
      </Button>
    </Box>
  );
}

export function CrmDeletions(props: {
  deletions: { shown: readonly Gone[]; total: number };
  name: string;
  onDecide: (id: number, what: "keep" | "stop" | "erase") => void;
  isDisabled: boolean;
}) {
  const { deletions, name, onDecide, isDisabled } = props;
  if (deletions.total === 0) return null;
  return (
    <Box component="section" aria-label="Deleted" sx={{ mb: 4, maxWidth: 820 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {count(deletions.total, "person was deleted on one side", "people were deleted on one side")}
      </Typography>
      {deletions.shown.map(({ id, prospectId, name: person, where }) => (
        <Row
          key={id}
          columns={{ xs: "1fr", sm: "minmax(0, 1fr) auto" }}
          sx={{ py: 1, alignItems: "center" }}
          data-row
        >
          <Typography>
            {prospectId === null ? person : <Link to={`/prospects/${prospectId}`}>{person}</Link>}{" "}
            <Typography component="span" color="textSecondary">
              {where === "there" ? `was deleted in ${name}` : `still stands in ${name}`}
            </Typography>
          </Typography>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Button size="small" disabled={isDisabled} onClick={() => onDecide(id, "keep")}>
              {where === "there" ? "Keep them here" : "Leave them there"}
            </Button>
            {where === "there" && (
              <Button size="small" disabled={isDisabled} onClick={() => onDecide(id, "stop")}>
                Stop what is planned
              </Button>
            )}
            <Button size="small" color="error" disabled={isDisabled} onClick={() => onDecide(id, "erase")}>
              {where === "there" ? "Erase them here" : "Delete them there"}
            </Button>
          </Box>
        </Row>
      ))}
    </Box>
  );
}

const TOLD_WORDS = {
  ...{ person: "the person", deal: "a deal", email: "an email", reply: "an answer", meeting: "", note: "" },
} as const;

export function CrmTold(props: {
  told: readonly Told[];
  failed: number;
  now: number;
  zone: string;
  onAgain: () => void;
}) {
  const { told, failed, now, zone, onAgain } = props;
  return (
    <Box component="section" aria-label="Told there" sx={{ mt: 4, maxWidth: 820 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {told.length === 0 ? "Nothing was told there yet" : "What was told there last"}
        </Typography>
        {failed > 0 && (
          <Button size="small" onClick={onAgain}>
            Try {count(failed, "refused one", "refused ones")} again
          </Button>
        )}
      </Box>
      {told.map(({ id, kind, prospectId, name, what, at, state, answer }) => (
        <Row key={id} columns={{ xs: "1fr", sm: "120px minmax(0, 1fr) auto" }} sx={{ py: 0.9 }} data-row>
          <Typography variant="body2" color="textSecondary">
            {when(at, now, zone)}
          </Typography>
          <Box sx={{ minWidth: 0 }}>
            <Typography noWrap>
              <Link to={`/prospects/${prospectId}`}>{name}</Link> ·{" "}
              {[TOLD_WORDS[kind], what].filter((part) => part !== "").join(": ")}
            </Typography>
            {answer !== "" && (
              <Typography variant="body2" color={state === "failed" ? "error" : "textSecondary"}>
                {answer}
              </Typography>
            )}
          </Box>
          <Pill tone={state === "done" ? "kelp" : state === "due" ? "ochre" : "clay"}>
            {state === "done" ? "told" : state === "due" ? "waits" : "refused"}
          </Pill>
        </Row>
      ))}
    </Box>
  );
}

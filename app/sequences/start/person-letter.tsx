/** What one person will get, and what can be done about it before it goes. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Key, KeyButton } from "../../components/key";
import { Row } from "../../components/row";
import { Letter } from "../step-preview";
import { FoundAbout } from "./found-about";
import type { StartData } from "./start-data";
import type { StartDesk } from "./use-start";

export function PersonLetter({ data, at: desk }: { data: StartData; at: StartDesk }) {
  const { preview, steps, stepId, personId, people, check } = data;
  const { leaveOut, choose, toggle, press, at, listed } = desk;
  return (
    <Box>
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", mb: 1 }}>
        {steps.map(({ id, name }, index) => (
          <Button
            key={id}
            size="small"
            onClick={() => choose({ step: id })}
            sx={id === stepId ? { fontWeight: 700 } : { color: "text.secondary" }}
            aria-pressed={id === stepId}
          >
            {index + 1} {name}
          </Button>
        ))}
      </Box>
      <Paper variant="outlined" sx={{ p: 2.25 }}>
        {preview ? (
          <>
            <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 0.5 }}>
              <Typography sx={{ flex: 1 }} noWrap>
                To <strong>{preview.prospect?.name}</strong>
                {preview.prospect?.company && `, ${preview.prospect.company}`}{" "}
                <Box component="span" sx={{ color: "text.secondary" }}>
                  from {preview.from}
                </Box>
              </Typography>
              <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
                {data.page * data.pageSize + at + 1} of {listed} <Key>K</Key> <Key>J</Key>
              </Typography>
            </Box>
            <Letter preview={preview} />
            <FoundAbout data={data} press={press} />
            <PersonActions
              key={`${personId} ${stepId}`}
              preview={preview}
              isEmail={steps.find(({ id }) => id === stepId)?.kind.endsWith("email") ?? false}
              person={people[at]}
              isLeftOut={personId !== null && leaveOut.has(personId)}
              asksYes={data.approval !== "none"}
              ready={check.counts.ready}
              onSubmit={press}
              onToggle={() => personId !== null && toggle(personId)}
            />
          </>
        ) : (
          <Typography color="textSecondary">Choose somebody to read what they will get.</Typography>
        )}
      </Paper>
    </Box>
  );
}

function PersonActions(props: {
  preview: NonNullable<StartData["preview"]>;
  isEmail: boolean;
  person: StartData["people"][number] | undefined;
  isLeftOut: boolean;
  asksYes: boolean;
  ready: number;
  onSubmit: (intent: string, more?: Record<string, unknown>) => void;
  onToggle: () => void;
}) {
  const { preview, person, onSubmit } = props;
  const { rendered } = preview;
  const [value, setValue] = useState("");
  const [own, setOwn] = useState<{ subject: string; body: string } | null>(null);
  const lacking = rendered && !rendered.ok && rendered.emptyField !== null ? rendered.emptyField : null;
  if (own)
    return (
      <Box sx={{ display: "grid", gap: 1.25, borderTop: "1px solid", borderColor: "divider", mt: 2, pt: 2 }}>
        <TextField
          label="Subject for this one"
          value={own.subject}
          onChange={({ target }) => setOwn({ ...own, subject: target.value })}
        />
        <TextField
          label="Text for this one"
          multiline
          minRows={6}
          value={own.body}
          onChange={({ target }) => setOwn({ ...own, body: target.value })}
          helperText="The signature and the line to opt out are added."
          sx={{ "& textarea": { typography: "letter" } }}
        />
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button
            variant="contained"
            onClick={() => {
              onSubmit("own", own);
              setOwn(null);
            }}
          >
            Keep for this one
          </Button>
          <Button onClick={() => setOwn(null)}>Leave it</Button>
        </Box>
      </Box>
    );
  return (
    <Row sx={{ gap: 1, alignItems: "center", flexWrap: "wrap", mt: 2, pt: 1.75, pb: 0 }}>
      {lacking && (
        <>
          <TextField
            label={lacking.replaceAll("_", " ")}
            value={value}
            onChange={({ target }) => setValue(target.value)}
            onKeyDown={(event) => event.key === "Enter" && onSubmit("fill", { field: lacking, value })}
            sx={{ width: 190 }}
          />
          <Button onClick={() => onSubmit("fill", { field: lacking, value })} disabled={value.trim() === ""}>
            Fill in
          </Button>
        </>
      )}
      {props.isEmail &&
        (person?.isOwn === 1 ? (
          <Button onClick={() => onSubmit("drop_own")}>Back to the sequence's words</Button>
        ) : (
          <Button onClick={() => setOwn(preview.template ?? { subject: "", body: "" })}>
            Write this one by hand
          </Button>
        ))}
      {props.asksYes && props.isEmail && person?.standing === "ready" && (
        <>
          <Button onClick={() => onSubmit("approve")} disabled={person.isApproved === 1}>
            {person.isApproved === 1 ? "You said yes" : "Say yes"}
          </Button>
          <Button variant="text" onClick={() => onSubmit("approve", { all: true })}>
            Yes to all {props.ready}
          </Button>
        </>
      )}
      <Box sx={{ flex: 1 }} />
      <KeyButton variant="text" onClick={props.onToggle} sx={{ color: "text.secondary" }} keys="X">
        {props.isLeftOut ? "Take in again" : "Leave out"}&nbsp;
      </KeyButton>
    </Row>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Form, Link, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { createSequence } from "../../../server/sequences/create-sequence";
import { listSequences, type SequenceSummary } from "../../../server/sequences/list-sequences";
import { userContext } from "../../accounts/session";
import { Field } from "../../components/field";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { count, share } from "../../components/words";
import { readForm } from "../../desk/read-form";
import type { Route } from "./+types/sequences";

export function loader() {
  return { sequences: listSequences(webApp()) };
}

export async function action({ request, context }: Route.ActionArgs) {
  const outcome = createSequence(webApp(), context.get(userContext).id, await readForm(request));
  if (!outcome.ok) return { errors: outcome.errors };
  return redirect(`/sequences/${outcome.value}`);
}

/** A running sequence that nobody is on any more has done its work until the list grows. */
const THROUGH = ["tile", "Everyone is through"] as const;

export const STATE_PILLS = {
  draft: ["quiet", "Not started"],
  running: ["kelp", "Running"],
  paused: ["ochre", "Paused"],
} as const;

function heading(sequences: SequenceSummary[]): string {
  const active = sequences.reduce((sum, each) => sum + each.active, 0);
  if (sequences.length === 0) return "No sequence yet";
  if (active === 0) return "Nobody is on their way through a sequence";
  return `${count(active, "person is", "people are")} on ${active === 1 ? "the" : "their"} way`;
}

export default function Sequences({ loaderData, actionData }: Route.ComponentProps) {
  const { sequences } = loaderData;
  const errors: Record<string, string> = actionData?.errors ?? {};
  const create = (
    <Box component={Form} method="post" sx={{ display: "flex", gap: 1, alignItems: "flex-start" }}>
      <Field
        name="name"
        placeholder="Name of a new sequence"
        errors={errors}
        slotProps={{ htmlInput: { "aria-label": "Name of a new sequence" } }}
        sx={{ width: 230 }}
      />
      <Button type="submit" variant="contained" sx={{ height: 40 }}>
        Write it
      </Button>
    </Box>
  );
  return (
    <Page
      heading={heading(sequences)}
      actions={sequences.length > 0 && create}
      margin={
        <MarginNote title="How a sequence ends for somebody">
          <Typography>
            By itself, as soon as they reply, book a call, opt out or their address bounces. Whatever was
            still planned for them is cancelled at once. An automatic “I am away” is no reply.
          </Typography>
        </MarginNote>
      }
    >
      {sequences.length === 0 ? (
        <Empty
          title="Write the first one"
          text="A few emails over two or three weeks. Each waits some working days after the one before, and stops by itself when somebody answers."
          action={<Box sx={{ display: "inline-block" }}>{create}</Box>}
        />
      ) : (
        sequences.map((sequence) => {
          const [tone, word] =
            sequence.state === "running" && sequence.people > 0 && sequence.active === 0
              ? THROUGH
              : STATE_PILLS[sequence.state];
          return (
            <Box
              key={sequence.id}
              data-row
              component={Link}
              to={`/sequences/${sequence.id}`}
              sx={{
                display: "grid",
                gridTemplateColumns: "minmax(0, 1fr) 110px 130px 130px 110px",
                gap: 2,
                alignItems: "center",
                borderTop: "1px solid",
                borderColor: "divider",
                py: 2,
                px: 0.5,
                color: "inherit",
                textDecoration: "none",
                "&:hover": { bgcolor: "background.paper" },
              }}
            >
              <Box sx={{ minWidth: 0 }}>
                <Typography variant="h2" component="h2" noWrap>
                  {sequence.name} <Pill tone={tone}>{word}</Pill>
                </Typography>
                <Typography variant="body2" color="textSecondary">
                  version {sequence.version} · {count(sequence.steps, "email")} over{" "}
                  {count(sequence.days, "working day")} · {sequence.ownerName}
                </Typography>
              </Box>
              <Figure value={String(sequence.active)} words={`of ${sequence.people} on the way`} />
              <Figure value={share(sequence.replied, sequence.written)} words="replied" />
              <Figure value={share(sequence.booked, sequence.written)} words="booked a call" />
              <Figure value={String(sequence.written)} words="written to" />
            </Box>
          );
        })
      )}
    </Page>
  );
}

function Figure({ value, words }: { value: string; words: string }) {
  return (
    <Box>
      <Typography sx={{ fontWeight: 600 }}>{value}</Typography>
      <Typography variant="caption" color="textSecondary">
        {words}
      </Typography>
    </Box>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { Choice } from "../components/choice";
import { Pill } from "../components/pill";
import { count, stopWords, waitSentence, when } from "../components/words";
import { PauseDialog } from "../desk/pause-button";
import { WhyButton } from "../why/why-dialog";
import type { PeopleData } from "./people-margin";

export function PeopleTable(props: PeopleData & { chosen: number[]; onChoose: (ids: number[]) => void }) {
  const { people, steps, now, zone, chosen, onChoose: setChosen } = props;
  const shown = people.rows.map(({ journeyId }) => journeyId);
  const nameOf = (id: string | null) => steps.find((step) => step.id === id)?.name ?? "a fork";
  return (
    <Box
      component="table"
      sx={{
        width: "100%",
        borderCollapse: "collapse",
        "& td, & th": {
          py: 0.6,
          px: 1,
          textAlign: "left",
          borderTop: "1px solid",
          borderColor: "divider",
        },
      }}
    >
      <thead>
        <tr>
          <th style={{ width: 36 }}>
            <Checkbox
              size="small"
              checked={shown.every((id) => chosen.includes(id))}
              onChange={({ target }) => setChosen(target.checked ? shown : [])}
              slotProps={{ input: { "aria-label": "Choose all on this page" } }}
              sx={{ p: 0 }}
            />
          </th>
          {["Who", "Stands before", "What next"].map((title) => (
            <Typography component="th" variant="label" color="textSecondary" key={title}>
              {title}
            </Typography>
          ))}
        </tr>
      </thead>
      <tbody>
        {people.rows.map((row) => (
          <tr key={row.journeyId} data-row>
            <td>
              <Checkbox
                size="small"
                checked={chosen.includes(row.journeyId)}
                onChange={({ target }) =>
                  setChosen(
                    target.checked ? [...chosen, row.journeyId] : chosen.filter((id) => id !== row.journeyId),
                  )
                }
                slotProps={{ input: { "aria-label": `Choose ${row.name}` } }}
                sx={{ p: 0 }}
              />
            </td>
            <td>
              <Link to={`/prospects/${row.prospectId}`}>{row.name}</Link>
              <Typography component="span" color="textSecondary" sx={{ ml: 1 }}>
                {row.company}
              </Typography>
            </td>
            <td>{row.state === "active" ? nameOf(row.placeId) : "–"}</td>
            <td>
              {row.state === "active" ? (
                row.waitReason === null ? (
                  row.nextAt === null ? (
                    "being planned"
                  ) : (
                    when(row.nextAt, now, zone)
                  )
                ) : (
                  waitSentence(row.waitReason, row.waitDetail, row.nextAt, now, zone)
                )
              ) : (
                <Pill tone={row.state === "finished" ? "tile" : "kelp"}>
                  {row.state === "finished" ? "through" : stopWords(row.stopReason)}
                </Pill>
              )}{" "}
              <WhyButton journeyId={row.journeyId} sx={{ py: 0, minWidth: 0 }} />
            </td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}

/** What can be done with those who are chosen. */
export function WithChosen(props: {
  chosen: readonly number[];
  steps: PeopleData["steps"];
  zone: string;
  send: (action: Record<string, unknown>) => void;
}) {
  const { chosen, steps, zone, send } = props;
  const people = count(chosen.length, "person", "people");
  const hasInvitation = steps.some(({ kind }) => kind === "invitation");
  const [asks, setAsks] = useState<"paused" | "running" | null>(null);
  const [moveTo, setMoveTo] = useState("");
  return (
    <>
      <Typography sx={{ fontWeight: 650, mr: 1 }}>{people}</Typography>
      <Button onClick={() => setAsks("paused")}>Pause</Button>
      <Button onClick={() => setAsks("running")}>Let go on</Button>
      {asks && (
        <PauseDialog
          of="journey"
          ids={chosen}
          name={people}
          becomes={asks}
          zone={zone}
          onClose={() => setAsks(null)}
          onAct={() => send({ do: asks === "paused" ? "pause" : "resume" })}
        />
      )}
      <Choice
        label="Move to"
        value={moveTo}
        onChange={(chosen) => {
          setMoveTo("");
          send({ do: "move", to: chosen });
        }}
        sx={{ width: 170 }}
        options={steps.map(({ id, name }) => [id, name] as const)}
      />
      <Button onClick={() => send({ do: "start_again" })}>Start again</Button>
      {hasInvitation && <Button onClick={() => send({ do: "accepted" })}>They accepted</Button>}
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={() => send({ do: "take_out" })}>
        Take out
      </Button>
    </>
  );
}

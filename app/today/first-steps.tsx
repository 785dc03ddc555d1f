/** The first hour: what to do until the first email has gone out, each step with what it still lacks. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { FirstStep, Lack } from "../../server/today/first-steps";
import { Pill } from "../components/pill";
import { Row } from "../components/row";
import { count, when } from "../components/words";

function words({ name, isDone, what, count: how }: FirstStep): { title: string; label: string } {
  switch (name) {
    case "mailbox":
      if (isDone) return { title: `${what} sends and is read`, label: "Its settings" };
      return what === ""
        ? { title: "Add the mailbox that you write from", label: "Add a mailbox" }
        : { title: `${what} has not connected yet`, label: "See what its servers say" };
    case "list":
      return isDone
        ? { title: `${count(how, "person", "people")} on “${what}”`, label: "See the list" }
        : { title: "Bring the people whom you want to write to", label: "Import a file" };
    case "sequence":
      if (what === "") return { title: "Write what they get, and when", label: "Write a sequence" };
      return {
        title: isDone ? `“${what}” is written` : `“${what}” is not finished`,
        label: isDone ? "Read it again" : "Go on writing",
      };
    case "start":
      return how > 0
        ? { title: `“${what}” is running`, label: "See who waits for what" }
        : { title: "Look at who gets it, and start", label: "Look and start" };
  }
}

function lackWords(lack: Lack, now: number, zone: string): React.ReactNode {
  switch (lack.kind) {
    case "not_connected":
      return "Nothing goes out, and no reply is read, before it has.";
    case "duplicates":
      return <Link to={lack.to}>{count(lack.count, "pair")} may be the same person or company</Link>;
    case "no_address":
      return <Link to={lack.to}>{count(lack.count, "has no address", "have no address")}: look for it</Link>;
    case "unchecked":
      return <Link to={lack.to}>{count(lack.count, "address was", "addresses were")} never checked</Link>;
    case "texts":
      return (
        <>
          {lack.first} {lack.count > 1 && <Link to={lack.to}>And {lack.count - 1} more.</Link>}
        </>
      );
    case "no_list":
      return <Link to={lack.to}>Choose the list that it writes to</Link>;
    case "waits":
      return lack.at === null
        ? "Nobody is about to get an email: see what they wait for."
        : `The first email goes ${when(lack.at, now, zone)}. This page fills from then on.`;
  }
}

export function FirstSteps({ steps, now, zone }: { steps: FirstStep[]; now: number; zone: string }) {
  const next = steps.findIndex(({ isDone }) => !isDone);
  return (
    <Box component="section" aria-label="The way to the first email" sx={{ mb: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {steps.filter(({ isDone }) => isDone).length} of {steps.length} steps to the first email
      </Typography>
      <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {steps.map((step, index) => {
          const { title, label } = words(step);
          return (
            <Row
              component="li"
              key={step.name}
              sx={{ gap: 2, alignItems: "center", flexWrap: { xs: "wrap", sm: "nowrap" }, py: 1.25 }}
            >
              <Box sx={{ width: 64, flexShrink: 0 }}>
                <Pill tone={step.isDone ? "kelp" : index === next ? "tile" : "quiet"}>
                  {step.isDone ? "Done" : `Step ${index + 1}`}
                </Pill>
              </Box>
              <Box sx={{ flex: 1, minWidth: 200 }}>
                <Typography sx={{ fontWeight: index === next ? 650 : 400 }}>{title}</Typography>
                {step.lacks.map((lack) => (
                  <Typography key={lack.kind} variant="body2" color="textSecondary">
                    {lackWords(lack, now, zone)}
                  </Typography>
                ))}
              </Box>
              {(step.isDone || index === next || step.name === "list" || step.name === "mailbox") && (
                <Button
                  component={Link}
                  to={step.to}
                  variant={index === next ? "contained" : step.isDone ? "text" : "outlined"}
                  sx={{ flexShrink: 0 }}
                >
                  {label}
                </Button>
              )}
            </Row>
          );
        })}
      </Box>
    </Box>
  );
}

import Box from "@mui/material/Box";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { type Finding, type Share, whatStandsOut } from "../../../core/results/stands-out";
import { webApp } from "../../../server/app";
import { results, type SequenceResult } from "../../../server/results/results";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { count, GOAL_REACHED, share } from "../../components/words";
import type { Route } from "./+types/results";

export function loader({ context }: Route.LoaderArgs) {
  return { sequences: results(webApp(), context.get(userContext).id) };
}

export default function Results({ loaderData }: Route.ComponentProps) {
  const { sequences } = loaderData;
  const written = sequences.reduce((sum, each) => sum + each.written, 0);
  const replied = sequences.reduce((sum, each) => sum + each.replied, 0);
  return (
    <Page
      heading={
        written === 0
          ? "Nothing to learn from yet"
          : `${replied} of ${count(written, "person", "people")} written to replied`
      }
      sub={written > 0 && "By sequence and step. A person counts once for each step."}
      margin={
        <>
          <StandsOut sequences={sequences} />
          <MarginNote title="How to read this">
            <Typography>
              “Sent” counts emails that a server took, “written to” the people who got one. A reply counts for
              the email it answers. Opens are unreliable: some mail programs load every picture, others none;
              do not decide by them.
            </Typography>
          </MarginNote>
        </>
      }
    >
      {sequences.length === 0 && (
        <Empty
          title="No sequence has been started"
          text="Once one runs, this page counts what came of each step."
        />
      )}
      {sequences.map((sequence) => (
        <Box component="section" key={sequence.id} data-row sx={{ mb: 4 }}>
          <Typography variant="h2" sx={{ mb: 0.75 }}>
            <Link to={`/sequences/${sequence.id}`}>{sequence.name}</Link>:{" "}
            {share(sequence.reached, sequence.written)} {GOAL_REACHED[sequence.goal]}
            {sequence.goal !== "reply" && `, ${share(sequence.replied, sequence.written)} replied`}
          </Typography>
          <Box tabIndex={0} role="group" aria-label={`Steps of ${sequence.name}`} sx={{ overflowX: "auto" }}>
            <Table
              size="small"
              sx={{
                minWidth: { xs: 0, sm: 760 },
                bgcolor: "background.paper",
                tableLayout: "fixed",
                "& th:first-of-type": { width: 180 },
                ...STACKED,
              }}
            >
              <TableHead>
                <TableRow>
                  <TableCell>Step</TableCell>
                  {FIGURES.map((label) => (
                    <TableCell key={label} align="right">
                      {label}
                    </TableCell>
                  ))}
                </TableRow>
              </TableHead>
              <TableBody>
                {sequence.steps.map((step) => (
                  <TableRow key={step.stepId}>
                    <TableCell>
                      {step.name}
                      {step.isRemoved && (
                        <Typography variant="caption" color="textSecondary" component="div">
                          taken out since
                        </Typography>
                      )}
                    </TableCell>
                    <TableCell align="right" data-label="Sent">
                      {step.sent}
                    </TableCell>
                    {[step.replied, step.booked, step.clicked, step.opened, step.bounced, step.optedOut].map(
                      (part, index) => (
                        <TableCell
                          key={`${step.stepId} ${String(index)}`}
                          align="right"
                          data-label={FIGURES[index + 1]}
                          sx={{ whiteSpace: "nowrap" }}
                        >
                          {part}
                          <Box
                            component="span"
                            sx={{ color: "text.secondary", ml: 0.75, display: "inline-block", width: 42 }}
                          >
                            {step.sent > 0 ? `${Math.round((100 * part) / step.sent)} %` : ""}
                          </Box>
                        </TableCell>
                      ),
                    )}
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Box>
        </Box>
      ))}
    </Page>
  );
}

const FIGURES = ["Sent", "Replied", "Booked", "Clicked", "Opened", "Bounced", "Opted out"];
/** On a phone a step's figures stand below its name, each with its own word: nothing lies beyond the edge. */
const STACKED = {
  "@media (max-width: 599.95px)": {
    "& thead": { display: "none" },
    "& tr": { display: "grid", gridTemplateColumns: "1fr 1fr", columnGap: 2, py: 1 },
    "& td": { display: "flex", justifyContent: "space-between", border: 0, py: 0.4 },
    "& td:first-of-type": { gridColumn: "1 / -1", fontWeight: 650 },
    "& td[data-label]::before": { content: "attr(data-label)", color: "text.secondary" },
  },
};

const percent = (share: number) => Math.round(100 * share);
const span = ({ low, high }: Share) => `${percent(low)} to ${percent(high)} %`;

function findingWords(finding: Finding): string {
  const { share } = finding;
  const of = `${share.part} of ${share.whole.toLocaleString("en-GB")}`;
  switch (finding.kind) {
    case "best_step":
      return `“${finding.at.step}” of ${finding.at.sequence} is answered most: ${of}, which means ${span(share)} ${finding.isSure ? "and is more than chance" : "and may still be chance"}.`;
    case "follow_ups":
      return `${of} replies (${percent(share.part / share.whole)} %) answer a follow-up and not the first email.`;
    case "silent_step":
      return `Nobody has answered “${finding.at.step}” of ${finding.at.sequence}, which ${share.whole.toLocaleString("en-GB")} got. Write it anew or take it out.`;
    case "bounces":
      return `${of} emails of “${finding.at.step}” (${finding.at.sequence}) came back. Check the addresses of its list before more go.`;
    case "opt_outs":
      return `${of} who got “${finding.at.step}” (${finding.at.sequence}) asked to be left alone. Look at whom it goes to, and what it says.`;
  }
}

/** The figures in sentences, computed with their uncertainty. */
function StandsOut({ sequences }: { sequences: SequenceResult[] }) {
  const findings = whatStandsOut(
    sequences.flatMap(({ name, steps }) =>
      steps.map((step, nth) => ({ ...step, sequence: name, step: step.name, isFirst: nth === 0 })),
    ),
  );
  return (
    <MarginNote title="What stands out">
      {findings.map((finding) => (
        <Typography key={JSON.stringify(finding)} sx={{ "& + &": { mt: 1 } }}>
          {findingWords(finding)}
        </Typography>
      ))}
      {findings.length === 0 && (
        <Typography>
          Nothing yet: a step needs some twenty emails before its figures say anything, and a difference of a
          few percent needs hundreds.
        </Typography>
      )}
    </MarginNote>
  );
}

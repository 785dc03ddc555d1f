/** The people who wait, with the recorded reason of each, a page at a time. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { WaitReason } from "../../core/sending/reasons";
import type { WaitingRow } from "../../server/sending/waiting";
import { Pager } from "../components/pager";
import { Row } from "../components/row";
import { count, time, WAIT_WORDS, waitSentence } from "../components/words";
import { WhyButton } from "../why/why-dialog";
import { REPAIRS } from "./repairs";

export function WaitingList(props: {
  waiting: { rows: WaitingRow[]; total: number; pageSize: number };
  reason: WaitReason;
  page: number;
  zone: string;
  now: number;
}) {
  const { waiting, reason, page, zone, now } = props;
  const repair = REPAIRS[reason];
  return (
    <Box component="section" id="people" aria-label="Who waits" sx={{ mb: 3 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "baseline", gap: 1.5, mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {count(waiting.total, "person", "people")}: {WAIT_WORDS[reason]}
        </Typography>
        {repair && (
          <Button component={Link} to={repair.to} sx={{ "&::first-letter": { textTransform: "uppercase" } }}>
            {repair.words}
          </Button>
        )}
        <Button variant="text" component={Link} to="/sending" preventScrollReset>
          Close
        </Button>
      </Box>
      {waiting.rows.map((row) => (
        <Row
          columns={{ xs: "1fr", sm: "minmax(0, 1.1fr) minmax(0, 0.7fr) minmax(0, 1.4fr) auto" }}
          key={row.id}
          data-row
          sx={{ gap: { xs: 0, sm: 2 }, py: 1 }}
        >
          <Box sx={{ minWidth: 0 }}>
            <Typography
              noWrap
              component={Link}
              to={`/prospects/${row.prospectId}`}
              sx={{ display: "block", color: "inherit", fontWeight: 600, textDecoration: "none" }}
            >
              {row.name}
            </Typography>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {row.company}
            </Typography>
          </Box>
          <Typography noWrap>{row.sequenceName}</Typography>
          <Box sx={{ minWidth: 0 }}>
            <Typography variant="body2">
              {waitSentence(row.reason, row.detail, row.nextAt, now, zone)}
            </Typography>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {row.nextAt !== null &&
                `${row.mailbox ?? ""}${row.zone && row.zone !== zone ? ` · ${time(row.nextAt, row.zone)} their time` : ""}`}
            </Typography>
          </Box>
          <WhyButton journeyId={row.id} sx={{ alignSelf: "start" }} />
        </Row>
      ))}
      <Pager page={page} pageSize={waiting.pageSize} total={waiting.total} />
    </Box>
  );
}

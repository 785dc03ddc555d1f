import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ConnectionCheck } from "../../server/sending/mailboxes/check-connection";

/** Beside the password, where the eye is after the press. */
export function CheckResult({ check, busy }: { check: ConnectionCheck | null | undefined; busy: boolean }) {
  return (
    <Box
      role="status"
      sx={{ gridColumn: "1 / -1", display: "grid", gap: 0.75, minHeight: 44, alignContent: "center" }}
    >
      {busy && <Typography color="textSecondary">Connecting …</Typography>}
      {!busy && !check && (
        <Typography variant="body2" color="textSecondary">
          Here it says whether both servers let this mailbox send and read.
        </Typography>
      )}
      {check && (
        <>
          <Verdict good="Sending works: the outgoing server lets this address send." bad={check.smtp} />
          <Verdict good={`Reading works: ${folderWords(check)}`} bad={check.imap} />
        </>
      )}
    </Box>
  );
}

function folderWords({ folders }: ConnectionCheck): string {
  const junk = folders?.junk
    ? `the inbox and “${folders.junk}” are watched for replies`
    : "the inbox is watched for replies";
  return `${junk}; ${folders?.sent ? `copies go to “${folders.sent}”` : "a Sent folder will be made for copies"}.`;
}

function Verdict({ good, bad }: { good: string; bad: string | null }) {
  return (
    <Typography sx={{ color: bad ? "clay.main" : "kelp.main", fontWeight: 500 }}>
      {bad ? "! " : "✓ "}
      {bad ?? good}
    </Typography>
  );
}

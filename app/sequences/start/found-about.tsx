/** What columns found about whoever is written to and the text says: on what it rests, and whether anybody has read it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { KeyButton } from "../../components/key";
import { Pill } from "../../components/pill";
import { PlainTextField } from "../../components/plain-text-field";
import { Row } from "../../components/row";
import { useKeys } from "../../desk/keys";
import type { StartData } from "./start-data";
import type { StartDesk } from "./use-start";

export function FoundAbout({ data, press }: { data: StartData; press: StartDesk["press"] }) {
  const { research } = data;
  const unread = research.flatMap(({ id, isUnread, isTheirs }) =>
    isUnread === 1 && isTheirs === 0 && id !== null ? [id] : [],
  );
  const read = () => press("read_lines", { values: unread });
  useKeys((key) => {
    if (key !== "r" || unread.length === 0) return false;
    read();
    return true;
  });
  if (research.length === 0) return null;
  return (
    <Box component="section" aria-label="On what it rests" sx={{ mt: 2 }}>
      {research.map((each) => (
        <Finding key={each.code} of={each} onType={(value) => press("fill", { field: each.code, value })} />
      ))}
      {unread.length > 0 && (
        <Box sx={{ display: "flex", justifyContent: "flex-end", mt: 0.5 }}>
          <KeyButton variant="contained" onClick={read} keys="R">
            I have read it&nbsp;
          </KeyButton>
        </Box>
      )}
    </Box>
  );
}

function Finding({ of, onType }: { of: StartData["research"][number]; onType: (value: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const isTheirs = of.isTheirs === 1;
  return (
    <Row columns="minmax(0, 1fr) auto" sx={{ py: 0.9, alignItems: "start" }}>
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          {of.name}{" "}
          {isTheirs ? (
            <Pill tone="kelp">in your words</Pill>
          ) : of.isUnread === 1 ? (
            <Pill tone="clay">nobody has read it</Pill>
          ) : (
            of.sureness === "doubtful" && <Pill tone="ochre">doubtful</Pill>
          )}
        </Typography>
        {typed === null ? (
          <Typography
            variant="caption"
            color="textSecondary"
            component="div"
            sx={{ overflowWrap: "anywhere" }}
          >
            {of.sourceUrl !== "" && (
              <Link href={of.sourceUrl} target="_blank" rel="noreferrer noopener" color="inherit">
                {of.sourceUrl.replace(/^https?:\/\//, "").slice(0, 60)}
              </Link>
            )}
            {of.sourceText !== "" && ` says: ${of.sourceText.slice(0, 260)}`}
            {of.typedBy !== null && `typed by ${of.typedBy}`}
          </Typography>
        ) : (
          <Box
            component="form"
            sx={{ display: "flex", gap: 1, mt: 0.75 }}
            onSubmit={(event) => {
              event.preventDefault();
              onType(typed);
              setTyped(null);
            }}
          >
            <PlainTextField
              aria-label={of.name}
              multiline
              autoFocus
              value={typed}
              onChange={({ target }) => setTyped(target.value)}
            />
            <Button type="submit" variant="contained" disabled={typed.trim() === ""}>
              Keep
            </Button>
          </Box>
        )}
      </Box>
      {typed === null && !of.value.startsWith("/pictures/") && (
        <Button
          size="small"
          variant="text"
          onClick={() => setTyped(of.value)}
          aria-label={`Change: ${of.name}`}
        >
          Change
        </Button>
      )}
    </Row>
  );
}

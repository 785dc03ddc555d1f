/** One value of a column: what it says, on what it rests, and what can be done about it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { ValueRow } from "../../server/research/research-of-list";
import { Pill } from "../components/pill";
import { PlainTextField } from "../components/plain-text-field";
import { Row } from "../components/row";
import { day } from "../components/words";
import { SURENESS } from "./research-words";

export function ValueLine(props: {
  row: ValueRow;
  isPicture: boolean;
  zone: string;
  isBusy: boolean;
  onRead: () => void;
  onType: (value: string) => void;
  onForget: () => void;
}) {
  const { row, isPicture, zone, isBusy, onRead, onType, onForget } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const save = (event: React.FormEvent) => {
    event.preventDefault();
    if (typed !== null) onType(typed);
    setTyped(null);
  };
  const isRefused = row.state === "refused";
  return (
    <Row
      columns={{ xs: "minmax(0, 1fr)", md: "minmax(0, 170px) minmax(0, 1fr) 150px" }}
      sx={{ py: 1.1, alignItems: "start" }}
      data-row
    >
      <Box sx={{ minWidth: 0 }}>
        <Typography noWrap sx={{ fontWeight: 600 }}>
          {row.name || "No name"}
        </Typography>
        <Typography noWrap variant="caption" color="textSecondary" component="div">
          {row.about}
        </Typography>
      </Box>
      {typed === null ? (
        <Box sx={{ minWidth: 0 }}>
          <Said row={row} isPicture={isPicture} />
          <Source row={row} zone={zone} />
        </Box>
      ) : (
        <Box component="form" onSubmit={save} sx={{ display: "grid", gap: 1 }}>
          <PlainTextField
            aria-label={`What is said of ${row.name}`}
            multiline
            autoFocus
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
            onKeyDown={(event) => event.key === "Escape" && setTyped(null)}
            helperText="What you type stays, whoever looks again. Nothing: they have none."
          />
          <Box sx={{ display: "flex", gap: 1 }}>
            <Button type="submit" variant="contained" size="small">
              Keep
            </Button>
            <Button size="small" onClick={() => setTyped(null)}>
              Leave it
            </Button>
          </Box>
        </Box>
      )}
      <Box
        sx={{
          display: "flex",
          gap: 0.75,
          flexWrap: "wrap",
          justifyContent: { md: "flex-end" },
          alignItems: "center",
        }}
      >
        {isRefused ? (
          <Pill tone="clay">not believed</Pill>
        ) : row.isUnread === 1 ? (
          <Button
            variant="contained"
            size="small"
            disabled={isBusy}
            onClick={onRead}
            aria-label={`I have read what is said of ${row.name}`}
          >
            I have read it
          </Button>
        ) : row.state === "found" && row.sureness === "doubtful" ? (
          <Button
            size="small"
            disabled={isBusy}
            onClick={onRead}
            aria-label={`What is said of ${row.name} is right`}
          >
            It is right
          </Button>
        ) : (
          row.state === "found" && (
            <Pill tone={SURENESS[row.sureness].tone}>
              {row.typedBy === null ? SURENESS[row.sureness].words : "typed"}
            </Pill>
          )
        )}
        {typed === null && !isPicture && (
          <Button
            size="small"
            variant="text"
            disabled={isBusy}
            onClick={() => setTyped(isRefused ? row.said : row.value)}
            aria-label={`Change what is said of ${row.name}`}
          >
            {row.state === "found" ? "Change" : isRefused ? "Put it right" : "Type it"}
          </Button>
        )}
        {row.typedBy !== null && (
          <Button
            size="small"
            variant="text"
            disabled={isBusy}
            onClick={onForget}
            aria-label={`Look for ${row.name} again`}
          >
            Look again
          </Button>
        )}
      </Box>
    </Row>
  );
}

function Said({ row, isPicture }: { row: ValueRow; isPicture: boolean }) {
  if (row.state === null) return <Typography color="textSecondary">Nobody has looked yet.</Typography>;
  if (row.state === "refused")
    return (
      <>
        <Typography
          variant="letter"
          component="p"
          sx={{ m: 0, textDecoration: "line-through", color: "text.secondary" }}
        >
          {row.said}
        </Typography>
        <Typography variant="body2" sx={{ color: "clay.main" }}>
          {row.problem}
        </Typography>
      </>
    );
  if (row.state !== "found")
    return <Typography color="textSecondary">{row.problem ?? "Nothing."}</Typography>;
  if (isPicture)
    return (
      <Box
        component="img"
        src={row.value}
        alt={`Of ${row.name}`}
        loading="lazy"
        sx={{
          display: "block",
          maxWidth: 160,
          maxHeight: 64,
          border: "1px solid",
          borderColor: "divider",
          borderRadius: 0.5,
        }}
      />
    );
  return (
    <Typography variant="letter" component="p" sx={{ m: 0, overflowWrap: "anywhere" }}>
      {row.value}
    </Typography>
  );
}

/** On what it rests: the page, the words, and since when. */
function Source({ row, zone }: { row: ValueRow; zone: string }) {
  if (row.state !== "found") return null;
  const since = row.at === null ? "" : day(row.at, zone);
  if (row.typedBy !== null)
    return (
      <Typography variant="caption" color="textSecondary" component="div">
        typed by {row.typedBy}, {since}
      </Typography>
    );
  const shown = row.sourceText === row.value || row.sourceText.startsWith("http") ? "" : row.sourceText;
  return (
    <Typography
      variant="caption"
      color="textSecondary"
      component="div"
      sx={{ overflowWrap: "anywhere", mt: 0.25 }}
    >
      {row.sourceUrl !== "" && (
        <>
          <Link href={row.sourceUrl} target="_blank" rel="noreferrer noopener" color="inherit">
            {row.sourceUrl.replace(/^https?:\/\//, "").slice(0, 60)}
          </Link>
          {", "}
        </>
      )}
      {since}
      {row.sureness === "doubtful" && ` · doubtful${row.problem ? ":" : ""}`}
      {row.problem && ` · ${row.problem}`}
      {shown !== "" && <> · {shown.slice(0, 240)}</>}
    </Typography>
  );
}

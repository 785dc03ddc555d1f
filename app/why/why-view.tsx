/** "Why?": the recorded decisions about somebody in one sequence, in order, with the place where each rule is set. */

import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { Viewer } from "../components/dialogs";
import { Row } from "../components/row";
import { dayTime } from "../components/words";
import type { loader } from "./routes/why";
import { nextSentence, ruleSentenceOf, type Sentence, sentenceOf } from "./why-words";

type Data = Awaited<ReturnType<typeof loader>>;

export function WhyView({ data, onClose }: { data: Data | undefined; onClose: () => void }) {
  return (
    <Viewer
      title={data?.view ? `Why? ${data.view.name} in ${data.view.sequenceName}` : "Why?"}
      onClose={onClose}
    >
      {!data && <Typography>Looking it up …</Typography>}
      {data && !data.view && <Typography>This is no longer on record.</Typography>}
      {data?.view && <Decisions {...data} view={data.view} />}
    </Viewer>
  );
}

function Decisions({ view, rules, now, zone }: Data & { view: NonNullable<Data["view"]> }) {
  const next = nextSentence(view, now, zone);
  const lines = [
    ...view.lines.map((line) => ({
      key: `${line.id}`,
      at: line.at,
      sentence: sentenceOf(line, view, now, zone),
    })),
    ...rules.map((run) => ({ key: `rule ${run.id}`, at: run.at, sentence: ruleSentenceOf(run) })),
  ].sort((a, b) => a.at - b.at);
  return (
    <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {view.earlier > 0 && (
        <Typography component="li" color="textSecondary">
          {view.earlier} earlier ones are left out.
        </Typography>
      )}
      {lines.map(({ key, at, sentence }) => (
        <Line key={key} at={dayTime(at, zone)} sentence={sentence} />
      ))}
      {next && <Line at="Now" sentence={next} isNow />}
    </Box>
  );
}

function Line({ at, sentence, isNow = false }: { at: string; sentence: Sentence; isNow?: boolean }) {
  return (
    <Row
      columns={{ xs: "1fr", sm: "138px minmax(0, 1fr)" }}
      component="li"
      data-decision
      sx={{ gap: { xs: 0, sm: 1.5 }, py: 0.9 }}
    >
      <Typography variant="body2" color="textSecondary">
        {at}
      </Typography>
      <Box>
        <Typography sx={{ fontWeight: isNow ? 600 : 400 }}>
          {sentence.words}
          {/[.?]$/.test(sentence.words) ? "" : "."}
        </Typography>
        {sentence.place && (
          <Typography variant="caption" color="textSecondary">
            → <Link to={sentence.place.to}>{sentence.place.words}</Link>
          </Typography>
        )}
      </Box>
    </Row>
  );
}

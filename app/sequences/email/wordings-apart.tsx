/** Two wordings of an email word by word: what one says that the other does not. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { diffWords } from "diff";
import type { Variant } from "../../../core/sequence/path";
import { Viewer } from "../../components/dialogs";

export function WordingsApart(props: {
  title: string;
  before: Variant;
  after: Variant;
  onClose: () => void;
}) {
  const { title, before, after, onClose } = props;
  return (
    <Viewer title={title} onClose={onClose}>
      <Differences before={before.subject} after={after.subject} />
      <Differences before={before.body} after={after.body} />
    </Viewer>
  );
}

function Differences({ before, after }: { before: string; after: string }) {
  let at = 0;
  return (
    <Typography variant="letter" sx={{ whiteSpace: "pre-wrap", mb: 1.5, overflowWrap: "anywhere" }}>
      {diffWords(before, after).map(({ value, added, removed }) => (
        <Box
          component={added ? "ins" : removed ? "del" : "span"}
          key={at++}
          sx={{
            ...(added && {
              bgcolor: "kelp.wash",
              textDecoration: "none",
              borderBottom: "2px solid",
              borderColor: "kelp.main",
            }),
            ...(removed && { bgcolor: "clay.wash" }),
          }}
        >
          {value}
        </Box>
      ))}
    </Typography>
  );
}

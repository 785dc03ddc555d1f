/** Shorter or plainer wordings of what is selected; nothing changes until one is taken. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { WISHES, type Wish } from "../../core/writing/brief-choices";
import { Viewer } from "../components/dialogs";
import { useAssistant } from "./ask-assistant";

const WISH_WORDS: Record<Wish, string> = { shorter: "Shorter", plainer: "Plainer" };

export function WordingsDialog(props: { text: string; onClose: () => void; onTake: (text: string) => void }) {
  const [wish, setWish] = useState<Wish>("shorter");
  const [wordings, setWordings] = useState<string[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { ask, isAsking, cancel } = useAssistant();
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once for each wish
  useEffect(() => {
    setWordings(null);
    setProblem(null);
    void ask({ task: "wordings", text: props.text, wish }).then((answer) => {
      if (!answer) return;
      setProblem(answer.ok ? null : Object.values(answer.errors).join(" "));
      setWordings((answer.ok && answer.value.wordings) || []);
    });
  }, [wish]);
  return (
    <Viewer
      title="Other wordings"
      close="Leave it as it is"
      onClose={() => {
        cancel();
        props.onClose();
      }}
    >
      <Box sx={{ display: "flex", gap: 1, mb: 2 }}>
        {WISHES.map((each) => (
          <Button
            key={each}
            aria-pressed={each === wish}
            variant={each === wish ? "contained" : "outlined"}
            onClick={() => setWish(each)}
          >
            {WISH_WORDS[each]}
          </Button>
        ))}
      </Box>
      {isAsking && <LinearProgress aria-label="The assistant writes" />}
      {problem && <Alert severity="error">{problem}</Alert>}
      {wordings?.length === 0 && !problem && (
        <Typography color="textSecondary">
          It found nothing {wish === "shorter" ? "to leave out" : "to say more plainly"}.
        </Typography>
      )}
      {wordings?.map((text) => (
        <Box key={text} sx={{ borderTop: "1px solid", borderColor: "divider", py: 1.5 }}>
          <Typography variant="letter" sx={{ whiteSpace: "pre-wrap" }}>
            {text}
          </Typography>
          <Button size="small" sx={{ mt: 1 }} onClick={() => props.onTake(text)}>
            Take this one
          </Button>
        </Box>
      ))}
    </Viewer>
  );
}

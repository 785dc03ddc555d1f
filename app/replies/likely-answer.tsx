/** Asks whether a message that no id ties to an email is an answer to it. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useFetcher } from "react-router";
import type { ReplyRow } from "../../server/replies/list-replies";
import type { Answered } from "./answer-form";

export function LikelyAnswer({ reply }: { reply: ReplyRow }) {
  const decide = useFetcher<Answered>();
  const busy = decide.state !== "idle";
  return (
    <Box
      component={decide.Form}
      method="post"
      sx={{
        bgcolor: "ochre.wash",
        border: "1px solid",
        borderColor: "ochre.main",
        borderRadius: 1,
        p: 2,
        mb: 2,
      }}
    >
      <input type="hidden" name="replyId" value={reply.id} />
      <Typography sx={{ fontWeight: 600 }}>Is this an answer to your email to {reply.name}?</Typography>
      <Typography sx={{ my: 1 }}>
        {reply.fromAddress} writes from the same company under the same subject. {reply.name}'s next email
        waits until you say.
      </Typography>
      {decide.data?.errors?.form && <Alert severity="error">{decide.data.errors.form}</Alert>}
      <Box sx={{ display: "flex", gap: 3.5, flexWrap: "wrap" }}>
        <Button type="submit" variant="contained" name="intent" value="confirm" disabled={busy}>
          Yes, stop their sequence
        </Button>
        <Button type="submit" name="intent" value="deny" disabled={busy}>
          No, let it go on
        </Button>
      </Box>
    </Box>
  );
}

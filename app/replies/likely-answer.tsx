/** Asks whether a message that no id ties to an email is an answer to it. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReplyRow } from "../../server/replies/list-replies";
import { ActionForm, useAction } from "../components/use-action";

export function LikelyAnswer({ reply }: { reply: ReplyRow }) {
  const decide = useAction();
  return (
    <ActionForm
      of={decide}
      sends={{ replyId: reply.id }}
      sx={{
        bgcolor: "ochre.wash",
        border: "1px solid",
        borderColor: "ochre.main",
        borderRadius: 1,
        p: 2,
        mb: 2,
      }}
    >
      <Typography sx={{ fontWeight: 600 }}>Is this an answer to your email to {reply.name}?</Typography>
      <Typography sx={{ my: 1 }}>
        {reply.fromAddress} writes from the same company under the same subject. {reply.name}'s next email
        waits until you say.
      </Typography>
      <Box sx={{ display: "flex", gap: 3.5, flexWrap: "wrap" }}>
        <Button type="submit" variant="contained" name="intent" value="confirm" disabled={decide.isBusy}>
          Yes, stop their sequence
        </Button>
        <Button type="submit" name="intent" value="deny" disabled={decide.isBusy}>
          No, let it go on
        </Button>
      </Box>
    </ActionForm>
  );
}

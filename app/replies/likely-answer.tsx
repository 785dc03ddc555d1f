/** Asks whether a message that no id ties to an email is an answer to it. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { LIKELY_BECAUSE } from "../../core/replies/likely-because";
import type { OpenReply } from "../../server/replies/list-replies";
import { ActionForm, useAction } from "../components/use-action";

/** Why it is only likely, behind who wrote. */
const WRITES: Record<string, string> = {
  colleague: "writes from the same company under the same subject.",
  [LIKELY_BECAUSE.quoted]: "is an address that you never wrote to, and quotes your email.",
};

export function LikelyAnswer({ reply }: { reply: OpenReply }) {
  const decide = useAction();
  const isGrave = reply.detail === LIKELY_BECAUSE.grave;
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
      <Typography sx={{ fontWeight: 600 }}>
        {isGrave
          ? "Somebody died or is gravely ill, it seems: please read this yourself."
          : `Is this an answer to your email to ${reply.name}?`}
      </Typography>
      <Typography sx={{ my: 1 }}>
        {isGrave
          ? `Nothing was done by its words. ${reply.name}'s next email waits until you say.`
          : `${reply.fromAddress} ${WRITES[reply.detail ?? ""] ?? WRITES.colleague} ${reply.name}'s next email waits until you say.`}
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

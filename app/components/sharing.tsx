/** Whose a shared thing is and, for its owner and managers, who else may use or change it. */

import Typography from "@mui/material/Typography";
import type { Sharing as Level } from "../../core/team/may";
import type { Shared, SharedState } from "../../server/accounts/share";
import { Choice } from "./choice";
import { useAction } from "./use-action";

const CHOICES: Record<Level, string> = {
  mine: "Only the owner",
  use: "Everybody may use it",
  change: "Everybody may change it",
};

/** In words, for whoever may not change it. */
export function sharingWords({ owner, sharing }: SharedState): string {
  const whose = owner === null ? "The managers'" : `${owner}'s`;
  return sharing === "change" ? `${whose}; everybody may change it` : whose;
}

export function Sharing({ kind, id, shared }: { kind: Shared; id: number; shared: SharedState }) {
  const { press, errors } = useAction({ to: "/sharing" });
  const error = errors?.form;
  if (!shared.mayShare)
    return (
      <Typography variant="caption" color="textSecondary" component="span">
        {sharingWords(shared)}
      </Typography>
    );
  return (
    <Choice
      label={`${sharingWords({ ...shared, sharing: "use" })}. Who may have it`}
      key={shared.sharing}
      defaultValue={shared.sharing}
      error={error !== undefined}
      helperText={error}
      onClick={(event) => event.stopPropagation()}
      onChange={(chosen) => press({ kind, id: String(id), sharing: chosen })}
      sx={{ minWidth: 230 }}
      options={Object.entries(CHOICES)}
    />
  );
}

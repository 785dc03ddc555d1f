/** What a webhook is told, of whom, and where. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Channel } from "../../core/connections/channel";
import { CHANNEL_FIELDS, USUAL_WORDS } from "../../core/connections/channel-words";
import { HAPPENING_KINDS, HAPPENINGS, type HappeningKind } from "../../core/connections/happenings";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Tick } from "../components/tick";
import { type Action, ActionForm } from "../components/use-action";
import { FilterSelect } from "./filter-select";

export interface WebhookSettings {
  name: string;
  url: string;
  kinds: readonly HappeningKind[];
  filter: string;
  channel: Channel | null;
}

export function WebhookForm({
  of,
  known,
  filters,
}: {
  of: Action<unknown>;
  /** Null for a new one. */
  known: WebhookSettings | null;
  filters: readonly { name: string; definition: string }[];
}) {
  const [isChannel, setChannel] = useState((known?.channel ?? null) !== null);
  const [kinds, setKinds] = useState<readonly HappeningKind[]>(known?.kinds ?? []);
  return (
    <ActionForm
      of={of}
      aria-label={known ? "What it is told" : "A new webhook"}
      sends={{ kinds: JSON.stringify(kinds) }}
      sx={{ display: "grid", gap: 1.75, maxWidth: 760 }}
    >
      <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "220px 1fr" } }}>
        <PlainTextField name="name" label="Who listens" defaultValue={known?.name ?? ""} errors={of.errors} />
        <PlainTextField
          name="url"
          label="Address"
          placeholder="https://"
          defaultValue={known?.url ?? ""}
          errors={of.errors}
        />
      </Box>
      <PlainSelect
        name="format"
        label="How it is told"
        value={isChannel ? "channel" : "program"}
        options={[
          ["program", "as JSON, for a program"],
          ["channel", "as a line in a chat channel"],
        ]}
        onChange={(format) => setChannel(format === "channel")}
        sx={{ maxWidth: 420 }}
      />
      {isChannel && (
        <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "1fr 110px 110px" } }}>
          <PlainTextField
            name="words"
            label="In which words"
            defaultValue={known?.channel?.words ?? USUAL_WORDS}
            errors={of.errors}
            helperText={`May say ${CHANNEL_FIELDS.map((field) => `{{${field}}}`).join(", ")}. Links to the person and the letter follow.`}
          />
          <PlainTextField
            name="quietFrom"
            label="Quiet from"
            defaultValue={known?.channel?.quietFrom ?? "20:00"}
            errors={of.errors}
          />
          <PlainTextField
            name="quietUntil"
            label="until"
            defaultValue={known?.channel?.quietUntil ?? "07:30"}
            errors={of.errors}
          />
        </Box>
      )}
      <Box role="group" aria-label="What it is told">
        <Typography sx={{ fontWeight: 600, mb: 0.5 }}>It is told when</Typography>
        <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, columnGap: 2 }}>
          {HAPPENING_KINDS.map((kind) => (
            <Tick
              key={kind}
              label={HAPPENINGS[kind]}
              checked={kinds.includes(kind)}
              onChange={(checked) =>
                setKinds((before) => (checked ? [...before, kind] : before.filter((each) => each !== kind)))
              }
            />
          ))}
        </Box>
        {of.errors.kinds && (
          <Typography color="error" variant="body2" role="alert">
            {of.errors.kinds}
          </Typography>
        )}
      </Box>
      <FilterSelect
        name="filter"
        label="Of whom"
        known={known?.filter ?? ""}
        filters={filters}
        sx={{ maxWidth: 420 }}
      />
      <Box>
        <Button type="submit" name="intent" value="save" variant="contained" disabled={of.isBusy}>
          {known ? "Save" : "Make the webhook"}
        </Button>
      </Box>
    </ActionForm>
  );
}

/** Makes a key: for which program, for how long, and what it is good for. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { AREA_NAMES, AREAS, type Area, type Scope } from "../../core/team/scopes";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Row } from "../components/row";
import { type Action, ActionForm } from "../components/use-action";

type Reach = "none" | "read" | "write";
const REACHES = [
  ["none", "not at all"],
  ["read", "read"],
  ["write", "read and change"],
] as const satisfies readonly (readonly [Reach, string])[];

const DAYS = [
  ["90", "90 days"],
  ["30", "30 days"],
  ["365", "a year"],
  ["", "until it is revoked"],
] as const;

const same = (reach: Reach) =>
  Object.fromEntries(AREA_NAMES.map((area) => [area, reach])) as Record<Area, Reach>;

export function KeyForm({ of: make }: { of: Action<{ key?: string }> }) {
  const [reaches, setReaches] = useState(same("none"));
  const scopes = AREA_NAMES.flatMap((area): Scope[] => {
    const reach = reaches[area];
    return reach === "none" ? [] : [`${area}:${reach}`];
  });
  return (
    <ActionForm
      of={make}
      aria-label="A new key"
      sends={{ scopes: JSON.stringify(scopes) }}
      sx={{ display: "grid", gap: 1.75, maxWidth: 760 }}
    >
      <Typography variant="h2">A new key</Typography>
      <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "1fr 220px" } }}>
        <PlainTextField
          name="name"
          label="For which program"
          errors={make.errors}
          helperText="You will know it by this when you revoke it."
        />
        <PlainSelect name="days" label="Good for" options={DAYS} sx={{}} />
      </Box>
      <Box>
        <Box sx={{ display: "flex", gap: 1, mb: 0.75, alignItems: "center", flexWrap: "wrap" }}>
          <Typography sx={{ flex: 1, fontWeight: 600 }}>What it may do, of what you may</Typography>
          <Button size="small" type="button" onClick={() => setReaches(same("read"))}>
            Read everything
          </Button>
          <Button size="small" type="button" onClick={() => setReaches(same("write"))}>
            Everything
          </Button>
        </Box>
        {AREA_NAMES.map((area) => (
          <Row key={area} columns="minmax(0, 1fr) 190px" sx={{ alignItems: "center", py: 0.5 }}>
            <Typography>{AREAS[area]}</Typography>
            <PlainSelect
              aria-label={`${AREAS[area]}: how far`}
              value={reaches[area]}
              options={REACHES}
              onChange={(value) => setReaches((before) => ({ ...before, [area]: value as Reach }))}
              sx={{}}
            />
          </Row>
        ))}
        {make.errors.scopes && (
          <Typography color="error" variant="body2" role="alert" sx={{ mt: 0.75 }}>
            {make.errors.scopes}
          </Typography>
        )}
      </Box>
      <Box>
        <Button type="submit" name="intent" value="make-key" variant="contained" disabled={make.isBusy}>
          Make the key
        </Button>
      </Box>
    </ActionForm>
  );
}

/** Connects a CRM, or signs into it anew. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { PlainTextField } from "../components/plain-text-field";
import { type Action, ActionForm } from "../components/use-action";

const two = { display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "220px 1fr" } } as const;

export function ConnectCrm({ of }: { of: Action<unknown> }) {
  return (
    <ActionForm of={of} aria-label="A CRM" sx={{ display: "grid", gap: 1.75, maxWidth: 760 }}>
      <Box sx={two}>
        <PlainTextField name="name" label="What you call it" defaultValue="" errors={of.errors} />
        <PlainTextField
          name="url"
          label="Address of its API"
          placeholder="https://"
          defaultValue=""
          errors={of.errors}
        />
      </Box>
      <KeyFields of={of} />
      <Box component="details" sx={{ "& summary": { cursor: "pointer", color: "text.secondary" } }}>
        <summary>It speaks another way</summary>
        <PlainTextField
          name="dialect"
          label="Where its things stand, as JSON"
          multiline
          minRows={4}
          defaultValue=""
          errors={of.errors}
          helperText="Only what differs from docs/crm.md: paths, names of parameters, where in its JSON what stands."
          sx={{ mt: 1.5, width: "100%" }}
        />
      </Box>
      <Box>
        <Button type="submit" name="intent" value="connect" variant="contained" disabled={of.isBusy}>
          Connect it
        </Button>
      </Box>
    </ActionForm>
  );
}

export function RenewKey({ of }: { of: Action<unknown> }) {
  return (
    <ActionForm of={of} aria-label="A new token" sx={{ display: "grid", gap: 1.75, maxWidth: 760, mb: 4 }}>
      <KeyFields of={of} />
      <Box>
        <Button type="submit" name="intent" value="renew" variant="contained" disabled={of.isBusy}>
          Sign in with it
        </Button>
      </Box>
    </ActionForm>
  );
}

function KeyFields({ of }: { of: Action<unknown> }) {
  return (
    <>
      <Box sx={two}>
        <PlainTextField name="clientId" label="Client, if it has one" defaultValue="" errors={of.errors} />
        <PlainTextField
          name="clientSecret"
          label="The client's secret"
          type="password"
          defaultValue=""
          errors={of.errors}
        />
      </Box>
      <PlainTextField
        name="key"
        label="Refresh token, or key"
        type="password"
        defaultValue=""
        errors={of.errors}
        helperText="Made there, for a program. It is kept sealed, and renewed as often as it asks."
      />
    </>
  );
}

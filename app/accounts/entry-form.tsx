/** The form by which somebody gets in: its fields, one error for the whole, one button. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Stack from "@mui/material/Stack";
import type { ReactNode } from "react";
import { Form, useNavigation } from "react-router";
import { Field, type FieldErrors } from "../components/field";

interface EntryFormProps {
  errors: FieldErrors;
  submit: string;
  children: ReactNode;
}

export function EntryForm({ errors, submit, children }: EntryFormProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <Form method="post">
      <Stack spacing={2}>
        {errors.form && <Alert severity="error">{errors.form}</Alert>}
        {children}
        <Box>
          <Button type="submit" variant="contained" disabled={busy}>
            {submit}
          </Button>
        </Box>
      </Stack>
    </Form>
  );
}

export function EmailField({ errors }: { errors: FieldErrors }) {
  return <Field name="email" label="Email address" type="email" autoComplete="username" errors={errors} />;
}

/** `fresh`: one that is chosen now, not one that is known already. */
export function PasswordField({ errors, fresh = false }: { errors: FieldErrors; fresh?: boolean }) {
  return (
    <Field
      name="password"
      label="Password"
      type="password"
      autoComplete={fresh ? "new-password" : "current-password"}
      helperText={fresh && "At least 10 characters, and none of those that everybody tries first."}
      errors={errors}
    />
  );
}

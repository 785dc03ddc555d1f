/** One person typed in by hand. */

import Box from "@mui/material/Box";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";

const FIELDS = [
  ["firstName", "First name"],
  ["lastName", "Last name"],
  ["email", "Email address"],
  ["title", "Job title"],
  ["company", "Company"],
  ["companyDomain", "Its web domain"],
  ["city", "City"],
  ["country", "Country"],
  ["phone", "Phone"],
  ["profile", "Social profile"],
] as const;

export function AddPerson({
  open,
  onClose,
  listName,
}: {
  open: boolean;
  onClose: () => void;
  listName: string;
}) {
  return (
    <FormDialog
      open={open}
      title="Add a person"
      action="/prospects"
      intent="add"
      act="Add this person"
      width="sm"
      onClose={onClose}
    >
      {(errors) => (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2 }}>
          {FIELDS.map(([name, label]) => (
            <Field key={name} name={name} label={label} autoFocus={name === "firstName"} errors={errors} />
          ))}
          <Field name="listName" label="On the list" defaultValue={listName || "Typed in"} errors={errors} />
        </Box>
      )}
    </FormDialog>
  );
}

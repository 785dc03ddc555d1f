/** One person typed in by hand. */

import Box from "@mui/material/Box";
import { PERSON_FIELDS } from "../../core/prospects/fields";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { fieldName } from "./words";

const FIELDS = PERSON_FIELDS.filter((field) => field !== "timeZone");

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
          {FIELDS.map((name) => (
            <Field
              key={name}
              name={name}
              label={fieldName(name)}
              autoFocus={name === "firstName"}
              errors={errors}
            />
          ))}
          <Field name="listName" label="On the list" defaultValue={listName || "Typed in"} errors={errors} />
        </Box>
      )}
    </FormDialog>
  );
}

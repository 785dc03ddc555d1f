/** One person typed in by hand. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useFetcher } from "react-router";
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
  const save = useFetcher<{ errors?: Record<string, string> }>();
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm">
      <save.Form method="post" action="/prospects">
        <DialogTitle>Add a person</DialogTitle>
        <DialogContent>
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2, pt: 1 }}>
            {FIELDS.map(([name, label]) => (
              <Field
                key={name}
                name={name}
                label={label}
                autoFocus={name === "firstName"}
                errors={save.data?.errors}
              />
            ))}
            <Field
              name="listName"
              label="On the list"
              defaultValue={listName || "Typed in"}
              errors={save.data?.errors}
            />
          </Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            variant="contained"
            name="intent"
            value="add"
            disabled={save.state !== "idle"}
          >
            Add this person
          </Button>
        </DialogActions>
      </save.Form>
    </Dialog>
  );
}

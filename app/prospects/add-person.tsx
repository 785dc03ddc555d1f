/** One person typed in by hand. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useFetcher } from "react-router";

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
              <TextField
                key={name}
                name={name}
                label={label}
                autoFocus={name === "firstName"}
                error={!!save.data?.errors?.[name]}
                helperText={save.data?.errors?.[name]}
              />
            ))}
            <TextField
              name="listName"
              label="On the list"
              defaultValue={listName || "Typed in"}
              error={!!save.data?.errors?.listName}
              helperText={save.data?.errors?.listName}
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

/** Renames or deletes a list, and says first what a deletion takes along. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useFetcher } from "react-router";
import type { ListUses } from "../../server/prospects/lists/change-list";
import { Field } from "../components/field";
import { Sharing } from "../components/sharing";
import { useAction } from "../components/use-action";
import { count } from "../components/words";

/** What follows from the deletion, as sentences. */
function consequences(people: number, { sequences, hasForm }: ListUses): string[] {
  const named = sequences.map((name) => `“${name}”`).join(", ");
  return [
    `${count(people, "person stays", "people stay")} with all that is known of them; only the list goes.`,
    ...(sequences.length > 0
      ? [
          `${named}: whoever is on their way goes on, and nobody new is started until you choose another list there.`,
        ]
      : []),
    ...(hasForm ? ["Its web form closes."] : []),
  ];
}

export function ListDialog(props: {
  list: { id: number; name: string };
  people: number;
  onClose: () => void;
}) {
  const { list, people, onClose } = props;
  const uses = useFetcher<ListUses | null>();
  const path = `/lists/${list.id}`;
  const act = useAction({ to: path }, onClose);
  useEffect(() => {
    void uses.load(path);
  }, [uses.load, path]);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="list-dialog">
      <DialogTitle id="list-dialog">The list “{list.name}”</DialogTitle>
      <DialogContent>
        {act.errors.form && (
          <Alert severity="error" sx={{ mb: 2 }}>
            {act.errors.form}
          </Alert>
        )}
        <act.Form method="post" action={path} id="rename-list">
          <input type="hidden" name="intent" value="rename" />
          <Field
            name="name"
            label="Its name"
            defaultValue={list.name}
            autoFocus
            fullWidth
            errors={act.errors}
            sx={{ mt: 1 }}
          />
        </act.Form>
        {uses.data && (
          <Box sx={{ mt: 2 }}>
            <Sharing kind="list" id={list.id} shared={uses.data.shared} />
          </Box>
        )}
        <Typography variant="h3" sx={{ mt: 3, mb: 0.75 }}>
          If you delete it
        </Typography>
        <Box component="ul" sx={{ pl: 2.25, m: 0, mb: 1.5, display: "grid", gap: 0.5, typography: "body2" }}>
          {uses.data && consequences(people, uses.data).map((each) => <li key={each}>{each}</li>)}
        </Box>
        <Button
          disabled={!uses.data}
          onClick={() => act.press({ intent: "delete" })}
          sx={{ color: "clay.main", borderColor: "clay.main" }}
        >
          Delete the list
        </Button>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" form="rename-list" variant="contained">
          Rename
        </Button>
      </DialogActions>
    </Dialog>
  );
}

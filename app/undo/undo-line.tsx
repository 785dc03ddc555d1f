/** What was just done, with the button that takes it back. */
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useAction } from "../components/use-action";

/** Takes back what the ids stand for. `undone`: how much stayed, because it was changed again since; null before it is done. */
function useUndo() {
  const { press, isBusy, value, errors } = useAction<number>({ to: "/undo" });
  return {
    undo: (ids: readonly number[]) => press({ ids: ids.join() }),
    isUndoing: isBusy,
    undone: value,
    error: Object.values(errors)[0] ?? null,
  };
}

/** In words, what came of taking back. */
function undoneWords(kept: number): string {
  return kept === 0
    ? "Taken back."
    : "Taken back, but for what was changed again since: that stays as it is.";
}

/** The button alone, which then says that it is done. */
export function UndoButton({ ids }: { ids: readonly number[] }) {
  const { undo, isUndoing, undone, error } = useUndo();
  if (error) return <Typography color="error">{error}</Typography>;
  if (undone !== null) return <Typography color="textSecondary">{undoneWords(undone)}</Typography>;
  return (
    <Button size="small" disabled={isUndoing} onClick={() => undo(ids)}>
      Undo
    </Button>
  );
}

/** A line at the page's foot: what was done, and its undo. It leaves after a while; /undo has it for longer. */
export function UndoLine({ words, ids }: { words: string | null; ids: readonly number[] }) {
  const [isOpen, setOpen] = useState(false);
  const { undo, isUndoing, undone, error } = useUndo();
  const key = ids.join();
  useEffect(() => {
    if (words !== null && key !== "") setOpen(true);
  }, [words, key]);
  return (
    <Snackbar
      open={isOpen}
      autoHideDuration={15_000}
      onClose={(_, why) => why !== "clickaway" && setOpen(false)}
    >
      <Alert
        severity={error ? "error" : "success"}
        action={
          undone === null && !error ? (
            <Button size="small" disabled={isUndoing} onClick={() => undo(ids)}>
              Undo
            </Button>
          ) : (
            <Button size="small" component={Link} to="/undo">
              More
            </Button>
          )
        }
      >
        {error ?? (undone === null ? words : undoneWords(undone))}
      </Alert>
    </Snackbar>
  );
}

/** Reusable pieces of text: put in, or keep what is selected as one. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Piece } from "../../../server/sequences/pieces";
import { Sharing } from "../../components/sharing";

interface Answer {
  pieces?: Piece[];
  errors?: Record<string, string>;
}

export function PiecesDialog(props: {
  selected: string;
  onClose: () => void;
  onTake: (body: string) => void;
}) {
  const [pieces, setPieces] = useState<Piece[] | null>(null);
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    void fetch("/pieces")
      .then((response) => response.json() as Promise<Answer>)
      .then((answer) => setPieces(answer.pieces ?? []))
      .catch(() => setProblem("No connection. Try again."));
  }, []);
  async function send(body: Record<string, unknown>): Promise<void> {
    try {
      const response = await fetch("/pieces", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(body),
      });
      const answer = (await response.json()) as Answer;
      setProblem(answer.errors ? Object.values(answer.errors).join(" ") : null);
      if (answer.pieces) {
        setPieces(answer.pieces);
        setName("");
      }
    } catch {
      setProblem("No connection. What you wrote is kept; try again.");
    }
  }
  return (
    <Dialog open onClose={props.onClose} fullWidth maxWidth="sm">
      <DialogTitle>Pieces of text</DialogTitle>
      <DialogContent>
        {problem && (
          <Alert severity="error" sx={{ mb: 1.5 }}>
            {problem}
          </Alert>
        )}
        {pieces?.length === 0 && (
          <Typography color="textSecondary">
            None yet. Select a sentence that you write often, and keep it here.
          </Typography>
        )}
        {pieces?.map((piece) => (
          <Box key={piece.id} sx={{ borderTop: "1px solid", borderColor: "divider", py: 1.25 }}>
            <Typography variant="h3">{piece.name}</Typography>
            <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "pre-wrap" }}>
              {piece.body.slice(0, 300)}
            </Typography>
            <Box sx={{ display: "flex", gap: 1, mt: 0.75 }}>
              <Button size="small" onClick={() => props.onTake(piece.body)}>
                Put it in
              </Button>
              <Box sx={{ flex: 1 }} />
              <Sharing kind="piece" id={piece.id} shared={piece.shared} />
              <Button
                disabled={!piece.shared.mayShare && piece.shared.sharing !== "change"}
                size="small"
                variant="text"
                onClick={() => void send({ intent: "drop", id: piece.id })}
              >
                Take it away
              </Button>
            </Box>
          </Box>
        ))}
        {props.selected.trim() !== "" && (
          <Box sx={{ display: "flex", gap: 1, mt: 2 }}>
            <TextField
              label="Keep the text as"
              value={name}
              onChange={({ target }) => setName(target.value)}
            />
            <Button onClick={() => void send({ intent: "keep", name, body: props.selected })}>Keep it</Button>
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

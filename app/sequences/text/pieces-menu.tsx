import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Outcome } from "../../../server/errors";
import type { Piece } from "../../../server/sequences/pieces";
import { askServer } from "../../components/ask-server";
import { Viewer } from "../../components/dialogs";
import type { FieldErrors } from "../../components/field";
import { Refusal } from "../../components/refusal";
import { Sharing } from "../../components/sharing";

export function PiecesDialog(props: {
  selected: string;
  onClose: () => void;
  onTake: (body: string) => void;
}) {
  const [pieces, setPieces] = useState<Piece[] | null>(null);
  const [name, setName] = useState("");
  const [errors, setErrors] = useState<FieldErrors>({});
  const take = (answer: Outcome<Piece[]>) => {
    setErrors(answer.ok ? {} : answer.errors);
    if (answer.ok) setPieces(answer.value);
    return answer.ok;
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: they are fetched once.
  useEffect(() => {
    void askServer<Piece[]>("/pieces").then(take);
  }, []);
  async function send(body: Record<string, unknown>): Promise<void> {
    if (take(await askServer("/pieces", body))) setName("");
  }
  return (
    <Viewer title="Pieces of text" onClose={props.onClose}>
      <Refusal errors={errors} />
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
          <TextField label="Keep the text as" value={name} onChange={({ target }) => setName(target.value)} />
          <Button onClick={() => void send({ intent: "keep", name, body: props.selected })}>Keep it</Button>
        </Box>
      )}
    </Viewer>
  );
}

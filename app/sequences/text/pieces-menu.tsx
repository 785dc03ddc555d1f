import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { asWords } from "../../../core/writing/document";
import type { Outcome } from "../../../server/errors";
import type { Piece } from "../../../server/sequences/pieces";
import type { WrittenEmail } from "../../../server/sequences/written-emails";
import { askServer } from "../../components/ask-server";
import { Viewer } from "../../components/dialogs";
import type { FieldErrors } from "../../components/field";
import { Refusal } from "../../components/refusal";
import { SearchField } from "../../components/search-field";
import { Sharing } from "../../components/sharing";
import { BroughtLine } from "../../results/brought-line";

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
  const [wanted, setWanted] = useState("");
  const [written, setWritten] = useState<WrittenEmail[]>([]);
  useEffect(() => {
    let isOver = false;
    void askServer<WrittenEmail[]>(`/pieces?written=${encodeURIComponent(wanted)}`).then((answer) => {
      if (!isOver && answer.ok) setWritten(answer.value);
    });
    return () => {
      isOver = true;
    };
  }, [wanted]);
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
            {asWords(piece.body).slice(0, 300)}
          </Typography>
          <BroughtLine brought={piece.brought} sx={{ mt: 0.5 }} />
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
      <Box component="section" aria-label="Written before" sx={{ mt: 3 }}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          Written before
        </Typography>
        <SearchField
          value={wanted}
          label="Search what was written before"
          placeholder="Words of the email, its step or sequence"
          onSearch={setWanted}
          sx={{ mb: 1 }}
        />
        {written.length === 0 && (
          <Typography color="textSecondary">
            {wanted === "" ? "No sequence has an email yet." : "No email holds these words."}
          </Typography>
        )}
        {written.map(({ key, from, subject, body, words, brought }) => (
          <Box
            key={key}
            role="group"
            aria-label={from}
            sx={{ borderTop: "1px solid", borderColor: "divider", py: 1.25 }}
          >
            <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
              <Typography variant="h3" sx={{ flex: 1, minWidth: 0 }} noWrap>
                {subject || "In the same thread"}
              </Typography>
              <Typography variant="caption" color="textSecondary" noWrap>
                {from}
              </Typography>
            </Box>
            <Typography
              variant="body2"
              color="textSecondary"
              sx={{
                whiteSpace: "pre-wrap",
                display: "-webkit-box",
                WebkitLineClamp: 3,
                WebkitBoxOrient: "vertical",
                overflow: "hidden",
              }}
            >
              {words}
            </Typography>
            <BroughtLine brought={brought} sx={{ mt: 0.5 }} />
            <Button size="small" sx={{ mt: 0.75 }} onClick={() => props.onTake(body)}>
              Put it in
            </Button>
          </Box>
        ))}
      </Box>
    </Viewer>
  );
}

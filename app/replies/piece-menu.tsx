import Box from "@mui/material/Box";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useEffectEvent, useState } from "react";
import type { Piece, ReadyPiece } from "../../server/sequences/pieces";
import { askServer } from "../components/ask-server";
import { BroughtLine } from "../results/brought-line";

export function PieceMenu(props: {
  anchor: HTMLElement;
  pieces: ReadyPiece[];
  onClose: () => void;
  onChoose: (piece: ReadyPiece) => void;
}) {
  const { anchor, onClose, onChoose } = props;
  // What each brought is worked out once it is asked for. None is shown before: what moves is pressed by mistake.
  const [pieces, setPieces] = useState<(ReadyPiece & Partial<Pick<Piece, "brought">>)[] | null>(null);
  const byName = useEffectEvent(() => props.pieces);
  useEffect(() => {
    void askServer<Piece[]>("/pieces").then((answer) => setPieces(answer.ok ? answer.value : byName()));
  }, []);
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      {pieces === null && <MenuItem disabled>Looking at what each brought …</MenuItem>}
      {pieces?.map((piece) => (
        <MenuItem
          key={piece.id}
          onClick={() => {
            onClose();
            onChoose(piece);
          }}
        >
          <Box>
            {piece.name}
            {piece.brought && <BroughtLine brought={piece.brought} />}
          </Box>
        </MenuItem>
      ))}
    </Menu>
  );
}

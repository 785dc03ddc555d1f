import Box from "@mui/material/Box";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import type { ReadyPiece } from "../../server/sequences/pieces";
import { BroughtLine } from "../results/brought-line";

export function PieceMenu(props: {
  anchor: HTMLElement;
  pieces: ReadyPiece[];
  onClose: () => void;
  onChoose: (piece: ReadyPiece) => void;
}) {
  const { anchor, pieces, onClose, onChoose } = props;
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      {pieces.map((piece) => (
        <MenuItem
          key={piece.id}
          onClick={() => {
            onClose();
            onChoose(piece);
          }}
        >
          <Box>
            {piece.name}
            <BroughtLine brought={piece.brought} />
          </Box>
        </MenuItem>
      ))}
    </Menu>
  );
}

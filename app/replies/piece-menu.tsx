import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";

interface Piece {
  id: number;
  name: string;
  body: string;
}

export function PieceMenu(props: {
  anchor: HTMLElement;
  pieces: Piece[];
  onClose: () => void;
  onChoose: (piece: Piece) => void;
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
          {piece.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { Link } from "react-router";
import type { SequenceSummary } from "../../server/sequences/list-sequences";

/** What else can be done with a sequence of the list. */
export function SequenceMenu(props: {
  anchor: HTMLElement;
  sequence: SequenceSummary;
  onClose: () => void;
  onChoose: (intent: string) => void;
}) {
  const { anchor, sequence, onClose, onChoose } = props;
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      <MenuItem onClick={() => onChoose("duplicate")}>Duplicate</MenuItem>
      <MenuItem component={Link} to={`/sequences/${sequence.id}/people`}>
        People in it
      </MenuItem>
      <MenuItem component="a" href={`/sequences/${sequence.id}/file`} download onClick={onClose}>
        Save as a file
      </MenuItem>
      <MenuItem onClick={() => onChoose("shelf")}>Put on the shelf</MenuItem>
      <MenuItem onClick={() => onChoose(sequence.isArchived ? "bring_back" : "archive")}>
        {sequence.isArchived ? "Bring back" : "Put away"}
      </MenuItem>
      <MenuItem onClick={() => onChoose("delete")} sx={{ mt: 2, color: "clay.main" }}>
        Delete
        {sequence.figures.active > 0 && `, and stop it for ${sequence.figures.active}`}
      </MenuItem>
    </Menu>
  );
}

/** The ways to people: from a file, from the directory, by hand. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { Link } from "react-router";
import { Empty } from "../components/page";

/** What stands in the page's place while there is nobody. */
export function Begin({ hasDirectory, onAdd }: { hasDirectory: boolean; onAdd: () => void }) {
  return (
    <Empty
      title="Begin with a list"
      text={
        hasDirectory
          ? "Bring a CSV or vCard file that you have, or say whom you want and search the directory."
          : "Bring a CSV or vCard file as any program exports it. Other column names and broken lines are dealt with."
      }
      action={
        <Box sx={{ display: "flex", gap: 1, justifyContent: "center", flexWrap: "wrap" }}>
          <Button variant="contained" component={Link} to="/prospects/import">
            Import a file
          </Button>
          {hasDirectory && (
            <Button component={Link} to="/prospects/find">
              Find people
            </Button>
          )}
          <Button onClick={onAdd}>Add a person</Button>
        </Box>
      }
    />
  );
}

/** The ways to get more people; the first thing to do where no list is open. */
export function AddPeople(props: { hasDirectory: boolean; onAdd: () => void; isFirst: boolean }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        variant={props.isFirst ? "contained" : "outlined"}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        More people
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        <MenuItem component={Link} to="/prospects/import" onClick={close}>
          Import a file
        </MenuItem>
        {props.hasDirectory && (
          <MenuItem component={Link} to="/prospects/find" onClick={close}>
            Find people in the directory
          </MenuItem>
        )}
        <MenuItem
          onClick={() => {
            close();
            props.onAdd();
          }}
        >
          Add a person
        </MenuItem>
      </Menu>
    </>
  );
}

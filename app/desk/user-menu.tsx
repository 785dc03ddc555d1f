import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { Form, Link } from "react-router";

export function UserMenu({
  anchor,
  onClose,
  userName,
}: {
  anchor: HTMLElement;
  onClose: () => void;
  userName: string;
}) {
  return (
    <Menu anchorEl={anchor} open onClose={onClose}>
      <MenuItem disabled>{userName}</MenuItem>
      <MenuItem component={Link} to="/settings" onClick={onClose}>
        Settings
      </MenuItem>
      <MenuItem component={Link} to="/connections" onClick={onClose}>
        Connections
      </MenuItem>
      <MenuItem component={Link} to="/block-list" onClick={onClose}>
        Block list
      </MenuItem>
      <Form method="post" action="/sign-out">
        <MenuItem component="button" type="submit" sx={{ width: 1 }}>
          Sign out
        </MenuItem>
      </Form>
    </Menu>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { Mark } from "../desk/mark";

/** A page of one message: errors, and the public pages' ends. */
export function Notice(props: {
  heading: string;
  text: string;
  action?: { to: string; label: string } | undefined;
  children?: React.ReactNode;
}) {
  return (
    <Box component="main" sx={{ minHeight: "100dvh", display: "grid", placeItems: "center", p: 3 }}>
      <Box sx={{ maxWidth: 520 }}>
        <Mark size={36} />
        <Typography variant="h1" sx={{ mt: 3, mb: 1.5 }}>
          {props.heading}
        </Typography>
        <Typography color="textSecondary">{props.text}</Typography>
        <Box sx={{ mt: 3 }}>
          {props.children}
          {props.action && (
            <Button variant="contained" component={Link} to={props.action.to}>
              {props.action.label}
            </Button>
          )}
        </Box>
      </Box>
    </Box>
  );
}

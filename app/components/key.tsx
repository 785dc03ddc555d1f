import Button, { type ButtonProps } from "@mui/material/Button";
import { styled } from "@mui/material/styles";

/** A key of the keyboard. */
export const Key = styled("kbd")(({ theme }) => ({
  fontFamily: "inherit",
  fontSize: 11.5,
  fontWeight: 600,
  lineHeight: 1.5,
  color: theme.palette.text.secondary,
  background: theme.palette.background.paper,
  border: `1px solid ${theme.palette.divider}`,
  borderBottomWidth: 2,
  borderRadius: 4,
  padding: "0 5.6px",
  // A phone has none.
  [theme.breakpoints.down("sm")]: { display: "none" },
}));

/** A button that a key presses as well. */
export function KeyButton({
  keys,
  children,
  sx = [],
  ...button
}: ButtonProps & {
  keys: string;
  component?: React.ElementType;
  to?: string;
}) {
  return (
    <Button {...button} sx={[{ gap: 0.75 }, ...(Array.isArray(sx) ? sx : [sx])]}>
      {children} <Key>{keys}</Key>
    </Button>
  );
}

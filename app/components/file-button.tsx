/** A button that lets a file be chosen. The input itself has the focus and the name; the label only looks like a button. */
import Box from "@mui/material/Box";
import Button, { type ButtonProps } from "@mui/material/Button";
import { UNSEEN } from "./unseen";

/** The label is none of the button that it looks like. */
const NO_ROLE = { role: undefined };

export function FileButton(props: {
  label: React.ReactNode;
  /** What the input is called, where the button's words are too short to say it. */
  name?: string;
  accept?: string;
  disabled?: boolean;
  onFile: (file: File) => void;
  button?: Pick<ButtonProps, "size" | "variant" | "sx">;
}) {
  return (
    <Button
      {...props.button}
      {...NO_ROLE}
      component="label"
      tabIndex={-1}
      disabled={props.disabled ?? false}
      sx={{
        position: "relative",
        "&:focus-within": { outline: "2px solid", outlineColor: "tile.main", outlineOffset: 2 },
        ...(props.button?.sx as object | undefined),
      }}
    >
      {props.label}
      <Box
        component="input"
        type="file"
        accept={props.accept}
        disabled={props.disabled}
        aria-label={props.name}
        sx={UNSEEN}
        onChange={({ target }: React.ChangeEvent<HTMLInputElement>) => {
          const [file] = target.files ?? [];
          if (file) props.onFile(file);
          target.value = "";
        }}
      />
    </Button>
  );
}

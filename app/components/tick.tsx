import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import FormHelperText from "@mui/material/FormHelperText";

/** A choice that is made or not, with what it means below. */
export function Tick(props: {
  label: string;
  hint?: string;
  checked: boolean;
  disabled?: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <Box>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={props.checked}
            disabled={props.disabled ?? false}
            onChange={({ target }) => props.onChange(target.checked)}
          />
        }
        label={props.label}
        sx={{ "& .MuiCheckbox-root": { py: 0.4 } }}
      />
      {props.hint && <FormHelperText sx={{ mt: 0, ml: 3.75 }}>{props.hint}</FormHelperText>}
    </Box>
  );
}

/** The fields of a form that is a schema's (schema-form.ts): each knows its value and what is wrong with it by its name. */
import FormControl from "@mui/material/FormControl";
import FormHelperText from "@mui/material/FormHelperText";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { type ComponentProps, useId } from "react";
import { type FieldPath, type FieldValues, useController } from "react-hook-form";
import { Choice } from "./choice";
import { TimeField } from "./moment-fields";
import { NumberField } from "./number-field";
import type { SchemaForm } from "./schema-form";
import { Tick } from "./tick";

interface In<Values extends FieldValues, Sent> {
  in: Pick<SchemaForm<Values, Sent>, "control">;
  name: FieldPath<Values>;
}
type Rest<Props> = Omit<
  Props,
  "name" | "value" | "defaultValue" | "checked" | "onChange" | "error" | "errors"
>;

function useField<Values extends FieldValues, Sent>({ in: { control }, name }: In<Values, Sent>) {
  const { field, fieldState } = useController({ control, name });
  return { ...field, wrong: fieldState.error?.message };
}

export function TextInput<Values extends FieldValues, Sent>({
  in: of,
  name,
  helperText,
  ...props
}: In<Values, Sent> & Rest<TextFieldProps>) {
  const { ref, wrong, value, ...field } = useField({ in: of, name });
  return (
    <TextField
      {...props}
      {...field}
      value={value ?? ""}
      inputRef={ref}
      error={wrong !== undefined}
      helperText={wrong ?? helperText}
    />
  );
}

/** A time of day, "HH:mm". */
export function TimeInput<Values extends FieldValues, Sent>({
  in: of,
  name,
  ...props
}: In<Values, Sent> & { label: string; helperText?: string }) {
  const { wrong, value, onChange } = useField({ in: of, name });
  return <TimeField {...props} value={value ?? ""} onChange={onChange} error={wrong} />;
}

export function NumberInput<Values extends FieldValues, Sent>({
  in: of,
  name,
  helperText,
  ...props
}: In<Values, Sent> & Rest<ComponentProps<typeof NumberField>>) {
  const { ref, wrong, ...field } = useField({ in: of, name });
  return (
    <NumberField
      {...props}
      {...field}
      inputRef={ref}
      error={wrong !== undefined}
      helperText={wrong ?? helperText}
    />
  );
}

/** One of several; "" stands for null. */
export function ChoiceInput<Values extends FieldValues, Sent>({
  in: of,
  name,
  options,
  helperText,
  ...props
}: In<Values, Sent> &
  Rest<Omit<ComponentProps<typeof Choice>, "options">> & {
    options: readonly (readonly [string | number, React.ReactNode])[];
  }) {
  const { ref, wrong, value, onChange, ...field } = useField({ in: of, name });
  return (
    <Choice
      {...props}
      {...field}
      options={options}
      value={value ?? ""}
      onChange={(chosen) => onChange(chosen === "" ? null : chosen)}
      inputRef={ref}
      error={wrong !== undefined}
      helperText={wrong ?? helperText}
    />
  );
}

export function TickInput<Values extends FieldValues, Sent>({
  in: of,
  name,
  ...props
}: In<Values, Sent> & Rest<ComponentProps<typeof Tick>>) {
  const { value, onChange } = useField({ in: of, name });
  return <Tick {...props} checked={value} onChange={onChange} />;
}

/** Any of a few. */
export function SeveralInput<Values extends FieldValues, Sent>(
  props: In<Values, Sent> & { label: string; options: readonly (readonly [string | number, string])[] },
) {
  const { value, onChange, wrong } = useField(props);
  const label = useId();
  return (
    <FormControl error={wrong !== undefined}>
      <Typography id={label} variant="body2" color={wrong ? "error" : "textSecondary"} sx={{ mb: 0.5 }}>
        {props.label}
      </Typography>
      <ToggleButtonGroup
        size="small"
        value={value}
        onChange={(_, next) => onChange(next)}
        aria-labelledby={label}
      >
        {props.options.map(([each, words]) => (
          <ToggleButton key={each} value={each} sx={{ textTransform: "none", px: 1.5 }}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {wrong && <FormHelperText sx={{ mx: 0 }}>{wrong}</FormHelperText>}
    </FormControl>
  );
}

import type { SxProps, Theme } from "@mui/material/styles";
import { PlainSelect } from "../components/plain-select";

/** Whom something is about: everybody, or who fits one of the saved filters, or the filter that it has already. */
export function FilterSelect(props: {
  label: string;
  name?: string;
  filters: readonly { name: string; definition: string }[];
  /** The filter as JSON; "" for everybody. */
  known: string;
  value?: string;
  onChange?: (filter: string) => void;
  sx: SxProps<Theme>;
}) {
  const { label, name, filters, known, value, onChange, sx } = props;
  const isOwn = known !== "" && !filters.some(({ definition }) => definition === known);
  return (
    <PlainSelect
      label={label}
      {...(name === undefined ? {} : { name })}
      {...(value === undefined ? { defaultValue: known } : { value })}
      {...(onChange ? { onChange } : {})}
      options={[
        ["", "everybody"],
        ...filters.map(({ name, definition }) => [definition, `who fits “${name}”`] as const),
        ...(isOwn ? ([[known, "who fits the filter that it has"]] as const) : []),
      ]}
      sx={sx}
    />
  );
}

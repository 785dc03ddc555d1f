/** The pickers behind moment-fields.tsx: fetched with the first day or time that a page asks for. */
import { AdapterLuxon } from "@mui/x-date-pickers/AdapterLuxon";
import { DatePicker } from "@mui/x-date-pickers/DatePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { TimePicker } from "@mui/x-date-pickers/TimePicker";
import { DateTime } from "luxon";

export interface PickerProps {
  of: "day" | "time";
  label?: string | undefined;
  /** What it is called where no label is seen. */
  spoken?: string | undefined;
  value: string;
  onChange: (value: string) => void;
  wrong: boolean;
  helperText: React.ReactNode;
}

export function MomentPicker({ of, label, spoken, value, onChange, wrong, helperText }: PickerProps) {
  const shared = {
    ...(label ? { label } : {}),
    value: value === "" ? null : DateTime.fromISO(value, { locale: "en-GB" }),
    onChange: (picked: DateTime | null) => {
      // What is half typed is no moment yet.
      if (picked === null) onChange("");
      else if (picked.isValid) onChange(picked.toFormat(of === "day" ? "yyyy-MM-dd" : "HH:mm"));
    },
    slotProps: {
      textField: {
        size: "small" as const,
        fullWidth: true,
        error: wrong,
        helperText,
        ...(spoken ? { "aria-label": spoken } : {}),
      },
    },
  };
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB">
      {of === "day" ? (
        <DatePicker {...shared} format="d LLL yyyy" />
      ) : (
        <TimePicker {...shared} ampm={false} format="HH:mm" />
      )}
    </LocalizationProvider>
  );
}

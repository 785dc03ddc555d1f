/** A day or a time of day, the same on every screen: "9 Jun 2026", "14:30". Values are "YYYY-MM-DD" and "HH:mm". */
import Box from "@mui/material/Box";
import type { SxProps, Theme } from "@mui/material/styles";
import { Suspense, useEffect, useState } from "react";
import type { FieldErrors } from "./field";
import { lazily } from "./lazily";
import type { Named } from "./plain-text-field";
import { PlainTextField } from "./plain-text-field";

const MomentPicker = lazily(() => import("./moment-picker"), "MomentPicker");

type MomentProps = Named & {
  /** Of a form's field, with the errors of that form. */
  name?: string;
  errors?: FieldErrors | undefined;
  value?: string;
  defaultValue?: string;
  onChange?: (value: string) => void;
  error?: string | undefined;
  helperText?: string;
  sx?: SxProps<Theme>;
};

/** "9 Jun 2026", "14:30" */
const asShown = (of: "day" | "time", value: string): string =>
  of === "time" || value === ""
    ? value
    : new Date(`${value}T12:00Z`).toLocaleDateString("en-GB", {
        day: "numeric",
        month: "short",
        year: "numeric",
      });

function MomentField({ of, ...props }: MomentProps & { of: "day" | "time" }) {
  const [own, setOwn] = useState(props.defaultValue ?? "");
  const value = props.value ?? own;
  // The server draws what stands in its place, as large and with the same words: a picker's looks come with its script.
  const [isHere, setHere] = useState(false);
  useEffect(() => setHere(true), []);
  const wrong = props.error ?? (props.name ? props.errors?.[props.name] : undefined);
  const { label, "aria-label": spoken } = props as { label?: string; "aria-label"?: string };
  const named = label ? { label } : { "aria-label": spoken ?? "" };
  const below = wrong ?? props.helperText;
  const stand = (
    <PlainTextField
      {...named}
      value={asShown(of, value)}
      readOnly
      {...(below === undefined ? {} : { helperText: below })}
    />
  );
  return (
    <Box sx={[{ minWidth: 0, width: 1 }, ...(Array.isArray(props.sx) ? props.sx : [props.sx ?? {}])]}>
      {props.name && <input type="hidden" name={props.name} value={value} />}
      {isHere ? (
        <Suspense fallback={stand}>
          <MomentPicker
            of={of}
            label={label}
            spoken={spoken}
            value={value}
            onChange={(picked) => {
              setOwn(picked);
              props.onChange?.(picked);
            }}
            wrong={wrong !== undefined}
            helperText={below}
          />
        </Suspense>
      ) : (
        stand
      )}
    </Box>
  );
}

export const DayField = (props: MomentProps) => <MomentField of="day" {...props} />;
export const TimeField = (props: MomentProps) => <MomentField of="time" {...props} />;

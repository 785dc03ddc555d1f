/** This week's calls by person and team: what is booked, what is still likely to come, and what is aimed at, on one scale. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { TargetLine, WeekTargets } from "../../server/results/targets";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { count, longDay } from "../components/words";
import { DownloadThis, Note } from "./tables";

export function Targets({ targets: { lines, to } }: { targets: WeekTargets }) {
  const [setting, setSetting] = useState<TargetLine | null>(null);
  const most = Math.max(
    5,
    ...lines.map(({ booked, ahead, callsAWeek }) => Math.max(booked + (ahead?.high ?? 0), callsAWeek ?? 0)),
  );
  return (
    <Box component="section" aria-label="Calls booked this week" sx={{ mb: 3 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 1 }}>
        <Typography variant="h2">Calls booked this week</Typography>
        <DownloadThis name="Calls booked this week" file="/results/table?show=targets" />
      </Box>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {lines.map((line) => (
          <Box
            component="li"
            key={String(line.userId)}
            sx={{
              display: "grid",
              gridTemplateColumns: { xs: "1fr auto", sm: "170px minmax(120px, 300px) 1fr auto" },
              columnGap: 2,
              rowGap: 0.5,
              alignItems: "center",
              minHeight: 44,
              borderTop: "1px solid",
              borderColor: "divider",
              py: 0.75,
            }}
          >
            <Typography sx={{ fontWeight: line.userId === null ? 600 : 400 }}>{line.name}</Typography>
            <Scale line={line} most={most} />
            <Typography
              variant="body2"
              color="textSecondary"
              sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}
            >
              {wordsOf(line, to)}
            </Typography>
            {line.maySet ? (
              <Button
                size="small"
                variant="text"
                aria-label={`Set a target for ${line.name}`}
                onClick={() => setSetting(line)}
                sx={{ gridRow: { xs: 1, sm: "auto" }, gridColumn: { xs: 2, sm: "auto" } }}
              >
                {line.callsAWeek === null ? "Set a target" : "Change it"}
              </Button>
            ) : (
              <span />
            )}
          </Box>
        ))}
      </Box>
      <Note>
        Dark green is booked; light green is where the week is likely to end, in four of five weeks like this
        one: from the emails of the last 12 weeks and when calls came after them, what went out already, and
        what the plan has until {longDay(to)}. The line is the target.
      </Note>
      {setting && (
        <FormDialog
          title={`Calls a week: ${setting.name}`}
          act="Set it"
          intent="target"
          onClose={() => setSetting(null)}
        >
          {(errors) => (
            <>
              <input type="hidden" name="userId" value={setting.userId ?? ""} />
              <Field
                name="callsAWeek"
                label="Calls to be booked in a week"
                type="number"
                errors={errors}
                defaultValue={setting.callsAWeek ?? ""}
                helperText="Leave it empty for none."
              />
            </>
          )}
        </FormDialog>
      )}
    </Box>
  );
}

function Scale({ line: { booked, ahead, callsAWeek }, most }: { line: TargetLine; most: number }) {
  const at = (calls: number) => (100 * calls) / most;
  return (
    <Box
      component="svg"
      aria-hidden
      viewBox="0 0 100 16"
      preserveAspectRatio="none"
      sx={{ width: "100%", height: 16, gridColumn: { xs: "1 / -1", sm: "auto" } }}
    >
      <rect x={0} y={4} width={100} height={8} rx={1} fill="#EFE9DC" />
      {ahead && (
        <rect
          x={at(booked + ahead.low)}
          y={4}
          width={Math.max(1, at(ahead.high - ahead.low))}
          height={8}
          fill="#A9D2BF"
        />
      )}
      <rect x={0} y={4} width={at(booked)} height={8} fill="#2F7A5F" />
      {callsAWeek !== null && <rect x={at(callsAWeek) - 0.5} y={0} width={1} height={16} fill="#16345F" />}
    </Box>
  );
}

function wordsOf({ booked, ahead, callsAWeek }: TargetLine, to: string): string {
  const so = callsAWeek === null ? `${count(booked, "call")} so far` : `${booked} of ${callsAWeek}`;
  if (ahead === null) return `${so}. Too few were booked before to tell what comes.`;
  const [low, high] = [booked + ahead.low, booked + ahead.high];
  const likely = low === high ? `${low}` : `${low} to ${high}`;
  const against =
    callsAWeek === null
      ? ""
      : booked >= callsAWeek
        ? " The target is met."
        : low >= callsAWeek
          ? " The target is likely to be met."
          : high < callsAWeek
            ? " As things stand the target will be missed."
            : "";
  return `${so}; ${likely} likely by ${longDay(to)}.${against}`;
}

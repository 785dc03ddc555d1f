/** This week's calls by person and team: what is booked, what is still likely to come, and what is aimed at, on one scale. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import { Await } from "react-router";
import type { BookingOutlook } from "../../core/results/booking-outlook";
import type { TargetLine, WeekAhead, WeekTargets } from "../../server/results/targets";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { count, longDay } from "../components/words";
import { DownloadThis, Note } from "./tables";

/** `ahead` comes later: the plan of many people takes its time. */
export function Targets({
  targets: { lines, to },
  ahead,
}: {
  targets: WeekTargets;
  ahead: Promise<WeekAhead>;
}) {
  const [setting, setSetting] = useState<TargetLine | null>(null);
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
            <Suspense fallback={<Standing line={line} lines={lines} words="The plan is being read …" />}>
              <Await
                resolve={ahead}
                errorElement={
                  <Standing line={line} lines={lines} words="What comes could not be told now." />
                }
              >
                {(known: WeekAhead) => {
                  const own = known[String(line.userId)] ?? null;
                  return (
                    <Standing line={line} lines={lines} known={known} words={aheadWords(line, own, to)} />
                  );
                }}
              </Await>
            </Suspense>
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

/** On one scale with all lines, and in words. */
function Standing(props: {
  line: TargetLine;
  lines: readonly TargetLine[];
  known?: WeekAhead;
  words: string;
}) {
  const { line, lines, known = {}, words } = props;
  const { booked, callsAWeek } = line;
  const most = Math.max(
    5,
    ...lines.map((each) =>
      Math.max(each.booked + (known[String(each.userId)]?.high ?? 0), each.callsAWeek ?? 0),
    ),
  );
  const ahead = known[String(line.userId)];
  const at = (calls: number) => (100 * calls) / most;
  return (
    <>
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
      <Typography variant="body2" color="textSecondary" sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}>
        {callsAWeek === null ? `${count(booked, "call")} so far` : `${booked} of ${callsAWeek}`}
        {`. ${words}`}
      </Typography>
    </>
  );
}

function aheadWords({ booked, callsAWeek }: TargetLine, ahead: BookingOutlook | null, to: string): string {
  if (ahead === null) return "Too few were booked before to tell what comes.";
  const [low, high] = [booked + ahead.low, booked + ahead.high];
  const likely = `Likely ${low === high ? low : `${low} to ${high}`} by ${longDay(to)}.`;
  if (callsAWeek === null) return likely;
  if (booked >= callsAWeek) return `${likely} The target is met.`;
  if (low >= callsAWeek) return `${likely} The target is likely to be met.`;
  return high < callsAWeek ? `${likely} As things stand the target will be missed.` : likely;
}

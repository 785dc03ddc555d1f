/** Beside an email: when each part leaves, and what ends it. */
import Typography from "@mui/material/Typography";
import { textOfDay, workingDayNumberAfter } from "../../core/calendar";
import type { OneEmail } from "../../core/sequence/one-email";
import { MarginNote } from "../components/page";
import { count, longDay } from "../components/words";

const WORK_WEEK = [1, 2, 3, 4, 5];

/** `leavesAt`: the instant of the first, as far as it is said; `zone`: where they are. */
export function WhatFollows(props: {
  email: Pick<OneEmail, "followUps" | "remindAfter">;
  leavesAt: number;
  zone: string;
}) {
  const { email, leavesAt, zone } = props;
  let days = 0;
  const after = (more: number) => {
    days += more;
    return longDay(textOfDay(workingDayNumberAfter(leavesAt, days, WORK_WEEK, zone)));
  };
  return (
    <>
      <MarginNote title="What follows">
        {email.followUps.length === 0 && email.remindAfter === null && (
          <Typography>Nothing: one email, and that is it.</Typography>
        )}
        {email.followUps.map(({ id, days: wait, unless }, index) => (
          <Typography key={id} sx={{ mb: 0.75 }}>
            <strong>{after(wait)}</strong>, {count(wait, "working day")} later: follow-up {index + 1}, unless
            they {unless === "answered" ? "have answered" : "have opened the email before it, or answered"}.
          </Typography>
        ))}
        {email.remindAfter !== null && (
          <Typography>
            <strong>{after(email.remindAfter)}</strong>: Today reminds you if nothing came back.
          </Typography>
        )}
      </MarginNote>
      <MarginNote title="What ends it">
        <Typography>
          A reply, a booked call, an opt-out or a bounce. Follow-ups keep to their working days, hours and
          holidays; the email itself leaves when you say.
        </Typography>
      </MarginNote>
    </>
  );
}

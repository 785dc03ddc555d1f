/** What would be if: answered from a thread of the server beside today's plan, and applied only when asked. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Outlook } from "../../core/sending/outlook";
import type { WhatIf } from "../../core/sending/what-if";
import type { MailboxStanding } from "../../server/sending/forecast";
import { Choice } from "../components/choice";
import { DayField } from "../components/moment-fields";
import { Refusal } from "../components/refusal";
import { useAction, useQuestion } from "../components/use-action";
import { count } from "../components/words";
import { comparisonWords } from "./outlook-words";

const SOON = 250;
const NOTHING: WhatIf = {
  onlyMailbox: null,
  dailyLimit: null,
  gapMinutes: null,
  followUpPercent: null,
  moreMailboxes: 0,
  paused: [],
  firstsFrom: null,
  morePeople: 0,
  sequenceId: null,
};

/** The usual value among mailboxes: the middle one. */
const middle = (numbers: number[]): number => numbers.toSorted((a, b) => a - b)[numbers.length >> 1] ?? 0;

export function WhatIfPanel(props: {
  plan: Outlook;
  mailboxes: MailboxStanding[];
  followUpPercent: number;
  mayApply: boolean;
  zone: string;
}) {
  const { plan, mailboxes, followUpPercent, mayApply, zone } = props;
  const [change, setChange] = useState<WhatIf>(NOTHING);
  const {
    ask,
    value: answer,
    errors,
  } = useQuestion<{ change: WhatIf; outlook: Outlook }>({ to: "/sending/what-if", as: "json" });
  const apply = useAction({ to: "/sending" });
  const isChanged = JSON.stringify(change) !== JSON.stringify(NOTHING);
  const asked = JSON.stringify(change);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another question is asked, not the same one again.
  useEffect(() => {
    if (!isChanged) return;
    const soon = setTimeout(() => ask(change), SOON);
    return () => clearTimeout(soon);
  }, [asked, isChanged]);
  const set = (part: Partial<WhatIf>) => setChange((before) => ({ ...before, ...part }));
  const limit = change.dailyLimit ?? middle(mailboxes.map(({ dailyLimit }) => dailyLimit));
  const gap = change.gapMinutes ?? {
    least: middle(mailboxes.map(({ gapLeast }) => gapLeast)),
    most: middle(mailboxes.map(({ gapMost }) => gapMost)),
  };
  const percent = change.followUpPercent ?? followUpPercent;
  const isFresh = answer !== null && JSON.stringify(answer.change) === asked;
  const canBeApplied =
    change.dailyLimit !== null ||
    change.gapMinutes !== null ||
    change.followUpPercent !== null ||
    change.paused.length > 0;
  return (
    <Box component="section" aria-label="What if" sx={{ mt: 3 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "repeat(3, 1fr)" }, gap: 2 }}>
        <Dial label="A mailbox sends at most" value={`${limit} a day`}>
          <Slider
            size="small"
            aria-label="Emails a day of each mailbox"
            min={1}
            max={Math.max(80, limit)}
            value={limit}
            onChange={(_, value) => set({ dailyLimit: value as number })}
          />
        </Dial>
        <Dial label="Between two emails" value={`${gap.least}–${gap.most} minutes`}>
          <Slider
            size="small"
            aria-label="Minutes between two emails"
            min={0}
            max={60}
            value={[gap.least, gap.most]}
            onChange={(_, value) => {
              const [least, most] = value as [number, number];
              set({ gapMinutes: { least, most } });
            }}
          />
        </Dial>
        <Dial label="Follow-ups before new prospects" value={`${percent} %`}>
          <Slider
            size="small"
            aria-label="Share of the day for follow-ups, in percent"
            min={0}
            max={100}
            step={5}
            value={percent}
            onChange={(_, value) => set({ followUpPercent: value as number })}
          />
        </Dial>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", mt: 1.5 }}>
        <Button size="small" onClick={() => set({ moreMailboxes: change.moreMailboxes + 1 })}>
          One more mailbox
        </Button>
        <Button size="small" onClick={() => set({ morePeople: change.morePeople + 200 })}>
          Another 200 prospects
        </Button>
        <Choice
          label="Without"
          value={change.paused[0] ?? ""}
          onChange={(chosen) => set({ paused: chosen === "" ? [] : [Number(chosen)] })}
          sx={{ width: 232 }}
          options={[
            ["", "every mailbox sends"],
            ...mailboxes.map(({ id, address }) => [id, address] as const),
          ]}
        />
        <DayField
          label="First emails from"
          value={change.firstsFrom === null ? "" : new Date(change.firstsFrom).toISOString().slice(0, 10)}
          onChange={(day) => set({ firstsFrom: day === "" ? null : Date.parse(`${day}T06:00:00Z`) })}
          sx={{ width: 178 }}
        />
      </Box>
      <Box role="status" sx={{ mt: 1.5, minHeight: 44 }}>
        {!isChanged && (
          <Typography variant="body2" color="textSecondary">
            Move a slider or press a button: the plan is computed anew, and nothing changes until you apply
            it.
          </Typography>
        )}
        {isChanged && !isFresh && <Typography color="textSecondary">Planning …</Typography>}
        {isChanged && isFresh && (
          <Typography component="div" data-testid="what-if-answer">
            <Typography component="span" sx={{ color: "kelp.text", fontWeight: 650 }}>
              {changeWords(change, mailboxes)}
            </Typography>{" "}
            {comparisonWords(plan, answer.outlook, zone)}
          </Typography>
        )}
        <Refusal errors={isChanged ? errors : apply.errors} />
      </Box>
      {isChanged && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25, mt: 1 }}>
          {canBeApplied && mayApply && (
            <Button
              variant="contained"
              disabled={!isFresh || apply.isBusy}
              onClick={() => {
                apply.press({ intent: "apply", change: JSON.stringify(change) });
                setChange(NOTHING);
              }}
            >
              Apply {changeWords(change, mailboxes, true)}
            </Button>
          )}
          {change.moreMailboxes > 0 && (
            <Button component={Link} to="/sending/mailboxes/new">
              Add a mailbox
            </Button>
          )}
          <Button variant="text" onClick={() => setChange(NOTHING)}>
            Back to the plan as it is
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** "With 40 a day each and one more mailbox"; `onlyApplied` leaves out what cannot be applied from here. */
function changeWords(change: WhatIf, mailboxes: MailboxStanding[], onlyApplied = false): string {
  const parts: string[] = [];
  if (change.dailyLimit !== null) parts.push(`${change.dailyLimit} a day each`);
  if (change.gapMinutes !== null)
    parts.push(`${change.gapMinutes.least}–${change.gapMinutes.most} minutes between two`);
  if (change.followUpPercent !== null) parts.push(`${change.followUpPercent} % for follow-ups`);
  const without = mailboxes.filter(({ id }) => change.paused.includes(id)).map(({ address }) => address);
  if (without.length > 0) parts.push(`${without.join(" and ")} paused`);
  if (onlyApplied) return parts.join(", ");
  if (change.moreMailboxes > 0) parts.push(count(change.moreMailboxes, "more mailbox", "more mailboxes"));
  if (change.morePeople > 0) parts.push(count(change.morePeople, "more prospect"));
  if (change.firstsFrom !== null)
    parts.push(`first emails from ${new Date(change.firstsFrom).toISOString().slice(0, 10)} on`);
  return `With ${parts.join(", ")}`;
}

function Dial({ label, value, children }: { label: string; value: string; children: React.ReactNode }) {
  return (
    <Paper variant="outlined" sx={{ px: 2, py: 1.25 }}>
      <Typography variant="caption" color="textSecondary" component="div">
        {label}
      </Typography>
      <Typography sx={{ fontWeight: 650 }}>{value}</Typography>
      {children}
    </Paper>
  );
}

/** From where a sequence sends and how fast, with the sum of what that carries. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormHelperText from "@mui/material/FormHelperText";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { capacityOf } from "../../core/sending/capacity";
import { daysOfPath, mostEmails } from "../../core/sequence/lay-out-path";
import type { SequenceSettings } from "../../core/sequence/settings";
import type { SenderChoices } from "../../server/sequences/open-sequence";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { Choice } from "../components/choice";
import { OptionalNumberField } from "../components/number-field";
import { Tick } from "../components/tick";
import { count } from "../components/words";

export function SenderSettings(props: {
  form: SequenceForm;
  onChange: (changes: Partial<SequenceForm>) => void;
  senders: SenderChoices;
  people: number;
}) {
  const { form, onChange, senders, people } = props;
  const { settings } = form;
  const { mailboxes, pools, accounts } = senders;
  const set = (changes: Partial<SequenceSettings>) => onChange({ settings: { ...settings, ...changes } });
  const pool = pools.find(({ id }) => id === form.poolId);
  const chosen = pool?.mailboxIds ?? form.mailboxIds;
  return (
    <>
      {pools.length > 0 && (
        <Choice
          label="Sends from"
          value={form.poolId ?? ""}
          onChange={(chosen) => onChange({ poolId: Number(chosen) || null })}
          options={[
            ["", "the mailboxes chosen below"],
            ...pools.map(
              ({ id, name, mailboxIds }) =>
                [id, `the pool “${name}” (${count(mailboxIds.length, "mailbox", "mailboxes")})`] as const,
            ),
          ]}
        />
      )}
      {!pool && (
        <Box>
          {mailboxes.map(({ id, address, aDay, state, notYours }) => (
            <Tick
              key={id}
              disabled={notYours !== null && !form.mailboxIds.includes(id)}
              label={`${address}, ${state === "active" ? `${aDay} a day` : state === "resting" ? "rests" : "paused"}${notYours ? `, ${notYours}'s` : ""}`}
              checked={form.mailboxIds.includes(id)}
              onChange={(checked) =>
                onChange({
                  mailboxIds: checked
                    ? [...form.mailboxIds, id].toSorted((a, b) => a - b)
                    : form.mailboxIds.filter((each) => each !== id),
                })
              }
            />
          ))}
          {mailboxes.length === 0 && <FormHelperText>Add a mailbox under Sending first.</FormHelperText>}
        </Box>
      )}
      <CapacityNote
        form={form}
        people={people}
        limits={mailboxes.filter(({ id }) => chosen.includes(id)).map(({ aDay }) => aDay)}
      />
      <Box>
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <OptionalNumberField
            label="Emails an hour"
            placeholder="no limit"
            value={settings.perHour}
            most={5_000}
            onChange={(perHour) => set({ perHour })}
          />
          <OptionalNumberField
            label="Minutes between two"
            placeholder="the mailboxes' own"
            value={settings.minutesBetween}
            most={240}
            onChange={(minutesBetween) => set({ minutesBetween })}
          />
        </Box>
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
          <Button size="small" onClick={() => set({ perHour: 20, minutesBetween: 3 })}>
            20 an hour
          </Button>
          <Button
            size="small"
            onClick={() =>
              onChange({
                opens: "08:00",
                closes: "18:00",
                settings: { ...settings, perHour: 20, minutesBetween: 3, newADay: 200 },
              })
            }
          >
            200 a day over 10 hours
          </Button>
          {(settings.perHour !== null || settings.minutesBetween !== null) && (
            <Button size="small" variant="text" onClick={() => set({ perHour: null, minutesBetween: null })}>
              No pace of its own
            </Button>
          )}
        </Box>
      </Box>
      <Choice
        label="While the mailbox of somebody's thread does not send"
        value={settings.threadElsewhere}
        onChange={(chosen) => set({ threadElsewhere: chosen as SequenceSettings["threadElsewhere"] })}
        options={[
          ["waits", "they wait for it"],
          ["new_thread", "they go on from another, in a new thread"],
        ]}
      />
      <TextField
        select
        label="Social touches are made"
        value={settings.accountId ?? ""}
        onChange={({ target }) => set({ accountId: Number(target.value) || null })}
        helperText={
          accounts.length === 0 ? "Connect a social account in the settings to have them made." : undefined
        }
      >
        <MenuItem value="">by you, on Today</MenuItem>
        {accounts.map(({ id, name, notYours }) => (
          <MenuItem key={id} value={id} disabled={notYours !== null && form.settings.accountId !== id}>
            by themselves, from {name}
            {notYours === null ? "" : `, ${notYours}'s`}
          </MenuItem>
        ))}
      </TextField>
    </>
  );
}

/** 15 × 30 = 450 a day, against what the list needs. */
function CapacityNote({ form, people, limits }: { form: SequenceForm; people: number; limits: number[] }) {
  const emails = mostEmails(form.path);
  const hoursOpen = hoursBetween(form.opens, form.closes);
  const { perHour, newADay } = form.settings;
  const sum = capacityOf({
    limits,
    people,
    emails,
    pathDays: daysOfPath(form.path),
    perHour,
    hoursOpen,
    newADay,
  });
  const same = limits.length > 0 && limits.every((limit) => limit === limits[0]);
  const all = limits.reduce((a, b) => a + b, 0);
  return (
    <Box sx={{ bgcolor: "tile.wash", borderRadius: 1, px: 1.75, py: 1.25 }} data-testid="capacity">
      <Typography>
        <strong>
          {same
            ? `${limits.length} × ${limits[0]} = ${all} a day`
            : `${count(limits.length, "mailbox", "mailboxes")}: ${all} a day`}
        </strong>
        {sum.aDay < all && `, ${sum.aDay} at this sequence's pace`}.
      </Typography>
      {people > 0 && emails > 0 && (
        <Typography variant="body2">
          {people.toLocaleString("en-GB")} × {count(emails, "email")} = {sum.needed.toLocaleString("en-GB")}{" "}
          at most
          {sum.daysInAll !== null && sum.daysToBegin !== null
            ? `: ${count(sum.daysToBegin, "working day")} until everybody has the first, ${sum.daysInAll} until the last email is out.`
            : ", and no mailbox to send them."}
          {sum.missing > 0 &&
            ` ${count(sum.missing, "more mailbox", "more mailboxes")} would begin with everybody within a week.`}
        </Typography>
      )}
    </Box>
  );
}

const hoursBetween = (opens: string, closes: string): number => {
  const minutes = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));
  return Math.max(0, (minutes(closes) - minutes(opens)) / 60);
};

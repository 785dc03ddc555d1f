import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { AccountStanding } from "../../server/social/accounts";
import { Field } from "../components/field";
import { Pill } from "../components/pill";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";
import { pausedWords } from "../components/words";
import { PauseButton } from "../desk/pause-button";
import { Part, type Said, three, two } from "./parts";

export function SocialAccounts({ accounts }: { accounts: AccountStanding[] }) {
  const part = useAction<Said>();
  return (
    <>
      {accounts.map((account) => (
        <Account key={account.id} account={account} />
      ))}
      <Part title="Connect a social account" intent="connect-account" button="Check and connect" of={part}>
        <Typography color="textSecondary">
          Profile views, invitations and messages of a sequence are then made by themselves, under the limits
          below. Without one they stay your own tasks on Today.
        </Typography>
        <Box sx={two}>
          <Field errors={part.errors} name="url" label="The network's address" placeholder="https://" />
          <Field
            errors={part.errors}
            name="token"
            label="The account's token"
            type="password"
            autoComplete="off"
          />
        </Box>
      </Part>
    </>
  );
}

const STATES = {
  active: ["kelp", "connected"],
  paused: ["ochre", "paused"],
  signed_out: ["clay", "signed out"],
} as const;

function Account({ account }: { account: AccountStanding }) {
  const part = useAction<Said>();
  const act = useAction<Said>();
  const [tone, words] = STATES[account.state];
  const say = (intent: string) => act.press({ intent, id: String(account.id) });
  return (
    <Part
      title={account.name}
      intent="connect-account"
      button={account.state === "signed_out" ? "Sign in again" : "Save"}
      of={part}
      disabled={!account.isMine}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Pill tone={tone}>
          {account.state === "paused" && account.pause ? pausedWords(account.pause, account.zone) : words}
        </Pill>
        <Typography color="textSecondary">
          {account.ownerName}'s · in 7 days {account.done.views} of {account.weeklyViews} views,{" "}
          {account.done.invitations} of {account.weeklyInvitations} invitations, {account.done.messages} of{" "}
          {account.weeklyMessages} messages
        </Typography>
      </Box>
      <Refusal errors={act.errors} />
      {account.trouble && <Typography color="error">{account.trouble}</Typography>}
      <input type="hidden" name="id" value={account.id} />
      <Box sx={two}>
        <Field errors={part.errors} name="url" label="The network's address" defaultValue={account.url} />
        <Field
          errors={part.errors}
          name="token"
          label="A new token"
          type="password"
          autoComplete="off"
          helperText={part.errors.token ?? "Leave it empty to keep the one stored."}
        />
      </Box>
      <Box sx={three}>
        <Field
          errors={part.errors}
          name="dailyLimit"
          label="Touches a day"
          defaultValue={account.dailyLimit}
        />
        <Field
          errors={part.errors}
          name="weeklyViews"
          label="Profile views in 7 days"
          defaultValue={account.weeklyViews}
        />
        <Field
          errors={part.errors}
          name="weeklyInvitations"
          label="Invitations in 7 days"
          defaultValue={account.weeklyInvitations}
        />
        <Field
          errors={part.errors}
          name="weeklyMessages"
          label="Messages in 7 days"
          defaultValue={account.weeklyMessages}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <PauseButton
          of="account"
          ids={[account.id]}
          name={account.name}
          becomes={account.state === "paused" ? "running" : "paused"}
          zone={account.zone}
          undoId={act.value?.undo ?? null}
          onAct={() => say(account.state === "paused" ? "wake-account" : "pause-account")}
          label={account.state === "paused" ? "Let it go on" : "Pause it"}
          button={{ size: "small", disabled: !account.isMine }}
        />
        <Button size="small" variant="text" disabled={!account.isMine} onClick={() => say("remove-account")}>
          Disconnect it: its touches become yours
        </Button>
      </Box>
    </Part>
  );
}

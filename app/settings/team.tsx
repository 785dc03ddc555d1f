import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Role } from "../../core/team/may";
import type { TeamMember } from "../../server/accounts/team";
import type { Health } from "../../server/web/health";
import { Choice } from "../components/choice";
import { Confirm } from "../components/dialogs";
import { Field } from "../components/field";
import { Pill } from "../components/pill";
import { Refusal } from "../components/refusal";
import { Row } from "../components/row";
import { useAction } from "../components/use-action";
import { count } from "../components/words";
import { Part, type Said, three } from "./parts";

const ROLE_NAMES: Record<Role, string> = { rep: "Rep", manager: "Manager" };

export function Team(props: { team: TeamMember[]; health: Health | null; me: number; isManager: boolean }) {
  const { team, health, me, isManager } = props;
  const add = useAction<Said>();
  const act = useAction<Said>();
  const [removing, setRemoving] = useState<TeamMember | null>(null);
  const submit = act.press;
  return (
    <>
      <Box>
        <Typography variant="h2" sx={{ mb: 1 }}>
          {count(team.length, "person", "people")} in the team
        </Typography>
        <Refusal errors={act.errors} />
        <HandOver link={act.value?.link} />
        {team.map((member) => (
          <Row
            columns={{ xs: "1fr", sm: "minmax(0, 1fr) 150px auto" }}
            key={member.id}
            data-member={member.email}
            sx={{ gap: 2, alignItems: "center", py: 1.25 }}
          >
            <Box sx={{ minWidth: 0 }}>
              <Typography sx={{ fontWeight: 600 }}>
                {member.name} {member.invited && <Pill tone="ochre">has a link to use</Pill>}
              </Typography>
              <Typography variant="body2" color="textSecondary" noWrap>
                {member.email} · {count(member.mailboxes, "mailbox", "mailboxes")} ·{" "}
                {count(member.sequences, "sequence")}
              </Typography>
            </Box>
            {isManager ? (
              <Choice
                size="small"
                label="Role"
                value={member.role}
                disabled={act.isBusy}
                onChange={(chosen) => submit({ intent: "role", id: String(member.id), role: chosen })}
                options={Object.entries(ROLE_NAMES)}
              />
            ) : (
              <Typography variant="body2">{ROLE_NAMES[member.role]}</Typography>
            )}
            {isManager && (
              <Box
                sx={{
                  display: { xs: member.id === me ? "none" : "flex", sm: "flex" },
                  gap: 1,
                  minWidth: 196,
                  visibility: member.id === me ? "hidden" : "visible",
                }}
              >
                <Button
                  size="small"
                  disabled={act.isBusy}
                  onClick={() => submit({ intent: "reset-member", id: String(member.id) })}
                >
                  Make a link
                </Button>
                <Button size="small" disabled={act.isBusy} onClick={() => setRemoving(member)} sx={{ ml: 3 }}>
                  Remove
                </Button>
              </Box>
            )}
          </Row>
        ))}
      </Box>
      {isManager && (
        <Part title="Add somebody" intent="add-member" button="Add and make a link" of={add}>
          <Box sx={three}>
            <Field errors={add.errors} name="name" label="Name" />
            <Field errors={add.errors} name="email" label="Email address" type="email" />
            <Choice
              errors={add.errors}
              name="role"
              label="Role"
              defaultValue="rep"
              options={[
                ["rep", "Rep"],
                ["manager", "Manager"],
              ]}
            />
          </Box>
          <HandOver link={add.value?.link} />
        </Part>
      )}
      {health && <HealthPart health={health} />}
      <Confirm
        open={removing !== null}
        title={`Remove ${removing?.name}?`}
        keep="Leave them"
        act={`Remove ${removing?.name.split(" ")[0]}`}
        isDanger
        onClose={() => setRemoving(null)}
        onAct={() => {
          submit({ intent: "remove-member", id: String(removing?.id) });
          setRemoving(null);
        }}
      >
        They are signed out at once and cannot sign in any more.{" "}
        {count(removing?.mailboxes ?? 0, "mailbox", "mailboxes")} and{" "}
        {count(removing?.sequences ?? 0, "sequence")} of theirs stay and go on as they are; pause them first
        if they should not.
      </Confirm>
    </>
  );
}

/** A link that is shown once. */
function HandOver({ link }: { link: string | undefined }) {
  if (!link) return null;
  return (
    <Alert severity="success" sx={{ my: 1, overflowWrap: "anywhere" }}>
      Hand them this link; it is shown only now, and works once, for three days:
      <Box component="output" data-testid="link" sx={{ display: "block", fontWeight: 600, mt: 0.5 }}>
        {link}
      </Box>
    </Alert>
  );
}

function HealthPart({ health }: { health: Health }) {
  const { backup, engine, problem, mailboxes, failures } = health;
  const lines: [boolean, string][] = [
    [
      engine,
      engine
        ? "The engine finished its last round within a minute."
        : (problem ?? "The engine has finished nothing for over a minute."),
    ],
    [
      mailboxes.late.length === 0,
      mailboxes.late.length === 0
        ? `${count(mailboxes.total, "mailbox", "mailboxes")}: none is late.`
        : `Not read for a quarter of an hour: ${mailboxes.late.join(", ")}.`,
    ],
    [
      !backup.on || backup.ageHours === null || backup.ageHours < 50,
      !backup.on
        ? "Nightly copies are off."
        : backup.ageHours === null
          ? "The first nightly copy is still to come."
          : `The newest nightly copy is ${backup.ageHours} hours old.`,
    ],
    ...failures.map(({ kind, name, count: times, words }): [boolean, string] => [
      false,
      `Failed within a day: ${kind} “${name}”, ${count(times, "time")} so far. Last: ${words}`,
    ]),
  ];
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Health
      </Typography>
      {lines.map(([good, words]) => (
        <Typography key={words} sx={{ color: good ? "text.primary" : "clay.main", mb: 0.5 }}>
          {good ? "✓ " : "! "}
          {words}
        </Typography>
      ))}
    </Box>
  );
}

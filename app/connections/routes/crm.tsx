/** The CRM: how it stands, what it asks, and what goes which way. */
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import {
  connectCrm,
  crmOf,
  partFromCrm,
  readAnew,
  renewKey,
  saveCrm,
  switchCrm,
  tryCrm,
} from "../../../server/crm/crm";
import {
  crmCounts,
  decideConflicts,
  decideDeletion,
  openConflicts,
  openDeletions,
  tellAgain,
  toldLast,
} from "../../../server/crm/decide";
import { type Outcome, whenDone } from "../../../server/errors";
import { allFilters } from "../../../server/prospects/filters/filters";
import { fieldChoices } from "../../../server/prospects/forms/forms";
import { userContext } from "../../accounts/session";
import { Confirm } from "../../components/dialogs";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, readJson, unknownIntent } from "../../desk/read-form";
import { useRefreshWhile } from "../../desk/refresh";
import { ConnectCrm, RenewKey } from "../connect-crm";
import { CrmConflicts, CrmDeletions, CrmReport, CrmTold } from "../crm-findings";
import { CrmSettingsForm } from "../crm-settings";
import { crmHeading, crmStanding } from "../crm-words";
import { namedFields } from "../field-choices";
import { ConnectionPlaces } from "../places";
import type { Route } from "./+types/crm";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["events"] } satisfies PageHandle;

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const crm = crmOf(app);
  const mayChange = mayNot(app, user.id, "crm.change") === null;
  if (!crm) return { mayChange, known: null };
  return {
    mayChange,
    known: {
      // The end of its address is as good as a key.
      crm: { ...crm, address: "" },
      counts: crmCounts(app, crm.id),
      conflicts: openConflicts(app, crm.id),
      deletions: openDeletions(app, crm.id),
      told: toldLast(app, user.id, crm.id),
      filters: allFilters(app, user.id),
      fields: [
        ...namedFields(fieldChoices(app)),
        { name: "stage", words: "Stage" },
        { name: "owner", words: "Owner" },
      ],
      zone: user.zone,
      now: app.clock.now(),
    },
  };
}

interface Said {
  words?: string;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Said>> {
  const app = webApp();
  const user = context.get(userContext);
  const isJson = request.headers.get("content-type")?.includes("json") ?? false;
  const body: Record<string, unknown> = isJson ? await readJson(request) : await readForm(request);
  const said = (outcome: Outcome<unknown>, words: string) => whenDone(outcome, (): Said => ({ words }));
  switch (body.intent) {
    case "connect":
      return said(await connectCrm(app, user.id, body), "It is connected. Nothing was taken over yet.");
    case "renew":
      return said(await renewKey(app, user.id, body), "It lets us in again.");
    case "save":
      return said(saveCrm(app, user.id, body.settings), "Saved.");
    case "try":
      return said(tryCrm(app, user.id), "It is being looked through. Nothing changes on either side.");
    case "on":
    case "off":
      return said(
        switchCrm(app, user.id, body.intent === "on"),
        body.intent === "on" ? "It is on: both sides are being brought into step." : "It is off.",
      );
    case "anew":
      return said(readAnew(app, user.id), "It is looked through from the beginning.");
    case "decide":
      return whenDone(
        decideConflicts(app, user.id, body),
        (settled): Said => ({
          words: `${count(settled, "difference is", "differences are")} settled; both sides have it in a moment.`,
        }),
      );
    case "deleted":
      return said(decideDeletion(app, user, body), "Done.");
    case "again":
      return said(tellAgain(app, user.id), "What was refused is told once more.");
    case "part":
      return said(partFromCrm(app, user.id), "You have parted from it. Each side keeps what it has.");
    default:
      return unknownIntent(body.intent);
  }
}

export default function CrmPage({ loaderData }: Route.ComponentProps) {
  const { known, mayChange } = loaderData;
  return known ? <CrmDesk {...known} mayChange={mayChange} /> : <NoCrm mayChange={mayChange} />;
}

function NoCrm({ mayChange }: { mayChange: boolean }) {
  const connect = useAction<Said>();
  return (
    <Page
      heading="No CRM is connected yet"
      sub="People come in by a filter of yours there, stay in step both ways, and what is done here is noted there."
      margin={
        <MarginNote title="What it has to speak">
          <Typography>
            HTTP and JSON. How its things are asked for stands in docs/crm.md; another CRM is written down in
            its own words when you connect it.
          </Typography>
        </MarginNote>
      }
    >
      <ConnectionPlaces at="/connections/crm" />
      {connect.value?.words && (
        <Alert severity="success" sx={{ mb: 2 }}>
          {connect.value.words}
        </Alert>
      )}
      {mayChange ? (
        <ConnectCrm of={connect} />
      ) : (
        <Typography>Only a manager connects one, since it is everybody's.</Typography>
      )}
    </Page>
  );
}

type Known = NonNullable<Route.ComponentProps["loaderData"]["known"]>;

function CrmDesk(props: Known & { mayChange: boolean }) {
  const { crm, mayChange, counts, conflicts, deletions, told, filters, fields, zone, now } = props;
  const act = useAction<Said>({ as: "json" });
  const save = useAction<Said>({ as: "json" });
  const renew = useAction<Said>();
  const [isParting, setParting] = useState(false);
  const isAtWork =
    crm.state === "looking" ||
    (crm.state === "on" && (crm.pass !== null || crm.retryAt !== null || counts.due > 0));
  useRefreshWhile(isAtWork, 1_000);
  const { tone, words, detail } = crmStanding(crm, counts, now, zone);
  const isOn = crm.state === "on";
  const isTrial = crm.state === "looking" || crm.state === "looked";
  const disabled = !mayChange || act.isBusy;
  const press = (intent: string, more: object = {}) => act.press({ intent, ...more });
  const said = act.value?.words ?? save.value?.words ?? renew.value?.words;
  return (
    <Page
      heading={crmHeading(crm, counts, conflicts.total + deletions.total)}
      sub={
        <>
          <Pill tone={tone}>{words}</Pill> {detail} · {crm.owner}
        </>
      }
      actions={
        mayChange ? (
          <>
            {!isOn && (
              <Button
                variant={crm.state === "new" ? "contained" : "outlined"}
                disabled={disabled || crm.state === "looking"}
                onClick={() => press("try")}
              >
                Look what it would do
              </Button>
            )}
            {isOn ? (
              <Button disabled={disabled} onClick={() => press("off")}>
                Switch off
              </Button>
            ) : (
              <Button
                variant={crm.state === "new" ? "outlined" : "contained"}
                disabled={disabled || crm.state === "new" || crm.state === "looking"}
                onClick={() => press("on")}
              >
                Switch on
              </Button>
            )}
          </>
        ) : undefined
      }
      margin={
        <>
          <MarginNote title="How both stay in step">
            <Typography>
              What only one side changed goes to the other. Where both did, the field's rule decides, or you.
              Nobody is deleted because the other side did.
            </Typography>
          </MarginNote>
          <MarginNote title="What is there of it">
            <Typography>
              {count(counts.people, "person", "people")} in step, {count(counts.deals, "deal")} of theirs.
              {crm.state === "on" &&
                " It is asked every ten minutes, and at once where it says that something changed."}
            </Typography>
            {isOn && mayChange && (
              <Button size="small" sx={{ mt: 1 }} disabled={disabled} onClick={() => press("anew")}>
                Look through all of it again
              </Button>
            )}
          </MarginNote>
          <MarginNote title="As whom it acts">
            <Typography>
              As {crm.owner}: what they may not change here stays as it is. Its tokens are kept sealed and
              renewed.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <ConnectionPlaces at="/connections/crm" />
      <Refusal errors={act.errors} />
      {said && (
        <Alert severity="success" sx={{ mb: 2 }}>
          {said}
        </Alert>
      )}
      {crm.state === "held" && mayChange && <RenewKey of={renew} />}
      <CrmConflicts
        conflicts={conflicts}
        name={crm.name}
        isDisabled={disabled}
        onDecide={(side, id) => press("decide", { side, ...(id === undefined ? {} : { id }) })}
      />
      <CrmDeletions
        deletions={deletions}
        name={crm.name}
        isDisabled={disabled}
        onDecide={(id, what) => press("deleted", { id, what })}
      />
      {crm.report && crm.state !== "looking" && <CrmReport report={crm.report} isTrial={isTrial} />}
      <Typography variant="h2" sx={{ mb: 1.75 }}>
        What goes which way
      </Typography>
      <CrmSettingsForm
        key={JSON.stringify(crm.settings)}
        of={save}
        known={crm.settings}
        choices={crm.choices}
        filters={filters}
        fields={fields}
        mayChange={mayChange}
      />
      {mayChange && (
        <CrmTold told={told} failed={counts.failed} now={now} zone={zone} onAgain={() => press("again")} />
      )}
      {mayChange && (
        <Button color="error" sx={{ mt: 4 }} onClick={() => setParting(true)}>
          Part from it
        </Button>
      )}
      {isParting && (
        <Confirm
          title={`Part from ${crm.name}?`}
          keep="Keep it"
          act="Part from it"
          isDanger
          onClose={() => setParting(false)}
          onAct={() => {
            setParting(false);
            press("part");
          }}
        >
          <Typography>
            Each side keeps what it has. Who is who is forgotten; connected again, people are known by their
            addresses.
          </Typography>
        </Confirm>
      )}
    </Page>
  );
}

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link } from "react-router";
import { type ColumnUse, MANY } from "../../../core/prospects/columns";
import { ENCODINGS, type Encoding } from "../../../core/prospects/encodings";
import { readTogether, webApp } from "../../../server/app";
import type { Outcome } from "../../../server/errors";
import type { ImportSettings } from "../../../server/prospects/imports/imports";
import { askLookThrough } from "../../../server/prospects/imports/look-through";
import { openImport } from "../../../server/prospects/imports/open-import";
import { askImport } from "../../../server/prospects/imports/run-import";
import { undoImport } from "../../../server/prospects/imports/undo-import";
import { chooseEncoding } from "../../../server/prospects/imports/upload-import";
import { userContext } from "../../accounts/session";
import { Choice } from "../../components/choice";
import { Confirm } from "../../components/dialogs";
import { MarginNote, Page } from "../../components/page";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { ColumnTable } from "../column-table";
import { CleaningReview, KnownReview } from "../import-review";
import { JobProgress } from "../job-progress";
import { ProblemReview } from "../problem-review";
import type { Route } from "./+types/import";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const found = readTogether(app, () => openImport(app, context.get(userContext).id, Number(params.id)));
  if (!found) throw data("This import does not exist.", { status: 404 });
  return found;
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Outcome<unknown>> {
  const app = webApp();
  const id = Number(params.id);
  const user = context.get(userContext);
  const userId = user.id;
  const body = await readJson(request);
  switch (body.intent) {
    case "undo":
      return undoImport(app, userId, id);
    case "import":
      return askImport(app, userId, id);
    case "letters":
      return chooseEncoding(app, userId, id, body.encoding);
    case "look":
      return askLookThrough(app, userId, id, body.settings);
    default:
      return unknownIntent(body.intent);
  }
}

export default function ImportPage({ loaderData: found }: Route.ComponentProps) {
  const act = useAction({ as: "json" });
  const [settings, setSettings] = useState<ImportSettings>(found.settings);
  const [encoding, setEncoding] = useState(found.settings.encoding);
  // Other letters give other columns.
  if (encoding !== found.settings.encoding) {
    setEncoding(found.settings.encoding);
    setSettings(found.settings);
  }
  const [again, setAgain] = useState(false);
  const { report, state } = found;
  const { errors } = act;
  const send = (intent: string) => act.press({ intent, settings });
  const look = () => {
    setAgain(false);
    send("look");
  };
  const isAsking = state === "columns" || state === "failed" || again;
  const isChanged = JSON.stringify(settings) !== JSON.stringify(found.settings);
  const people = (report.added ?? 0) + (report.known ?? 0);

  if (state === "done" || state === "undone")
    return (
      <Done found={found} onUndo={() => send("undo")} onAgain={() => send("import")} busy={act.isBusy} />
    );
  return (
    <Page
      heading={
        state === "looking"
          ? `Looking through ${count(found.rows, "row")}`
          : state === "importing"
            ? `Importing ${count(people, "person", "people")}`
            : isAsking
              ? `${count(found.rows, "row")} in ${found.fileName}`
              : `${count(report.added ?? 0, "new person", "new people")}, ${report.known ?? 0} known, ${count(leftOutOf(report), "row")} left out`
      }
      sub={
        isAsking
          ? "Check what each column is. Nothing is stored until you have seen what will become of it."
          : state === "ready"
            ? "This is what will be stored. Switch off what you do not want."
            : undefined
      }
      actions={
        isAsking ? (
          <>
            <Button component={Link} to="/prospects/import">
              Another file
            </Button>
            <Button variant="contained" disabled={act.isBusy} onClick={look}>
              Look through {count(found.rows, "row")}
            </Button>
          </>
        ) : state === "ready" ? (
          <>
            <Button onClick={() => setAgain(true)}>Back to the columns</Button>
            {isChanged ? (
              <Button variant="contained" disabled={act.isBusy} onClick={look}>
                Look through it again
              </Button>
            ) : (
              <Button
                variant="contained"
                disabled={act.isBusy || people === 0}
                onClick={() => send("import")}
              >
                Import {count(people, "person", "people")}
              </Button>
            )}
          </>
        ) : undefined
      }
      margin={
        <>
          {isAsking ? (
            <FieldsToBe uses={settings.uses} />
          ) : (
            <WhatWillHappen report={report} listName={settings.listName} />
          )}
          {state === "ready" && !again && (
            <MarginNote title="Afterwards">
              <Typography>
                The whole import can be taken back from this page. Every cleaned value keeps its original.
              </Typography>
            </MarginNote>
          )}
        </>
      }
    >
      {(found.problem || errors.form || errors.uses || errors.listName) && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {found.problem ?? errors.form ?? errors.uses ?? errors.listName}
        </Alert>
      )}
      {state === "ready" && (report.notes?.length ?? 0) > 0 && !again && (
        <Alert severity="info" sx={{ mb: 2 }}>
          {report.notes?.join(" ")}
        </Alert>
      )}
      <JobProgress
        job={found.job}
        doing={state === "importing" ? "Importing" : "Looking through the file"}
        unit="rows"
        onlyWhileRunning
      />
      {isAsking && found.letters && (
        <Letters
          letters={found.letters}
          onChoose={(encoding) => act.press({ intent: "letters", encoding })}
        />
      )}
      {isAsking && (
        <ColumnTable
          key={found.settings.encoding}
          headers={found.headers}
          preview={found.preview}
          uses={settings.uses}
          onUses={(uses: ColumnUse[]) => setSettings({ ...settings, uses })}
          listName={settings.listName}
          onListName={(listName) => setSettings({ ...settings, listName })}
        />
      )}
      {state === "ready" && !again && (
        <>
          <ProblemReview problems={report.problems ?? []} importId={found.id} hasFile={found.hasLeftOut} />
          <KnownReview
            fields={report.knownFields ?? []}
            rows={found.knownRows}
            total={report.known ?? 0}
            anothers={report.anothers ?? 0}
            choices={settings.known}
            onChoices={(known) => setSettings({ ...settings, known })}
          />
          <CleaningReview
            cleaning={report.cleaning ?? []}
            off={settings.off}
            onOff={(off) => setSettings({ ...settings, off })}
          />
        </>
      )}
    </Page>
  );
}

/** Of a file whose bytes do not say how they are to be read: the guess, some words by which to judge it, and the others. */
function Letters(props: {
  letters: { encoding: Encoding; sample: string };
  onChoose: (encoding: string) => void;
}) {
  const { encoding, sample } = props.letters;
  return (
    <Paper
      variant="outlined"
      sx={{ p: 2, mb: 2.5, display: "flex", gap: 3, flexWrap: "wrap", alignItems: "center" }}
    >
      <Box sx={{ flex: "1 1 320px", minWidth: 0 }}>
        <Typography variant="body2" color="textSecondary">
          The file does not say in which letters it is written. Read as they seem to be:
        </Typography>
        <Typography sx={{ overflowWrap: "anywhere" }}>{sample || "no letters but English ones"}</Typography>
      </Box>
      <Choice
        label="Letters"
        value={encoding}
        onChange={props.onChoose}
        options={Object.entries(ENCODINGS)}
        sx={{ width: 320, maxWidth: "100%" }}
      />
    </Paper>
  );
}

function FieldsToBe({ uses }: { uses: ColumnUse[] }) {
  return (
    <MarginNote title="Merge fields you will have">
      <Typography variant="body2" sx={{ wordBreak: "break-word" }}>
        {uses
          .filter((use) => use !== "skip" && !MANY.has(use))
          .map((use) => `{{ ${use.replace("custom:", "")} }}`)
          .join("  ")}
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        What you choose here is remembered for the next file with these column names.
      </Typography>
    </MarginNote>
  );
}

type Found = Route.ComponentProps["loaderData"];

function WhatWillHappen({ report, listName }: { report: Found["report"]; listName: string }) {
  const { added = 0, known = 0, withoutAddress = 0, repeated = 0, refused = 0, problems = [] } = report;
  const optedOut = problems.find(({ problem }) => problem === "opted_out")?.count ?? 0;
  return (
    <MarginNote title="What will happen">
      <Typography component="div">
        <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 0.75 }}>
          <li>
            {count(added, "person", "people")} added to “{listName}”
          </li>
          <li>{count(known, "known person", "known people")} put on it, too</li>
          {optedOut > 0 && (
            <li>
              {count(optedOut, "person", "people")} of them blocked, since the file says that they want no
              mail
            </li>
          )}
          {withoutAddress > 0 && (
            <li>{withoutAddress} of them without an address, which can be looked for</li>
          )}
          {leftOutOf({ refused, repeated }) > 0 && <li>{leftOutWords({ refused, repeated })}</li>}
          <li>Duplicates are looked for, and addresses verified, right after</li>
        </Box>
      </Typography>
    </MarginNote>
  );
}

type RowCounts = { refused?: number; repeated?: number };
const leftOutOf = ({ refused = 0, repeated = 0 }: RowCounts): number => refused + repeated;
/** "4 rows left out, 2 of them repeated within the file: the first counts" */
const leftOutWords = (rows: RowCounts): string =>
  `${count(leftOutOf(rows), "row")} left out${
    (rows.repeated ?? 0) > 0 ? `, ${rows.repeated} of them repeated within the file: the first counts` : ""
  }`;

function Done({
  found,
  onUndo,
  onAgain,
  busy,
}: {
  found: Found;
  onUndo: () => void;
  onAgain: () => void;
  busy: boolean;
}) {
  const { report, listId, listName } = found;
  const [asking, setAsking] = useState(false);
  const isUndone = found.state === "undone";
  const blocks = (report.problems ?? [])
    .filter(({ problem }) => problem === "opted_out" || problem === "bad_address")
    .reduce((sum, group) => sum + group.count, 0);
  const isClean = (report.cleaning ?? []).length === 0;
  return (
    <Page
      heading={
        isUndone
          ? `Taken back: ${count(report.removed ?? 0, "person", "people")} went again`
          : `${count(report.added ?? 0, "new person", "new people")} on the list`
      }
      sub={`From ${found.fileName}${listName ? `, on “${listName}”` : ""}.`}
      actions={
        isUndone ? (
          <>
            {found.canComeAgain && (
              <Button onClick={onAgain} disabled={busy}>
                Import it again after all
              </Button>
            )}
            <Button variant="contained" component={Link} to="/prospects/import">
              Import another file
            </Button>
          </>
        ) : (
          <>
            <Button
              variant={isClean ? "contained" : "outlined"}
              component={Link}
              to={`/prospects?list=${listId}`}
            >
              See the list
            </Button>
            {!isClean && (
              <Button variant="contained" component={Link} to={`/lists/${listId}/cleaning`}>
                See what was cleaned
              </Button>
            )}
          </>
        )
      }
      margin={
        <>
          <MarginNote title="What was done">
            <Typography component="div">
              <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 0.75 }}>
                {isUndone && (report.stay ?? 0) > 0 && (
                  <li>{count(report.stay ?? 0, "person", "people")} stay, since you have worked with them</li>
                )}
                <li>{count(report.added ?? 0, "person", "people")} added</li>
                <li>{count(report.known ?? 0, "person", "people")} known before, put on the list</li>
                {(report.merged ?? 0) > 0 && (
                  <li>{count(report.merged ?? 0, "certain duplicate")} merged besides</li>
                )}
                <li>{leftOutWords(report)}</li>
              </Box>
            </Typography>
          </MarginNote>
          {!isUndone && found.undo && (
            <MarginNote title="If it was a mistake">
              <Typography sx={{ mb: 1 }}>
                {count(found.undo.goes, "person goes", "people go")} again, the values it changed return
                {found.undo.stays > 0
                  ? `, and ${count(found.undo.stays, "person stays", "people stay")} with what is known of them`
                  : ""}
                .
                {blocks > 0 &&
                  ` What the file says is not to be written to stays blocked (${blocks}); the block list lifts it.`}{" "}
                The file waits here for a week, to be imported again.
              </Typography>
              <Button
                size="small"
                disabled={busy}
                onClick={() => (found.undo?.stays ? setAsking(true) : onUndo())}
              >
                Take the import back
              </Button>
            </MarginNote>
          )}
          <Confirm
            open={asking}
            title="Some of them have a history"
            keep="Leave it as it is"
            act="Take it back"
            onClose={() => setAsking(false)}
            onAct={() => {
              setAsking(false);
              onUndo();
            }}
          >
            {count(found.undo?.stays ?? 0, "person has", "people have")} been written to, replied or been
            noted down since, or want no mail. They stay, and leave only the list.{" "}
            {count(found.undo?.goes ?? 0, "other person goes", "others go")}.
          </Confirm>
        </>
      }
    >
      <ProblemReview problems={report.problems ?? []} importId={found.id} hasFile={found.hasLeftOut} />
      {(report.refused ?? 0) + (report.repeated ?? 0) + (report.flagged ?? 0) === 0 && !isUndone && (
        <Alert severity="success">Every row of the file is on the list.</Alert>
      )}
    </Page>
  );
}

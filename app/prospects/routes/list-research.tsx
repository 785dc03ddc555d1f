import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { webApp } from "../../../server/app";
import { type Outcome, refused, whenDone } from "../../../server/errors";
import { forgetTyped, markRead, typeValue } from "../../../server/research/column-values";
import {
  changeColumn,
  createColumn,
  deleteColumn,
  putOnList,
  takeOffList,
} from "../../../server/research/columns";
import { researchOfList, researchQuery, type ValueRow } from "../../../server/research/research-of-list";
import { askRun } from "../../../server/research/run-column";
import { userContext } from "../../accounts/session";
import { Confirm } from "../../components/dialogs";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { ColumnDialog } from "../column-dialog";
import { ColumnList } from "../column-list";
import { JobProgress } from "../job-progress";
import { ListTabs } from "../list-tabs";
import { requireList } from "../require-list";
import { howFound, SHOW_WORDS, SHOWS } from "../research-words";
import { ValueLine } from "../value-row";
import type { Route } from "./+types/list-research";

export function loader({ request, params, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const { list, state } = requireList(app, user.id, params.id);
  const query = researchQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
  return { list, state, research: researchOfList(app, user.id, list.id, query), zone: user.zone };
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Outcome<unknown>> {
  const app = webApp();
  const { id: by } = context.get(userContext);
  const listId = Number(params.id);
  const body = await readJson(request);
  const columnId = Number(body.columnId);
  const target =
    body.scope === "person" ? { prospectId: Number(body.targetId) } : { companyId: Number(body.targetId) };
  switch (body.intent) {
    case "create":
      return whenDone(createColumn(app, by, listId, body.form), (made) => ({ made }));
    case "change":
      return changeColumn(app, by, columnId, body.form);
    case "put":
      return whenDone(putOnList(app, by, listId, columnId), () => ({ made: columnId }));
    case "take_off":
      return takeOffList(app, by, listId, columnId);
    case "delete":
      return deleteColumn(app, by, columnId);
    case "run":
      return askRun(app, by, { listId, columnId, wants: body.wants });
    case "type":
      return typeValue(app, by, columnId, target, String(body.value ?? ""));
    case "forget":
      return forgetTyped(app, by, columnId, target);
    case "read":
      return Array.isArray(body.ids)
        ? markRead(app, by, body.ids.map(Number))
        : refused({ form: "Choose what was read." });
    default:
      return unknownIntent(body.intent);
  }
}

export default function ResearchPage({ loaderData }: Route.ComponentProps) {
  const { list, state, research, zone } = loaderData;
  const { columns, opened } = research;
  const [, setParams] = useSearchParams();
  const [editing, setEditing] = useState<"new" | "known" | null>(null);
  const [isRemoving, setRemoving] = useState(false);
  const act = useAction({ as: "json" });
  const make = useAction<{ made?: number } | null>({ as: "json" }, (value) => {
    setEditing(null);
    if (value?.made) setParams({ column: String(value.made) });
  });
  const unread = columns.reduce((sum, { counts }) => sum + counts.unread, 0);
  const running = columns.find(({ job }) => job?.state === "waiting" || job?.state === "working");
  const add = research.mayChange && (
    <Button variant={columns.length === 0 ? "contained" : "outlined"} onClick={() => setEditing("new")}>
      Add a column
    </Button>
  );
  return (
    <Page
      heading={
        running
          ? `“${list.name}”: “${running.name}” is being worked out`
          : columns.length === 0
            ? `Nothing is worked out for “${list.name}” yet`
            : unread > 0
              ? `${count(unread, "line")} on “${list.name}” ${unread === 1 ? "is" : "are"} unread`
              : `${count(columns.length, "column is", "columns are")} worked out for “${list.name}”`
      }
      sub={
        columns.length === 0
          ? "A column finds one thing for each company or person, says where it stands, and can be used in texts."
          : undefined
      }
      actions={add}
      margin={<ResearchMargin opened={opened} />}
    >
      <ListTabs list={list} state={state} />
      <Refusal errors={act.errors} />
      {opened && (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "214px minmax(0, 1fr)" },
            gap: 3,
          }}
        >
          <ColumnList
            columns={columns}
            chosen={opened.column.id}
            onChoose={(id) => setParams({ column: String(id) })}
          />
          <Box sx={{ minWidth: 0 }}>
            <Opened
              key={opened.column.id}
              opened={opened}
              zone={zone}
              act={act}
              onShow={(show) => setParams({ column: String(opened.column.id), show })}
              onChange={() => setEditing("known")}
              onRemove={() => setRemoving(true)}
              mayChangeList={research.mayChange}
            />
          </Box>
        </Box>
      )}
      {editing !== null && (
        <ColumnDialog
          research={research}
          known={editing === "known" ? (opened?.column ?? null) : null}
          errors={make.errors}
          isBusy={make.isBusy}
          onClose={() => {
            make.reset();
            setEditing(null);
          }}
          onPut={(columnId) => make.press({ intent: "put", columnId })}
          onSave={(form) =>
            make.press(
              editing === "known"
                ? { intent: "change", columnId: opened?.column.id, form }
                : { intent: "create", form },
            )
          }
        />
      )}
      {opened && (
        <Confirm
          open={isRemoving}
          title={`Delete “${opened.column.name}”?`}
          keep="Keep it"
          act="Delete it"
          isDanger
          onClose={() => setRemoving(false)}
          onAct={() => {
            setRemoving(false);
            act.press({ intent: "delete", columnId: opened.column.id });
          }}
        >
          What it found goes with it, on every list of the team: {count(opened.column.counts.found, "value")}{" "}
          on this one. To take it off this list only, press “Take off the list”.
        </Confirm>
      )}
    </Page>
  );
}

type OpenedColumn = NonNullable<Route.ComponentProps["loaderData"]["research"]["opened"]>;

function Opened(props: {
  opened: OpenedColumn;
  zone: string;
  act: ReturnType<typeof useAction>;
  onShow: (show: string) => void;
  onChange: () => void;
  onRemove: () => void;
  mayChangeList: boolean;
}) {
  const { opened, zone, act, onShow } = props;
  const { column, show, rows } = opened;
  const { counts } = column;
  const isRunning = column.job?.state === "waiting" || column.job?.state === "working";
  const run = (wants: string) => act.press({ intent: "run", columnId: column.id, wants });
  const of = (row: ValueRow) => ({ columnId: column.id, scope: column.scope, targetId: row.targetId });
  const unread = rows.filter(({ isUnread, id }) => isUnread === 1 && id !== null);
  const looked = counts.targets - counts.open;
  const unit =
    column.scope === "company"
      ? (["company", "companies"] as [string, string])
      : (["person", "people"] as [string, string]);
  return (
    <>
      <Typography variant="h2">{column.name}</Typography>
      <Typography color="textSecondary" sx={{ mb: 1.25 }}>
        {howFound(column.settings)}
      </Typography>
      <JobProgress job={column.job} doing={`Working out “${column.name}”`} unit={unit[1]} onlyWhileRunning />
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mb: 1.5 }}>
        {counts.open > 0 && looked === 0 && counts.open > 5 && (
          <Button variant="contained" disabled={isRunning} onClick={() => run("try")}>
            Try on five
          </Button>
        )}
        {counts.open > 0 && (
          <Button
            variant={looked > 0 || counts.open <= 5 ? "contained" : "outlined"}
            disabled={isRunning}
            onClick={() => run("missing")}
          >
            Work out {looked > 0 ? "the other " : ""}
            {count(counts.open, ...unit)}
          </Button>
        )}
        {counts.old > 0 && (
          <Button disabled={isRunning} onClick={() => run("old")}>
            Look anew at {counts.old} older than {column.freshDays} days
          </Button>
        )}
        {looked > 0 && (
          <Button variant="text" disabled={isRunning} onClick={() => run("all")}>
            Look anew at all
          </Button>
        )}
        {opened.mayChange && (
          <Button variant="text" onClick={props.onChange}>
            Change how it is found
          </Button>
        )}
        {props.mayChangeList && (
          <Button variant="text" onClick={() => act.press({ intent: "take_off", columnId: column.id })}>
            Take off the list
          </Button>
        )}
        {opened.mayChange && (
          <Button variant="text" color="error" onClick={props.onRemove} sx={{ ml: "auto" }}>
            Delete
          </Button>
        )}
      </Box>
      <Tabs
        value={show}
        onChange={(_, value: string) => onShow(value)}
        variant="scrollable"
        sx={{ minHeight: 38, mb: 0.5 }}
      >
        {SHOWS.filter((each) => counts[each] > 0 || each === show).map((each) => (
          <Tab
            key={each}
            value={each}
            sx={{ minHeight: 38 }}
            label={`${SHOW_WORDS[each].name} ${counts[each].toLocaleString("en-GB")}`}
          />
        ))}
      </Tabs>
      {unread.length > 1 && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, py: 1 }}>
          <Typography color="textSecondary" sx={{ flex: 1 }}>
            None of these leaves before somebody has read it.
          </Typography>
          <Button
            size="small"
            disabled={act.isBusy}
            onClick={() => act.press({ intent: "read", ids: unread.map(({ id }) => id) })}
          >
            I have read these {unread.length}
          </Button>
        </Box>
      )}
      {rows.map((row) => (
        <ValueLine
          key={row.targetId}
          row={row}
          isPicture={column.gives === "picture"}
          zone={zone}
          isBusy={act.isBusy}
          onRead={() => act.press({ intent: "read", ids: [row.id] })}
          onType={(value) => act.press({ intent: "type", ...of(row), value })}
          onForget={() => act.press({ intent: "forget", ...of(row) })}
        />
      ))}
      {rows.length === 0 && (
        <Typography color="textSecondary" sx={{ py: 1.5 }}>
          {SHOW_WORDS[show].empty}
        </Typography>
      )}
      <Pager page={opened.page} pageSize={opened.pageSize} total={counts[show]} />
    </>
  );
}

function ResearchMargin({ opened }: { opened: OpenedColumn | null }) {
  return (
    <>
      {opened && (
        <>
          <MarginNote title="In texts">
            <Typography>
              <code>{`{{ ${opened.column.code} }}`}</code> says it in every text of a sequence.{" "}
              {opened.sequences.length === 0
                ? "None does so far."
                : `${opened.sequences
                    .slice(0, 3)
                    .map((name) => `“${name}”`)
                    .join(", ")} ${opened.sequences.length === 1 ? "does" : "do"}.`}
            </Typography>
          </MarginNote>
          <MarginNote title="What it cost">
            <Typography>
              {opened.cost && opened.cost.asked > 0
                ? `${count(opened.cost.asked, "question")} in ${count(opened.cost.runs, "run")}${opened.cost.tokens > 0 ? `, ${opened.cost.tokens.toLocaleString("en-GB")} tokens by the assistant's count` : ""}.`
                : "Nothing was asked so far."}
            </Typography>
          </MarginNote>
        </>
      )}
      <MarginNote title="How sites are read">
        <Typography>
          As a guest: what a site's robots.txt asks not to read is not read, a host is asked once a second,
          and six pages are the most. Pictures are made anew here.
        </Typography>
      </MarginNote>
      <MarginNote title="What is believed">
        <Typography>
          A line of the assistant's stands only if every name, number and quotation in it stands in what was
          read; else it is crossed out, with what is missing. And none leaves before somebody has read it,
          unless the sequence says so.
        </Typography>
      </MarginNote>
    </>
  );
}

/** What can be done with the chosen prospects; every button names how many they are. */

import Alert from "@mui/material/Alert";
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { STAGE_NAMES } from "../../core/prospects/stages";
import { Choice } from "../components/choice";
import { useAction } from "../components/use-action";
import { count } from "../components/words";
import { UndoButton } from "../undo/undo-line";
import { FIELD_NAMES } from "./words";
import { AddTo, type BulkAnswer, NewSequenceFor } from "./write-to-chosen";

const SETTABLE = ["title", "city", "country", "timeZone"] as const;

export function BulkBar(props: {
  chosen: number;
  /** The one who is chosen, if it is one. */
  only: number | null;
  total: number;
  everybody: boolean;
  onEverybody: () => void;
  onClear: () => void;
  listId: number | undefined;
  lists: { name: string }[];
  users: { id: number; name: string }[];
  sequences: { id: number; name: string; state: string }[];
  customs: string[];
  run: (action: Record<string, unknown>) => Record<string, string>;
  exportTo: (kind: "csv" | "vcf") => string;
  /** What stands in its place while nobody is chosen. */
  children: React.ReactNode;
}) {
  const { press, isBusy, value: done, errors } = useAction<BulkAnswer>({ to: "/prospects" });
  const [menu, setMenu] = useState<{
    at: HTMLElement;
    kind: "sequence" | "list" | "stage" | "owner" | "field" | "more";
  } | null>(null);
  const [shown, setShown] = useState<Shown | null>(null);
  /** The sequence onto which they are brought, once it was seen what that does. */
  const [adding, setAdding] = useState<number | "new" | null>(null);
  useEffect(() => {
    const error = Object.values(errors)[0];
    if (!isBusy && (done || error)) setShown(done ?? { error });
  }, [isBusy, done, errors]);

  const send = (action: Record<string, unknown>) => {
    setMenu(null);
    press({ intent: "bulk", ...props.run(action) });
  };
  const people = count(props.chosen, "person", "people");
  const open = (kind: NonNullable<typeof menu>["kind"]) => (event: React.MouseEvent<HTMLElement>) =>
    setMenu({ at: event.currentTarget, kind });
  return (
    <>
      {props.chosen === 0 ? (
        props.children
      ) : (
        <Box
          role="toolbar"
          aria-label={`With ${people}`}
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1,
            bgcolor: "tile.wash",
            borderRadius: 1,
            px: 1.5,
            minHeight: 37,
            mb: 1.25,
            flexWrap: { xs: "wrap", md: "nowrap" },
          }}
        >
          <Typography sx={{ fontWeight: 600, mr: 1 }}>{people} chosen</Typography>
          {!props.everybody && props.total > props.chosen && (
            <Button size="small" variant="text" onClick={props.onEverybody}>
              Choose all {props.total.toLocaleString("en-GB")}
            </Button>
          )}
          <Button size="small" variant="contained" disabled={isBusy} onClick={open("sequence")}>
            Write to {props.chosen === 1 ? "this one" : `these ${props.chosen}`}
          </Button>
          <Button size="small" disabled={isBusy} onClick={open("list")}>
            Put on a list
          </Button>
          <Button size="small" disabled={isBusy} onClick={open("stage")}>
            Stage
          </Button>
          <Button size="small" disabled={isBusy} onClick={open("owner")}>
            Owner
          </Button>
          <Button size="small" disabled={isBusy} onClick={open("more")}>
            More
          </Button>
          <Box sx={{ flex: 1 }} />
          <Button size="small" variant="text" onClick={props.onClear}>
            Choose nobody
          </Button>
        </Box>
      )}
      <Menu anchorEl={menu?.at ?? null} open={menu?.kind === "sequence"} onClose={() => setMenu(null)}>
        {props.only !== null && (
          <MenuItem component={Link} to={`/emails/new?to=${props.only}`}>
            One email
          </MenuItem>
        )}
        <MenuItem
          onClick={() => {
            setMenu(null);
            setAdding("new");
          }}
        >
          A new sequence for {props.chosen === 1 ? "this one" : "these"}
        </MenuItem>
        <Divider />
        {props.sequences.map(({ id, name, state }) => (
          <MenuItem
            key={id}
            onClick={() => {
              setMenu(null);
              setAdding(id);
            }}
          >
            {name}
            <Typography component="span" variant="body2" color="textSecondary" sx={{ ml: 1 }}>
              {state === "draft" ? "a draft" : state === "paused" ? "paused" : "running"}
            </Typography>
          </MenuItem>
        ))}
      </Menu>
      {adding === "new" && <NewSequenceFor people={people} run={props.run} onClose={() => setAdding(null)} />}
      {typeof adding === "number" && (
        <AddTo
          run={() => props.run({ kind: "sequence", sequenceId: adding })}
          onClose={() => setAdding(null)}
          onAct={() => {
            setAdding(null);
            send({ kind: "sequence", sequenceId: adding });
          }}
        />
      )}
      <Menu anchorEl={menu?.at ?? null} open={menu?.kind === "stage"} onClose={() => setMenu(null)}>
        {Object.entries(STAGE_NAMES).map(([stage, name]) => (
          <MenuItem key={stage} onClick={() => send({ kind: "set", field: "stage", value: stage })}>
            {name}
          </MenuItem>
        ))}
      </Menu>
      <Menu anchorEl={menu?.at ?? null} open={menu?.kind === "owner"} onClose={() => setMenu(null)}>
        {props.users.map(({ id, name }) => (
          <MenuItem key={id} onClick={() => send({ kind: "set", field: "owner", value: String(id) })}>
            {name}
          </MenuItem>
        ))}
      </Menu>
      <Menu anchorEl={menu?.at ?? null} open={menu?.kind === "more"} onClose={() => setMenu(null)}>
        <MenuItem onClick={() => menu && setMenu({ at: menu.at, kind: "field" })}>Fill a field</MenuItem>
        <MenuItem onClick={() => send({ kind: "verify" })}>Verify the addresses</MenuItem>
        <MenuItem component="a" href={props.exportTo("csv")} download onClick={() => setMenu(null)}>
          Export as CSV, for spreadsheets
        </MenuItem>
        <MenuItem component="a" href={props.exportTo("vcf")} download onClick={() => setMenu(null)}>
          Export as vCard, for address books
        </MenuItem>
        <Divider />
        {props.listId !== undefined && (
          <MenuItem onClick={() => send({ kind: "remove_from_list", listId: props.listId })}>
            Take off this list
          </MenuItem>
        )}
        <MenuItem onClick={() => send({ kind: "block" })} sx={{ color: "clay.main" }}>
          Block: never write to them
        </MenuItem>
      </Menu>
      <Menu
        anchorEl={menu?.at ?? null}
        open={menu?.kind === "list"}
        onClose={() => setMenu(null)}
        disableAutoFocusItem
      >
        <ListMenu people={people} lists={props.lists} send={send} />
      </Menu>
      <Menu
        anchorEl={menu?.at ?? null}
        open={menu?.kind === "field"}
        onClose={() => setMenu(null)}
        disableAutoFocusItem
      >
        <FieldMenu people={people} customs={props.customs} send={send} />
      </Menu>
      <WhatCame
        of={shown}
        onClose={() => setShown(null)}
        onUndo={(batch) => press({ intent: "undo-bulk", batch })}
      />
    </>
  );
}

type Send = (action: Record<string, unknown>) => void;

function ListMenu({ people, lists, send }: { people: string; lists: { name: string }[]; send: Send }) {
  const [listName, setListName] = useState("");
  return (
    <Box sx={{ p: 2, width: 320, display: "grid", gap: 1.5 }} onKeyDown={(event) => event.stopPropagation()}>
      <Autocomplete
        freeSolo
        options={lists.map(({ name }) => name)}
        inputValue={listName}
        onInputChange={(_, text) => setListName(text)}
        renderInput={(params) => <TextField {...params} label="List, an old or a new one" autoFocus />}
      />
      <Button
        variant="contained"
        disabled={listName.trim() === ""}
        onClick={() => send({ kind: "add_to_list", name: listName })}
      >
        Put {people} on it
      </Button>
    </Box>
  );
}

function FieldMenu({ people, customs, send }: { people: string; customs: string[]; send: Send }) {
  const [field, setField] = useState<string>("title");
  const [value, setValue] = useState("");
  return (
    <Box sx={{ p: 2, width: 320, display: "grid", gap: 1.5 }} onKeyDown={(event) => event.stopPropagation()}>
      <Choice
        label="Field"
        value={field}
        onChange={(chosen) => setField(chosen)}
        options={[...SETTABLE, ...customs.map((custom) => `custom:${custom}`)].map(
          (each) => [each, FIELD_NAMES[each] ?? each.replace("custom:", "").replaceAll("_", " ")] as const,
        )}
      />
      <TextField label="New value" value={value} onChange={(event) => setValue(event.target.value)} />
      <Button variant="contained" onClick={() => send({ kind: "set", field, value })}>
        Fill it in for {people}
      </Button>
    </Box>
  );
}

type Shown = BulkAnswer & { error?: string | undefined };

/** What came of the press, and its undo. */
function WhatCame(props: { of: Shown | null; onClose: () => void; onUndo: (batch: string) => void }) {
  const { of, onClose, onUndo } = props;
  return (
    <Snackbar
      open={of !== null}
      autoHideDuration={12_000}
      onClose={(_, why) => why !== "clickaway" && onClose()}
    >
      <Alert
        severity={of?.error ? "error" : "success"}
        action={
          of?.report?.undoId !== undefined ? (
            <UndoButton ids={[of.report.undoId]} />
          ) : of?.report?.batch != null && of.report.count > 0 ? (
            <Button size="small" onClick={() => onUndo(String(of.report?.batch))}>
              Undo
            </Button>
          ) : undefined
        }
      >
        {of?.error}
        {of?.report && `${count(of.report.count, "person", "people")} ${of.report.words}.`}
        {of?.undone !== undefined && `Taken back for ${count(of.undone, "person", "people")}.`}
      </Alert>
    </Snackbar>
  );
}

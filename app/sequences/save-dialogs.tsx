/** What a save says first: what it does to the people under way, or that somebody else saved meanwhile. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import isEqual from "fast-deep-equal";
import type { Blocker } from "react-router";
import { comparePaths } from "../../core/sequence/compare-paths";
import { isEmail, isTouch, type Path, type PathNode } from "../../core/sequence/path";
import { asWords } from "../../core/writing/document";
import type { MoveConsequences } from "../../server/sequences/move-journeys";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { Confirm } from "../components/dialogs";
import { count } from "../components/words";
import { KIND_WORDS, nodeName, waitWords } from "./step-words";

export function SaveDialog(props: {
  open: boolean;
  /** Null while it is being counted. */
  moves: MoveConsequences | null;
  underWay: number;
  version: number;
  onClose: () => void;
  onSave: (underWay: "move" | "finish") => void;
}) {
  const { moves, version, underWay: all } = props;
  if (!props.open) return null;
  return (
    <Confirm
      title={`Save version ${version} with ${count(all, "person", "people")} under way?`}
      keep="Not yet"
      act={`Save and move ${all}`}
      other={
        <Button disabled={!moves} onClick={() => props.onSave("finish")}>
          Let them finish on theirs
        </Button>
      }
      isWaiting={!moves}
      onClose={props.onClose}
      onAct={() => props.onSave("move")}
    >
      <Typography component="div">
        Moved to version {version}:
        {moves ? (
          <Box component="ul" sx={{ pl: 2.5, my: 1 }}>
            {moves.stay > 0 && (
              <li>
                {count(moves.stay, "person stands", "people stand")} where they stood, their date unchanged
              </li>
            )}
            {moves.recounted > 0 && (
              <li>
                {count(moves.recounted, "person gets", "people get")} another date, since their wait changed
              </li>
            )}
            {moves.moved > 0 && (
              <li>
                {count(moves.moved, "person goes", "people go")} on with another step, since theirs is gone
              </li>
            )}
            {moves.lost > 0 && (
              <li>{count(moves.lost, "person ends", "people end")}: nothing they had ahead is left</li>
            )}
          </Box>
        ) : (
          " counting …"
        )}
        Nobody gets a step twice. Or they finish on the version they began with, and only new people get this
        one.
      </Typography>
    </Confirm>
  );
}

export function ConflictDialog(props: {
  open: boolean;
  mine: SequenceForm;
  theirs: SequenceForm;
  onMine: () => void;
  onTheirs: () => void;
}) {
  const { mine, theirs } = props;
  if (!props.open) return null;
  return (
    <Dialog open maxWidth="md" fullWidth>
      <DialogTitle>Somebody saved this sequence while you were writing</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1.5 }}>
          Nothing of yours is lost, and nothing of theirs was overwritten. Compare, then decide.
        </Typography>
        <SideBySide
          before={theirs.path}
          after={mine.path}
          titles={["As it is stored now", "As you have it"]}
        />
        {!isEqual({ ...mine, path: [], revision: 0 }, { ...theirs, path: [], revision: 0 }) && (
          <Typography color="textSecondary" sx={{ mt: 1.5 }}>
            The name or the settings differ too.
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onTheirs}>Take what is stored</Button>
        <Button variant="contained" onClick={props.onMine}>
          Save mine over it
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function NodeWords({ node, path }: { node: PathNode; path: Path }) {
  return (
    <>
      <strong>{nodeName(node, path)}</strong>{" "}
      <Box component="span" sx={{ color: "text.secondary" }}>
        {KIND_WORDS[node.kind].toLowerCase()}
        {isTouch(node) && `, ${waitWords(node.wait)}`}
      </Box>
      {isEmail(node) && (
        <Typography
          variant="body2"
          color="textSecondary"
          sx={{ display: "-webkit-box", WebkitLineClamp: 3, WebkitBoxOrient: "vertical", overflow: "hidden" }}
        >
          {node.variants
            .map(({ subject, body }) => [subject, body].filter(Boolean).map(asWords).join(" — "))
            .join(" / ")}
        </Typography>
      )}
      {isTouch(node) && !isEmail(node) && (
        <Typography variant="body2" color="textSecondary">
          {node.text}
        </Typography>
      )}
    </>
  );
}

/** Two versions node by node; what differs is marked by colour, and by words for who does not see it. */
export function SideBySide({
  before,
  after,
  titles,
}: {
  before: Path;
  after: Path;
  titles: [string, string];
}) {
  return (
    <Box
      component="table"
      sx={{
        width: "100%",
        borderCollapse: "collapse",
        tableLayout: "fixed",
        "& td, & th": { verticalAlign: "top", p: 1, textAlign: "left" },
      }}
    >
      <thead>
        <tr>
          {titles.map((title) => (
            <Typography component="th" variant="label" color="textSecondary" key={title}>
              {title}
            </Typography>
          ))}
        </tr>
      </thead>
      <tbody>
        {comparePaths(before, after).map(({ before: left, after: right, isSame }) => (
          <Box
            component="tr"
            key={(right ?? left)?.id}
            sx={{ borderTop: "1px solid", borderColor: "divider" }}
          >
            <Box component="td" sx={isSame || !left ? {} : { bgcolor: "clay.wash" }}>
              {left ? <NodeWords node={left} path={before} /> : <em>not there</em>}
            </Box>
            <Box component="td" sx={isSame || !right ? {} : { bgcolor: "kelp.wash" }}>
              {right ? isSame ? "the same" : <NodeWords node={right} path={after} /> : <em>taken out</em>}
            </Box>
          </Box>
        ))}
      </tbody>
    </Box>
  );
}

export function LeaveDialog({ blocker, name }: { blocker: Blocker; name: string }) {
  return (
    <Confirm
      open={blocker.state === "blocked"}
      title="Leave without saving?"
      keep="Stay here"
      act="Leave"
      onClose={() => blocker.reset?.()}
      onAct={() => blocker.proceed?.()}
    >
      What you changed in “{name}” since the last save will be gone.
    </Confirm>
  );
}

/** The path as a drawing, with the tools that work on it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import ListItemText from "@mui/material/ListItemText";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { STEP_KINDS } from "../../core/sequence/limits";
import type { StepKind } from "../../core/sequence/path";
import type { PathProblem } from "../../core/sequence/path-problems";
import { WorkedTimeline } from "../timeline/worked-timeline";
import { drawPlan, gapOf } from "./plan-drawing";
import { planWords } from "./plan-words";
import { KIND_WORDS } from "./step-words";
import type { Composer } from "./use-composer";

/** The first shows the whole. */
const ZOOMS = [0, 1, 1.4, 2, 3];

export function ComposerTimeline(props: {
  composer: Composer;
  today: number;
  problems: readonly PathProblem[];
  onOpen: () => void;
}) {
  const { composer, today, problems } = props;
  const { path, days } = composer.form;
  const [zoom, setZoom] = useState(1);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const wrong = problems.map(({ nodeId }) => nodeId).join();
  const plan = useMemo(
    () => drawPlan(path, { today, sendingDays: days, isWrong: (id) => wrong.split(",").includes(id) }),
    [path, today, days, wrong],
  );
  const { drawing, ...timeline } = plan;
  const add = (kind: StepKind | "fork" | "end") => {
    setMenu(null);
    composer.add(kind);
  };

  function onKey(id: string, event: React.KeyboardEvent): boolean {
    const key = event.key.toLowerCase();
    if (event.ctrlKey || event.metaKey) {
      if (key === "c") composer.copy(id);
      else if (key === "v") composer.paste();
      else if (key === "d") composer.duplicate(id);
      else return false;
      return true;
    }
    if (key === "n") setMenu(event.currentTarget as HTMLElement);
    else if (key === "f") composer.add("fork");
    else if (key === "d") composer.duplicate(id);
    else if (key === "delete" || key === "backspace") composer.remove(id);
    else return false;
    return true;
  }

  const tool = (label: string, sign: string, onClick: () => void, disabled = false) => (
    <Tooltip title={label}>
      <span>
        <IconButton
          size="small"
          aria-label={label}
          onClick={onClick}
          disabled={disabled}
          sx={{ fontSize: 15, width: 30, height: 30 }}
        >
          {sign}
        </IconButton>
      </span>
    </Tooltip>
  );
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, mb: 0.5, minHeight: 34 }}>
        <Typography variant="body2" color="textSecondary" sx={{ flex: 1, minWidth: 0 }} noWrap>
          {planWords(drawing)}
        </Typography>
        {tool("Undo (Ctrl Z)", "↶", composer.undo, !composer.canUndo)}
        {tool("Redo (Ctrl Shift Z)", "↷", composer.redo, !composer.canRedo)}
        {tool("Smaller", "−", () => setZoom(Math.max(0, zoom - 1)), zoom === 0)}
        {tool("Larger", "+", () => setZoom(Math.min(ZOOMS.length - 1, zoom + 1)), zoom === ZOOMS.length - 1)}
        {tool("Fit the whole sequence", "⤢", () => setZoom(0), zoom === 0)}
        <Button size="small" onClick={(event) => setMenu(event.currentTarget)} aria-haspopup="menu">
          Add a step
        </Button>
        <Menu open={menu !== null} anchorEl={menu} onClose={() => setMenu(null)}>
          {STEP_KINDS.map((kind) => (
            <MenuItem key={kind} dense onClick={() => add(kind)}>
              {KIND_WORDS[kind]}
            </MenuItem>
          ))}
          <MenuItem
            dense
            divider
            sx={{ borderTop: "1px solid", borderColor: "divider" }}
            onClick={() => add("fork")}
          >
            <ListItemText secondary="two ways, by what they did or are">Fork</ListItemText>
          </MenuItem>
          <MenuItem dense onClick={() => add("end")}>
            <ListItemText secondary="this way stops here">End</ListItemText>
          </MenuItem>
          <MenuItem
            dense
            onClick={() => {
              setMenu(null);
              composer.paste();
            }}
          >
            What you copied
          </MenuItem>
        </Menu>
      </Box>
      <WorkedTimeline
        {...timeline}
        zoom={ZOOMS[zoom] ?? 1}
        mostHeight={330}
        selected={composer.selected}
        onSelect={composer.select}
        onOpen={(id) => {
          composer.select(id);
          props.onOpen();
        }}
        onMove={composer.shift}
        onDropIn={(id, place) => composer.moveTo(id, gapOf(place))}
        onKey={onKey}
      />
    </Box>
  );
}

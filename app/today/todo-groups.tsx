/** The things of a full day by their kind, and what can be done with several of them at once. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { TODO_GROUPS, type TodoGroup } from "../../core/today/order";
import type { TodoItem } from "../../server/today/todo-item";
import type { TodoList } from "../../server/today/todo-list";
import { count } from "../components/words";
import { GROUP_WORDS } from "./todo-words";
import type { Act } from "./todo-work";

/** Fewer than this are seen at one look. */
const MANY = 9;

/** How much there is of each kind; a press shows one kind alone. */
export function GroupBar({ todo, isHidden }: { todo: TodoList; isHidden: boolean }) {
  const { groups, only } = todo;
  const all = TODO_GROUPS.reduce((sum, group) => sum + groups[group], 0);
  const shown = TODO_GROUPS.filter((group) => groups[group] > 0);
  if (all < MANY || shown.length < 2) return null;
  const chip = (group: TodoGroup | null, words: string) => (
    <Button
      key={words}
      size="small"
      component={Link}
      to={group === null ? "/" : `/?show=${group}`}
      aria-current={only === group ? "true" : undefined}
      variant={only === group ? "contained" : "outlined"}
    >
      {words}
    </Button>
  );
  return (
    <Box
      component="nav"
      aria-label="By kind"
      sx={{ display: { xs: isHidden ? "none" : "flex", sm: "flex" }, gap: 0.75, flexWrap: "wrap", mb: 1.5 }}
    >
      {chip(null, `All ${all}`)}
      {shown.map((group) => chip(group, `${GROUP_WORDS[group]} ${groups[group]}`))}
    </Box>
  );
}

/** Whether it can be done with others at once: a touch without an outcome of its own, and a reminder. */
export const isEqualWork = (item: TodoItem): boolean =>
  item.kind !== "call" && ("touchId" in item || ("reminderId" in item && item.reminderId !== null));

export function ManyBar(props: {
  items: readonly TodoItem[];
  ticked: ReadonlySet<string>;
  onTick: (keys: readonly string[]) => void;
  act: Act;
  isBusy: boolean;
}) {
  const { items, ticked, onTick, act, isBusy } = props;
  const equal = items.filter(isEqualWork);
  if (equal.length < 2) return null;
  const chosen = equal.filter(({ key }) => ticked.has(key));
  const end = (how: "done" | "skipped" | "later") => {
    act("end_many", {
      how,
      touchIds: chosen.flatMap((item) => ("touchId" in item ? [item.touchId] : [])),
      reminderIds: chosen.flatMap((item) =>
        "reminderId" in item && item.reminderId !== null ? [item.reminderId] : [],
      ),
    });
    onTick([]);
  };
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", mb: 1 }}>
      <Button
        size="small"
        onClick={() => onTick(chosen.length === equal.length ? [] : equal.map(({ key }) => key))}
      >
        {chosen.length === equal.length ? "Choose none" : `Choose all ${equal.length}`}
      </Button>
      {chosen.length > 0 ? (
        <>
          <Button size="small" variant="contained" disabled={isBusy} onClick={() => end("done")}>
            {count(chosen.length, "is", "are")} done
          </Button>
          <Button size="small" disabled={isBusy} onClick={() => end("later")}>
            Tomorrow
          </Button>
          <Button size="small" disabled={isBusy} onClick={() => end("skipped")}>
            Skip
          </Button>
        </>
      ) : (
        <Typography variant="body2" color="textSecondary">
          and note them in one go
        </Typography>
      )}
    </Box>
  );
}

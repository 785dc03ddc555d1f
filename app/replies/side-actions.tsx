/** What else can be done with a conversation: hand it over, note something, be reminded. */
import Box from "@mui/material/Box";
import { KeyButton } from "../components/key";

export type SideAction = "hand-over" | "note" | "remind";

const ACTIONS: { action: SideAction; words: string; letter: string }[] = [
  { action: "hand-over", words: "Hand over", letter: "H" },
  { action: "note", words: "Write a note", letter: "N" },
  { action: "remind", words: "Remind me", letter: "L" },
];

export const sideActionOf = (key: string): SideAction | undefined =>
  ACTIONS.find(({ letter }) => letter.toLowerCase() === key)?.action;

export function SideActions({
  may,
  onChoose,
}: {
  may: (action: SideAction) => boolean;
  onChoose: (action: SideAction) => void;
}) {
  return (
    <Box sx={{ display: "grid", gap: 0.75 }}>
      {ACTIONS.map(({ action, words, letter }) => (
        <KeyButton
          key={action}
          disabled={!may(action)}
          onClick={() => onChoose(action)}
          sx={{ justifyContent: "space-between" }}
          keys={letter}
        >
          {words}
        </KeyButton>
      ))}
    </Box>
  );
}

import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { Viewer } from "../components/dialogs";
import { Key } from "../components/key";
import { PLACES } from "./places";

const OTHERS: [keys: string[], meaning: string][] = [
  [["Ctrl K"], "Find anything"],
  [["J", "K"], "Next and back in a list; Enter opens"],
  [["R"], "Answer the open reply"],
  [["←", "→"], "Select a step of the timeline"],
  [["Shift ←", "Shift →"], "Move the step to another day"],
  [["Enter"], "Open the step"],
  [["N"], "Add a step after it"],
];

export function KeyList({ onClose }: { onClose: () => void }) {
  return (
    <Viewer title="Keys" width="xs" onClose={onClose}>
      <Stack spacing={1}>
        {PLACES.map(({ name, letter }) => (
          <Typography key={name} sx={{ display: "flex", gap: 1 }}>
            <span>
              <Key>G</Key> <Key>{letter.toUpperCase()}</Key>
            </span>
            Go to {name}
          </Typography>
        ))}
        {OTHERS.map(([keys, meaning]) => (
          <Typography key={meaning} sx={{ display: "flex", gap: 1 }}>
            <span>
              {keys.map((key) => (
                <span key={key}>
                  <Key>{key}</Key>{" "}
                </span>
              ))}
            </span>
            {meaning}
          </Typography>
        ))}
      </Stack>
    </Viewer>
  );
}

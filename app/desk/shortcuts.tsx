import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Key } from "../components/key";
import { moveToRow } from "../components/row-keys";
import { useKeys } from "./keys";
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

/** "?" lists the shortcuts; G and a letter go to a place; J and K go through the page's list. */
export function Shortcuts() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const afterG = useRef(false);
  // The letter behind a G may mean something else to the page.
  useKeys((key) => {
    const place = afterG.current ? PLACES.find(({ letter }) => letter === key) : undefined;
    afterG.current = key === "g";
    if (place) void navigate(place.to);
    return place !== undefined;
  }, "first");
  useKeys((key) => {
    if (key === "?") setOpen(true);
    return key === "?" || ((key === "j" || key === "k") && moveToRow(key === "j" ? 1 : -1));
  }, "last");

  return (
    <Dialog open={open} onClose={() => setOpen(false)} maxWidth="xs" fullWidth>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
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
      </DialogContent>
    </Dialog>
  );
}

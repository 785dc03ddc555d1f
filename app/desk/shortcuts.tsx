import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Stack from "@mui/material/Stack";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { Key } from "../components/key";
import { moveToRow } from "../components/row-keys";
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

/** Whether the keys go into a field, where letters are letters. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (target instanceof HTMLInputElement) return !/^(checkbox|radio|button|submit)$/.test(target.type);
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName);
}

/** "?" lists the shortcuts; G and a letter go to a place; J and K go through the page's list. */
export function Shortcuts() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    let afterG = false;
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const place = afterG ? PLACES.find(({ letter }) => letter === event.key.toLowerCase()) : undefined;
      afterG = event.key.toLowerCase() === "g";
      if (place) navigate(place.to);
      else if (event.key === "?") setOpen(true);
      else if ((event.key === "j" || event.key === "k") && moveToRow(event.key === "j" ? 1 : -1))
        event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [navigate]);

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

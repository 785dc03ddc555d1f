/** Whether the files of a letter are attached or go as links, what speaks for which, and who may follow a link. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { PlainSelect } from "../../components/plain-select";
import { FileLock } from "./file-lock";

/** Whether the files of a letter go as links, and what changes it. */
export interface AsLinks {
  isOn: boolean;
  onChange: (isOn: boolean) => void;
}

export function HowFilesGo({
  ids,
  names,
  links,
}: {
  ids: readonly number[];
  names: Readonly<Record<number, string>>;
  links: AsLinks;
}) {
  const [locking, setLocking] = useState<number | null>(null);
  const nameOf = (id: number) => names[id] ?? `File ${id}`;
  return (
    <Box sx={{ flexBasis: "100%", display: "grid", gap: 0.75, justifyItems: "start", mt: 0.75 }}>
      <PlainSelect
        label={ids.length === 1 ? "It goes" : "They go"}
        value={links.isOn ? "links" : "attached"}
        onChange={(way) => links.onChange(way === "links")}
        options={[
          ["attached", "attached to the email"],
          ["links", `as ${ids.length === 1 ? "a link" : "links"} to look at`],
        ]}
        sx={{ width: 240 }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ maxWidth: 560 }}>
        {links.isOn
          ? "The link stands below your text and opens for this person alone. You see which pages they look at, for how long, and whether they save it."
          : "Many mail servers hold back or refuse attachments of somebody they do not know, and nobody sees whether one is opened. In a first email a link arrives more often."}
      </Typography>
      {links.isOn &&
        ids.map((id) => (
          <Button key={id} size="small" variant="text" sx={{ ml: -0.75 }} onClick={() => setLocking(id)}>
            {ids.length === 1 ? "Password and end" : `Password and end of ${nameOf(id)}`}
          </Button>
        ))}
      {locking !== null && <FileLock id={locking} name={nameOf(locking)} onClose={() => setLocking(null)} />}
    </Box>
  );
}

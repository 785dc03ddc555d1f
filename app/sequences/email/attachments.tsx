import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import type { EmailStep } from "../../../core/sequence/path";
import { FileButton } from "../../components/file-button";
import { lazily } from "../../components/lazily";
import { PlainSelect } from "../../components/plain-select";
import { keepFile } from "../text/keep-file";

const FileLock = lazily(() => import("./file-lock"), "FileLock");

export function Attachments({
  step,
  fileNames,
  onChange,
}: {
  step: EmailStep;
  fileNames: Readonly<Record<number, string>>;
  onChange: (step: EmailStep) => void;
}) {
  return (
    <Files
      ids={step.attachments}
      fileNames={fileNames}
      onChange={(attachments) => onChange({ ...step, attachments })}
      links={{
        isOn: step.linksFiles === true,
        onChange: (isOn) => {
          const { linksFiles: _, ...rest } = step;
          onChange(isOn ? { ...rest, linksFiles: true } : rest);
        },
      }}
    />
  );
}

/** Whether the files of a letter go as links, and what changes it. */
export interface AsLinks {
  isOn: boolean;
  onChange: (isOn: boolean) => void;
}

/** The files that go with a letter, by their ids. */
export function Files({
  ids,
  fileNames,
  onChange,
  links,
}: {
  ids: readonly number[];
  fileNames: Readonly<Record<number, string>>;
  onChange: (ids: number[]) => void;
  /** Left out where they can only be attached, or only be looked at. */
  links?: AsLinks;
}) {
  const [said, setSaid] = useState<{ problem?: string; note?: string | null }>({});
  const [names, setNames] = useState<Readonly<Record<number, string>>>(fileNames);
  async function attach(file: File): Promise<void> {
    const kept = await keepFile(file, "attachment");
    if (!kept.ok) return setSaid({ problem: Object.values(kept.errors).join(" ") });
    const { id, name, note } = kept.value;
    setSaid({ note });
    setNames({ ...names, [id]: name });
    onChange([...ids, id]);
  }
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      {ids.map((id) => (
        <Chip
          key={id}
          size="small"
          label={names[id] ?? `File ${id}`}
          component="a"
          href={`/files/${id}`}
          clickable
          onDelete={(event) => {
            event.preventDefault();
            onChange(ids.filter((each) => each !== id));
          }}
        />
      ))}
      <FileButton
        label="Attach a file"
        name="Attachment"
        button={{ size: "small", variant: "text" }}
        onFile={(file) => void attach(file)}
      />
      {(said.problem || said.note) && (
        <Typography variant="caption" color={said.problem ? "error" : "textSecondary"}>
          {said.problem ?? said.note}
        </Typography>
      )}
      {links && ids.length > 0 && <HowTheyGo ids={ids} names={names} links={links} />}
    </Box>
  );
}

function HowTheyGo({
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
    <Box sx={{ flexBasis: "100%", display: "grid", gap: 0.75, justifyItems: "start" }}>
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
      {locking !== null && (
        <Suspense>
          <FileLock id={locking} name={nameOf(locking)} onClose={() => setLocking(null)} />
        </Suspense>
      )}
    </Box>
  );
}

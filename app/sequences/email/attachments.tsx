import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import type { EmailStep } from "../../../core/sequence/path";
import { FileButton } from "../../components/file-button";
import { lazily } from "../../components/lazily";
import { keepFile } from "../text/keep-file";
import type { AsLinks } from "./how-files-go";

const HowFilesGo = lazily(() => import("./how-files-go"), "HowFilesGo");

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
      {links && ids.length > 0 && (
        <Suspense>
          <HowFilesGo ids={ids} names={names} links={links} />
        </Suspense>
      )}
    </Box>
  );
}

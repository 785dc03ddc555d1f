/** Files whose links somebody has, in the margin of their page: what they looked at, and for how long. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { FileOfPerson } from "../../server/pages/files-of-person";
import { MarginNote } from "../components/page";
import { readingWords } from "../components/reading-words";
import { dayTime } from "../components/words";

function didWords({ givenAt, openedAt, lastAt, savedAt, reading }: FileOfPerson, zone: string): string {
  const did = [
    openedAt === null ? "" : `Looked on ${dayTime(lastAt ?? openedAt, zone)}: ${readingWords(reading)}`,
    savedAt === null ? "" : `saved on ${dayTime(savedAt, zone)}`,
  ].filter(Boolean);
  if (did.length > 0) return `${did.join("; ").replace(/^s/, "S")}.`;
  return givenAt === null ? "Not sent to them yet." : "They have not looked yet.";
}

export function PersonFiles({ files, zone }: { files: readonly FileOfPerson[]; zone: string }) {
  return (
    <MarginNote title="Files they were sent">
      {files.map((file) => (
        <Box key={file.id} sx={{ mb: 1, overflowWrap: "anywhere" }}>
          <Typography>
            <a href={file.look} target="_blank" rel="noreferrer">
              {file.name}
            </a>
          </Typography>
          <Typography variant="body2" color="textSecondary">
            {didWords(file, zone)}
          </Typography>
        </Box>
      ))}
    </MarginNote>
  );
}

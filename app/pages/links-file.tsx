/** The links as a file, for letters that are sent from elsewhere. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { askServer } from "../components/ask-server";
import { FileButton } from "../components/file-button";
import { count } from "../components/words";

interface WithLinks {
  file: string;
  people: number;
  unknown: number;
}

export function LinksFile({ templateId, listId }: { templateId: number; listId: number | null }) {
  const [said, setSaid] = useState<{ problem?: string; made?: WithLinks; name?: string }>({});
  async function add(file: File): Promise<void> {
    const form = new FormData();
    form.set("file", file);
    const made = await askServer<WithLinks>(`/pages/${templateId}/links`, form);
    setSaid(
      made.ok ? { made: made.value, name: file.name } : { problem: Object.values(made.errors).join(" ") },
    );
  }
  return (
    <Box
      component="section"
      aria-label="Links for a letter from elsewhere"
      sx={{ mt: 3, display: "grid", gap: 1, justifyItems: "start" }}
    >
      <Typography variant="h2">For a letter from elsewhere</Typography>
      <Typography color="textSecondary">
        A file with name, address, page link and picture link; or your own file, which comes back with the two
        links in it.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {listId !== null && (
          <form method="post" action={`/pages/${templateId}/links`}>
            <input type="hidden" name="list" value={listId} />
            <Button size="small" type="submit">
              Links of the list
            </Button>
          </form>
        )}
        <FileButton
          label="Put links into a file"
          accept=".csv,.tsv,.txt"
          button={{ size: "small" }}
          onFile={(file) => void add(file)}
        />
      </Box>
      {said.problem && <Typography color="error">{said.problem}</Typography>}
      {said.made && (
        <Typography>
          {count(said.made.people, "person has", "people have")} a link
          {said.made.unknown > 0 && `; ${said.made.unknown} are not known here and have none`}.{" "}
          <a
            href={`data:text/csv;charset=utf-8,${encodeURIComponent(said.made.file)}`}
            download={(said.name ?? "links.csv").replace(/(\.\w+)?$/, " with links.csv")}
          >
            Save the file
          </a>
        </Typography>
      )}
    </Box>
  );
}

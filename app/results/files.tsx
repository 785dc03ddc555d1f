/** Files that went as links: which are looked at, how far people come in them, and who they were. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { percent } from "../../core/results/figure-words";
import type { FileDetail, FileLine } from "../../server/results/files";
import { lasted, readingWords } from "../components/reading-words";
import { count, dayTime } from "../components/words";
import { Figures, Note } from "./tables";

export function Files({
  lines,
  file,
  zone,
}: {
  lines: readonly FileLine[];
  file: FileDetail | null;
  zone: string;
}) {
  const [query] = useSearchParams();
  if (lines.length === 0)
    return (
      <Note>
        No file has gone as a link to anybody who fits all of this. In an email of a sequence, attach a file
        and choose “as links to look at”: here stands who looked at which pages.
      </Note>
    );
  const of = (id: number) => {
    const there = new URLSearchParams(query);
    there.set("file", String(id));
    return `?${there}`;
  };
  return (
    <>
      <Figures
        name="Files"
        rows={lines}
        keyOf={({ id }) => String(id)}
        columns={[
          {
            title: "File",
            of: ({ id, name }) => (
              <Link to={of(id)} preventScrollReset replace>
                {name}
              </Link>
            ),
          },
          { title: "Sent to", of: ({ given }) => given.toLocaleString("en-GB") },
          { title: "Looked at it", of: ({ opened, given }) => `${opened} · ${percent(opened, given)}` },
          { title: "To the end", of: ({ toTheEnd, opened }) => `${toTheEnd} · ${percent(toTheEnd, opened)}` },
          { title: "Saved it", of: ({ saved }) => saved },
          { title: "Pages", of: ({ pages }) => pages || "" },
          {
            title: "Half stay longer than",
            of: ({ opened, seconds }) => (opened > 0 ? lasted(seconds) : ""),
          },
        ]}
      />
      {file && <OneFile file={file} zone={zone} />}
      <Note>
        A file counts for whoever was sent its link. Programs that follow every link are left out; whoever
        saved it reads it where nobody sees.
      </Note>
    </>
  );
}

function OneFile({ file: { name, byPage, readers, more }, zone }: { file: FileDetail; zone: string }) {
  const most = Math.max(1, ...byPage.map(({ readers }) => readers));
  return (
    <Box component="section" aria-label={name} sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {name}
      </Typography>
      {byPage.length > 1 && (
        <Box
          component="ol"
          aria-label="How far they come"
          sx={{ listStyle: "none", m: 0, mb: 2.5, p: 0, maxWidth: 620 }}
        >
          {byPage.map(({ page, readers, seconds }) => (
            <Box
              component="li"
              key={page}
              sx={{
                ...{
                  display: "grid",
                  gridTemplateColumns: "64px minmax(0, 1fr) 170px",
                  gap: 1.5,
                  alignItems: "center",
                  py: 0.35,
                },
              }}
            >
              <Typography variant="body2">Page {page}</Typography>
              <Box sx={{ height: 12, borderRadius: 0.5, bgcolor: "tile.wash" }}>
                <Box sx={{ height: 1, borderRadius: 0.5, bgcolor: "tile.main", width: readers / most }} />
              </Box>
              <Typography variant="body2" color="textSecondary">
                {count(readers, "reader")}
                {readers > 0 && `, ${lasted(seconds)}`}
              </Typography>
            </Box>
          ))}
        </Box>
      )}
      {readers.length === 0 ? (
        <Typography color="textSecondary">Nobody has looked at it yet.</Typography>
      ) : (
        <Figures
          name={`Who looked at ${name}`}
          rows={readers}
          keyOf={({ prospectId }) => String(prospectId)}
          columns={[
            {
              title: "Who",
              of: (reader) => <Link to={`/prospects/${reader.prospectId}`}>{reader.name}</Link>,
            },
            { title: "Company", of: ({ company }) => company },
            {
              title: "First looked",
              of: ({ openedAt }) => (openedAt === null ? "" : dayTime(openedAt, zone)),
            },
            {
              title: "What they read",
              of: ({ openedAt, reading }) => (openedAt === null ? "saved it only" : readingWords(reading)),
            },
            { title: "Saved", of: ({ savedAt }) => (savedAt === null ? "" : dayTime(savedAt, zone)) },
          ]}
        />
      )}
      {more > 0 && <Note>And {count(more, "other")}: the download has everybody.</Note>}
    </Box>
  );
}

/** Somebody's pages, in the margin of their own: the link, what they did there, a film for them alone. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import { useRevalidator, useSearchParams } from "react-router";
import type { PagesOfPerson } from "../../server/pages/pages-of-person";
import { askServer } from "../components/ask-server";
import { eventWords } from "../components/event-words";
import { lazily } from "../components/lazily";
import { MarginNote } from "../components/page";
import { dayTime } from "../components/words";

const FilmDialog = lazily(() => import("./film-dialog"), "FilmDialog");

/** How much of the film somebody saw; "" where they saw none. */
const seenWords = (watched: number): string =>
  watched === 0 ? "" : eventWords({ kind: "film_watched", detail: String(watched) }).toLowerCase();

export function PersonPages({
  of,
  prospect,
  zone,
}: {
  of: PagesOfPerson;
  prospect: { id: number; name: string };
  zone: string;
}) {
  const [query, setQuery] = useSearchParams();
  const [isFilming, setFilming] = useState(query.get("film") === "new");
  const { revalidate } = useRevalidator();
  const [copied, setCopied] = useState<number | null>(null);
  const close = () => {
    setFilming(false);
    if (query.has("film"))
      setQuery(
        (before) => {
          before.delete("film");
          return before;
        },
        { replace: true },
      );
  };
  async function drop(id: number): Promise<void> {
    const form = new FormData();
    form.set("intent", "remove");
    form.set("id", String(id));
    await askServer("/films", form);
    void revalidate();
  }
  return (
    <MarginNote title="Their page">
      {of.pages.map((page) => (
        <Box key={page.templateId} sx={{ mb: 1 }}>
          <Typography>
            <a href={page.look} target="_blank" rel="noreferrer">
              {page.name}
            </a>
          </Typography>
          <Typography variant="body2" color="textSecondary">
            {page.endsAt === null
              ? "Not sent to them yet."
              : page.visitedAt === null && page.watched === 0
                ? "They have not looked yet."
                : [
                    page.visitedAt === null ? "" : `Looked on ${dayTime(page.visitedAt, zone)}`,
                    seenWords(page.watched),
                  ]
                    .filter(Boolean)
                    .join("; ")}
          </Typography>
          <Button
            size="small"
            variant="text"
            sx={{ ml: -1.25 }}
            onClick={() => {
              void navigator.clipboard?.writeText(page.link);
              setCopied(page.templateId);
            }}
          >
            {copied === page.templateId ? "Copied" : "Copy their link"}
          </Button>
        </Box>
      ))}
      {of.film && (
        <Typography variant="body2">
          They see a film of their own ({Math.round(of.film.durationMs / 1000)} s).{" "}
          {of.mayFilm && (
            <Button size="small" variant="text" onClick={() => void drop(of.film?.id ?? 0)}>
              Remove it
            </Button>
          )}
        </Typography>
      )}
      {of.mayFilm && (
        <Button size="small" onClick={() => setFilming(true)}>
          {of.film ? "Another film for them" : "A film for them"}
        </Button>
      )}
      {isFilming && of.mayFilm && (
        <Suspense>
          <FilmDialog prospect={prospect} onClose={close} onMade={() => void revalidate()} />
        </Suspense>
      )}
    </MarginNote>
  );
}

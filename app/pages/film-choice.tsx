/** The film of a page: one that is there, or a new one; cut at its ends, with what is said in it. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Suspense, useRef, useState } from "react";
import { useRevalidator } from "react-router";
import { ownNameOf, PUBLIC_LANGUAGES } from "../../core/languages";
import type { PageEditor } from "../../server/pages/page-editor";
import { askServer } from "../components/ask-server";
import { Confirm } from "../components/dialogs";
import { lazily } from "../components/lazily";
import { PlainSelect } from "../components/plain-select";
import { picturesOf } from "./film-upload";

const FilmDialog = lazily(() => import("./film-dialog"), "FilmDialog");

type Film = PageEditor["films"][number];
const clock = (ms: number) =>
  `${Math.floor(ms / 60_000)}:${String(Math.floor(ms / 1000) % 60).padStart(2, "0")}`;

export function FilmChoice({
  films,
  filmId,
  onChange,
}: {
  films: PageEditor["films"];
  filmId: number | null;
  onChange: (filmId: number | null) => void;
}) {
  const [isMaking, setMaking] = useState(false);
  const [isCutting, setCutting] = useState(false);
  const { revalidate } = useRevalidator();
  const film = films.find(({ id }) => id === filmId);
  return (
    <>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
        {film && (
          <Box
            component="img"
            src={`/films/${film.id}/poster.jpg`}
            alt=""
            sx={{ width: 96, height: 54, objectFit: "cover", borderRadius: 0.5, bgcolor: "#101820" }}
          />
        )}
        <PlainSelect
          label="The film"
          value={String(film?.id ?? "")}
          onChange={(chosen) => onChange(chosen === "" ? null : Number(chosen))}
          options={[
            ["", films.length === 0 ? "none yet" : "none"],
            ...films.map(
              (each) => [String(each.id), `${each.name} (${clock(each.endsMs - each.startsMs)})`] as const,
            ),
          ]}
          sx={{ flex: 1, minWidth: 0 }}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button size="small" variant={film ? "outlined" : "contained"} onClick={() => setMaking(true)}>
          Record or choose a file
        </Button>
        {film && (
          <Button size="small" onClick={() => setCutting(true)}>
            Cut it, write what is said
          </Button>
        )}
      </Box>
      {isMaking && (
        <Suspense>
          <FilmDialog
            prospect={null}
            onClose={() => setMaking(false)}
            onMade={({ id }) => {
              onChange(id);
              void revalidate();
            }}
          />
        </Suspense>
      )}
      {isCutting && film && (
        <CutFilm film={film} onClose={() => setCutting(false)} onDone={() => void revalidate()} />
      )}
    </>
  );
}

function CutFilm({ film, onClose, onDone }: { film: Film; onClose: () => void; onDone: () => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const [from, setFrom] = useState(film.startsMs);
  const [to, setTo] = useState(film.endsMs);
  const [name, setName] = useState(film.name);
  const [captions, setCaptions] = useState(film.captions);
  const [language, setLanguage] = useState(film.captionsLanguage);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [isBusy, setBusy] = useState(false);
  const here = () => Math.round((video.current?.currentTime ?? 0) * 1000);
  async function save(): Promise<void> {
    setBusy(true);
    const form = new FormData();
    const values = {
      intent: "change",
      id: film.id,
      name,
      startsMs: from,
      endsMs: to,
      captions,
      captionsLanguage: language,
    };
    for (const [key, value] of Object.entries(values)) form.set(key, String(value));
    // Another beginning is another first picture.
    const seen =
      from === film.startsMs ? null : await picturesOf(`/films/${film.id}/file`, from).catch(() => null);
    if (seen?.poster) form.set("poster", seen.poster);
    if (seen?.frames) form.set("frames", seen.frames);
    const saved = await askServer<null>("/films", form);
    setBusy(false);
    if (!saved.ok) return setErrors(saved.errors);
    onDone();
    onClose();
  }
  return (
    <Confirm
      title="Cut it, and write what is said"
      keep="Leave it"
      act="Save"
      width="md"
      isWaiting={isBusy}
      onClose={onClose}
      onAct={() => void save()}
    >
      <Box sx={{ display: "grid", gap: 2 }}>
        {errors.form && <Alert severity="error">{errors.form}</Alert>}
        <Box
          component="video"
          ref={video}
          src={`/films/${film.id}/file`}
          controls
          playsInline
          sx={{ width: 1, maxHeight: 320, bgcolor: "#101820", borderRadius: 1 }}
        />
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <Button size="small" onClick={() => setFrom(Math.min(here(), to - 1000))}>
            Begin here
          </Button>
          <Button size="small" onClick={() => setTo(Math.max(here(), from + 1000))}>
            End here
          </Button>
          <Typography>
            From {clock(from)} to {clock(to)} of {clock(film.durationMs)}
          </Typography>
          <Button
            size="small"
            onClick={() => {
              setFrom(0);
              setTo(film.durationMs);
            }}
          >
            All of it
          </Button>
        </Box>
        {errors.endsMs && <Typography color="error">{errors.endsMs}</Typography>}
        <TextField
          size="small"
          label="Its name"
          value={name}
          onChange={({ target }) => setName(target.value)}
          error={!!errors.name}
          helperText={errors.name}
        />
        <TextField
          label="What is said: a line each, with its time"
          multiline
          minRows={4}
          value={captions}
          placeholder={"0:00 Good morning, I am Marta.\n0:04 This is what the sheet looks like."}
          onChange={({ target }) => setCaptions(target.value)}
          error={!!errors.captions}
          helperText={
            errors.captions ?? "Shown as captions, and to read instead. A WebVTT file can be put in whole."
          }
        />
        <PlainSelect
          label="In which language"
          value={language}
          onChange={setLanguage}
          options={PUBLIC_LANGUAGES.map((each) => [each, ownNameOf(each)] as const)}
          sx={{ width: 220 }}
        />
      </Box>
    </Confirm>
  );
}

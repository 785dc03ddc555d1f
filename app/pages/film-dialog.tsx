/** Makes a film: recorded here, by the camera or the screen with the camera beside it, or from a file. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { Film } from "../../server/pages/films";
import { Viewer } from "../components/dialogs";
import { FileButton } from "../components/file-button";
import { sendFilm } from "./film-upload";
import { type Recording, record, type Source } from "./record-film";

type State =
  | { is: "choosing"; problem?: string }
  | { is: "recording"; recording: Recording; since: number }
  | { is: "made"; film: Blob; url: string; name: string; problem?: string }
  | { is: "sending"; part: number; stop: () => void };

export function FilmDialog({
  prospect,
  onMade,
  onClose,
}: {
  /** For one person; null: for everybody. */
  prospect: { id: number; name: string } | null;
  onMade: (film: Film) => void;
  onClose: () => void;
}) {
  const [state, setState] = useState<State>({ is: "choosing" });
  const preview = useRef<HTMLVideoElement>(null);
  const current = useRef(state);
  current.current = state;
  // Whoever closes it has switched off the camera.
  useEffect(
    () => () => {
      const { current: last } = current;
      if (last.is === "recording") last.recording.drop();
      if (last.is === "made") URL.revokeObjectURL(last.url);
      if (last.is === "sending") last.stop();
    },
    [],
  );
  useEffect(() => {
    if (state.is === "recording" && preview.current) preview.current.srcObject = state.recording.stream;
  }, [state]);
  async function begin(source: Source): Promise<void> {
    try {
      const recording = await record(source);
      setState({ is: "recording", recording, since: Date.now() });
      const film = await recording.done;
      if (film.size > 0)
        setState({
          is: "made",
          film,
          url: URL.createObjectURL(film),
          name: `Recorded ${new Date().toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}`,
        });
    } catch (error) {
      setState({ is: "choosing", problem: whyNot(error) });
    }
  }
  async function send(film: Blob, name: string): Promise<void> {
    const ending = new AbortController();
    setState({ is: "sending", part: 0, stop: () => ending.abort() });
    const sent = await sendFilm(film, {
      ...{ name, prospectId: prospect?.id ?? null, signal: ending.signal },
      onProgress: (part) => setState((before) => (before.is === "sending" ? { ...before, part } : before)),
    });
    if (sent.ok) {
      onMade(sent.value);
      onClose();
    } else setState({ is: "choosing", problem: Object.values(sent.errors).join(" ") });
  }
  return (
    <Viewer
      title={prospect ? `A film for ${prospect.name}` : "A film for everybody"}
      width="md"
      close={state.is === "made" || state.is === "recording" ? "Throw it away" : "Close"}
      onClose={onClose}
    >
      <Box sx={{ display: "grid", gap: 2 }}>
        {state.is === "choosing" && (
          <>
            {state.problem && <Alert severity="error">{state.problem}</Alert>}
            <Typography color="textSecondary">
              A minute is enough: who you are, what you saw at theirs, what would come next. You can cut both
              ends afterwards.
            </Typography>
            <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap" }}>
              <Button variant="contained" onClick={() => void begin("camera")}>
                Record with the camera
              </Button>
              <Button variant="outlined" onClick={() => void begin("screen")}>
                Record the screen, you beside it
              </Button>
              <FileButton
                label="Choose a file"
                name="Film"
                accept="video/mp4,video/webm,.mp4,.webm"
                onFile={(file) => void send(file, file.name)}
              />
            </Box>
            <Typography variant="caption" color="textSecondary">
              MP4 or WebM, up to 200 MB. One that breaks off goes on with the same file.
            </Typography>
          </>
        )}
        {state.is === "recording" && (
          <>
            <Box
              component="video"
              ref={preview}
              autoPlay
              muted
              playsInline
              sx={{ width: 1, aspectRatio: "16 / 9", bgcolor: "#101820", borderRadius: 1 }}
            />
            <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
              <Button variant="contained" color="error" onClick={() => state.recording.stop()}>
                Stop
              </Button>
              <Since at={state.since} />
            </Box>
          </>
        )}
        {state.is === "made" && (
          <>
            <Box
              component="video"
              src={state.url}
              controls
              playsInline
              sx={{ width: 1, aspectRatio: "16 / 9", bgcolor: "#101820", borderRadius: 1 }}
            />
            <Box sx={{ display: "flex", gap: 1.25 }}>
              <Button variant="contained" onClick={() => void send(state.film, state.name)}>
                Use it
              </Button>
              <Button onClick={() => setState({ is: "choosing" })}>Record anew</Button>
            </Box>
          </>
        )}
        {state.is === "sending" && (
          <>
            <Typography role="status">
              {state.part < 1 ? `${Math.floor(state.part * 100)} % is there` : "It is being looked through …"}
            </Typography>
            <LinearProgress
              variant="determinate"
              value={state.part * 100}
              aria-label="How much of the film is there"
            />
          </>
        )}
      </Box>
    </Viewer>
  );
}

function Since({ at }: { at: number }) {
  const [, look] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => look((before) => before + 1), 500);
    return () => clearInterval(timer);
  }, []);
  const seconds = Math.floor((Date.now() - at) / 1000);
  return (
    <Typography role="timer">
      {Math.floor(seconds / 60)}:{String(seconds % 60).padStart(2, "0")}
    </Typography>
  );
}

function whyNot(error: unknown): string {
  const name = error instanceof DOMException ? error.name : "";
  if (name === "NotAllowedError")
    return "The browser may not use the camera or the screen. Allow it beside the address, and try again.";
  if (name === "NotFoundError") return "No camera was found. Plug one in, or choose a file.";
  if (name === "NotReadableError") return "Another program has the camera. Close it there, and try again.";
  return error instanceof Error && error.message !== ""
    ? error.message
    : "This browser cannot record. Choose a file.";
}

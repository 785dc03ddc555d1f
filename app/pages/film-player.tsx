/** The film of a page: beside their site until it plays, then as wide as there is room; with what is said in it, to read. */
import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";
import { type Share, shareOf } from "../../core/pages/watching";
import type { PersonalPage, ShownFilm } from "../../server/pages/personal-page";
import type { useTongue } from "../public/tongue";
import { SitePanel } from "./site-panel";
import { tell } from "./tell";

const clock = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

export function FilmPlayer({
  film,
  site,
  text,
  base,
  spoken: { t },
  isPreview,
}: {
  film: ShownFilm;
  site: PersonalPage["site"];
  text: string;
  base: string;
  spoken: ReturnType<typeof useTongue>;
  isPreview: boolean;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const [isReady, setReady] = useState(false);
  const [hasBegun, setBegun] = useState(false);
  const told = useRef<Share | null>(null);
  // Without scripts the player's own button is all there is.
  useEffect(() => setReady(true), []);
  const [poster, source] = isPreview
    ? [`/films/${film.id}/poster.jpg`, `/films/${film.id}/file`]
    : [`${base}/poster.jpg`, `${base}/film`];
  const report = () => {
    const player = video.current;
    if (!player) return;
    if (player.currentTime >= film.to && !player.paused) player.pause();
    const ranges = Array.from(
      { length: player.played.length },
      (_, nth) => [player.played.start(nth), player.played.end(nth)] as const,
    );
    const share = shareOf(ranges, film);
    if (told.current !== null && share <= told.current) return;
    told.current = share;
    if (!isPreview) tell(base, { what: "watched", share });
  };
  const begin = () => {
    const player = video.current;
    if (!player) return;
    if (player.currentTime < film.from || player.currentTime >= film.to) player.currentTime = film.from;
    void player.play();
  };
  const isBeside = site !== null && !hasBegun;
  return (
    <Box component="figure" sx={{ m: 0 }}>
      <Box
        sx={{
          ...{
            position: "relative",
            display: "grid",
            aspectRatio: "16 / 9",
            borderRadius: 1.5,
            overflow: "hidden",
          },
          ...{ border: "1px solid #ddd8ca", bgcolor: "#101820", gap: isBeside ? "4px" : 0 },
          gridTemplateColumns: isBeside ? "minmax(0, 2fr) minmax(0, 1fr)" : "minmax(0, 1fr)",
          gridTemplateRows: "minmax(0, 1fr)",
        }}
      >
        {isBeside && <SitePanel site={site} label={t("page.beside", { site: site.domain })} />}
        <Box
          component="video"
          ref={video}
          controls={!isReady || hasBegun}
          playsInline
          preload="none"
          poster={film.hasPoster ? poster : undefined}
          src={`${source}#t=${film.from},${film.to}`}
          onPlay={() => {
            setBegun(true);
            report();
          }}
          onTimeUpdate={report}
          onEnded={report}
          sx={{ width: 1, height: 1, objectFit: isBeside ? "cover" : "contain", display: "block" }}
        >
          {film.captions && (
            <track
              kind="captions"
              default
              srcLang={film.captions.language}
              src={isPreview ? undefined : `${base}/captions.vtt`}
            />
          )}
        </Box>
        {isReady && !hasBegun && (
          <Box
            component="button"
            type="button"
            aria-label={t("page.play")}
            onClick={begin}
            sx={{
              ...{
                position: "absolute",
                inset: 0,
                m: "auto",
                left: isBeside ? "-33%" : 0,
                top: isBeside ? "24%" : 0,
                width: 80,
                height: 80,
                borderRadius: "50%",
              },
              ...{
                border: 0,
                bgcolor: "var(--accent)",
                color: "#fff",
                cursor: "pointer",
                display: "grid",
                placeItems: "center",
              },
              "&:focus-visible": { outline: "3px solid #fff", outlineOffset: 3 },
              "@media (max-width: 600px)": { width: 60, height: 60 },
            }}
          >
            <svg viewBox="0 0 24 24" width="36" height="36" aria-hidden>
              <path d="M7 4.5v15l12-7.5z" fill="currentColor" />
            </svg>
          </Box>
        )}
        {!hasBegun && (
          <Box
            sx={{
              ...{
                position: "absolute",
                left: 16,
                bottom: 14,
                bgcolor: "var(--accent)",
                color: "#fff",
                borderRadius: 0.75,
                px: 1.2,
                py: 0.4,
              },
              ...{ fontSize: 12.5, fontWeight: 600, pointerEvents: "none" },
            }}
          >
            {clock(film.to - film.from)}
          </Box>
        )}
      </Box>
      <Box
        component="figcaption"
        sx={{
          display: "flex",
          gap: 2,
          justifyContent: "space-between",
          fontSize: 13.5,
          color: "#5b6472",
          mt: 1,
        }}
      >
        <span>{text}</span>
      </Box>
      {film.captions && (
        <Box
          component="details"
          sx={{ mt: 0.5, fontSize: 14, "& summary": { color: "#5b6472", cursor: "pointer", fontSize: 13.5 } }}
        >
          <summary>{t("page.readInstead")}</summary>
          <Box lang={film.captions.language} sx={{ pt: 1, display: "grid", gap: 0.75 }}>
            {film.captions.lines.map((line) => (
              <Box key={line.from}>{line.text}</Box>
            ))}
          </Box>
        </Box>
      )}
    </Box>
  );
}

/** A file that somebody was given, as they look at it: its pages below each other, and the way to save it, which needs no scripts. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Suspense, useEffect, useState } from "react";
import type { Host } from "../../server/meetings/booking-page";
import { lazily } from "../components/lazily";
import { HostMark, OtherLanguages } from "../meetings/public-page";
import { type Tongue, useTongue } from "../public/tongue";
import { Said, Sheet, type Words } from "./sheet";
import { type Reading, useReading } from "./use-reading";

// What reads PDF is large, and is brought where there is one.
const PdfPages = lazily(() => import("./pdf-pages"), "PdfPages");

export interface ShownFile {
  name: string;
  type: string;
  bytes: number;
}

export function FileViewer({
  file,
  base,
  host,
  from,
  until,
  tongue,
}: {
  file: ShownFile;
  /** Where it is. */
  base: string;
  host: Host;
  from: string;
  /** The day on which it ends, in words. */
  until: string | null;
  tongue: Tongue;
}) {
  const { t } = useTongue(tongue);
  const reading = useReading(base);
  return (
    <Box sx={{ minHeight: "100dvh", bgcolor: "background.default" }}>
      <Box
        component="header"
        sx={{
          borderTop: "6px solid",
          borderColor: "tile.deep",
          px: { xs: 2, sm: 4 },
          pt: 2,
          display: "flex",
          gap: 2,
        }}
      >
        <HostMark host={host} height={32} />
        <OtherLanguages of={tongue} />
      </Box>
      <Box component="main">
        {/* It stays in sight: where one is, and how to take it along. */}
        <Box
          sx={{
            ...{
              position: "sticky",
              top: 0,
              zIndex: 1,
              bgcolor: "background.default",
              px: { xs: 2, sm: 4 },
              py: 1.5,
            },
            ...{
              display: "flex",
              alignItems: "center",
              gap: 2,
              borderBottom: "1px solid",
              borderColor: "divider",
            },
          }}
        >
          <Box sx={{ minWidth: 0, flex: 1 }}>
            <Typography
              component="h1"
              variant="letter"
              sx={{ fontSize: 21, lineHeight: 1.25, m: 0 }}
              noWrap
              title={file.name}
            >
              {file.name}
            </Typography>
            <Typography variant="body2" color="textSecondary" noWrap>
              {t("file.from", { name: from })}
              {reading.pages > 1 && ` · ${t("file.page", { page: reading.page, count: reading.pages })}`}
            </Typography>
          </Box>
          <Box
            component="a"
            href={`${base}/file?save`}
            sx={{
              ...{
                border: "1px solid",
                borderColor: "divider",
                borderRadius: 1,
                bgcolor: "background.paper",
                px: 1.75,
                py: 1,
              },
              ...{ fontWeight: 600, textDecoration: "none", color: "text.primary", whiteSpace: "nowrap" },
            }}
          >
            {t("file.save")}
          </Box>
        </Box>
        <Box sx={{ px: { xs: 1, sm: 4 }, py: 2.5 }}>
          <Content file={file} base={base} reading={reading} words={t} />
          <Typography variant="body2" color="textSecondary" sx={{ textAlign: "center", mt: 3 }}>
            {until === null ? t("file.onlyYou") : t("file.onlyYouUntil", { day: until })}
          </Typography>
        </Box>
      </Box>
    </Box>
  );
}

function Content({
  file,
  base,
  reading,
  words: t,
}: {
  file: ShownFile;
  base: string;
  reading: Reading;
  words: Words;
}) {
  // Without scripts nobody waits for what does not come.
  const [isReady, setReady] = useState(false);
  useEffect(() => setReady(true), []);
  if (file.type.startsWith("image/"))
    return (
      <Sheet nth={1} reading={reading}>
        <Box
          component="img"
          src={`${base}/file`}
          alt={file.name}
          // It may have come before the page answers, and then says no more that it has.
          ref={(img: HTMLImageElement | null) => {
            if (img?.complete && img.naturalWidth > 0) reading.setPages(1);
          }}
          onLoad={() => reading.setPages(1)}
          sx={{ display: "block", width: 1 }}
        />
      </Sheet>
    );
  if (file.type !== "application/pdf" || !isReady) return <Said>{t("file.onlySaved")}</Said>;
  return (
    <Suspense fallback={<Said>{t("file.opening")}</Said>}>
      <PdfPages base={base} reading={reading} words={t} />
    </Suspense>
  );
}

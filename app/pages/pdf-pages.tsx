/** The pages of a PDF (ISO 32000), drawn here and nowhere else: those near the window only, so that a long one is no burden. */
import Box from "@mui/material/Box";
import { GlobalWorkerOptions, getDocument, type PDFDocumentProxy } from "pdfjs-dist/legacy/build/pdf.mjs";
import workerUrl from "pdfjs-dist/legacy/build/pdf.worker.min.mjs?url";
import { useEffect, useRef, useState } from "react";
import { Said, Sheet, type Words } from "./sheet";
import type { Reading } from "./use-reading";

GlobalWorkerOptions.workerSrc = workerUrl;
/** Where letterforms and decoders are that a file may name and not bring (server/web/main.ts). */
const PARTS = "/pdf";

/** A page is drawn while it is so far from the window, in CSS pixels. */
const NEAR = "900px";
/** More are for a program of the reader's own. */
const MOST_PAGES = 1_500;
/** More points no browser on a telephone keeps. */
const MOST_POINTS = 12_000_000;

interface Opened {
  pdf: PDFDocumentProxy;
  /** Width by height of its first page, which stands for the others until they are drawn. */
  ratio: number;
}

export function PdfPages({ base, reading, words: t }: { base: string; reading: Reading; words: Words }) {
  const [opened, setOpened] = useState<Opened | "broken" | null>(null);
  const { setPages } = reading;
  useEffect(() => {
    let isHere = true;
    const task = getDocument({
      url: `${base}/file`,
      ...{
        cMapUrl: `${PARTS}/cmaps/`,
        standardFontDataUrl: `${PARTS}/standard_fonts/`,
        wasmUrl: `${PARTS}/wasm/`,
      },
      ...{ iccUrl: `${PARTS}/iccs/`, isEvalSupported: false, enableXfa: false, useSystemFonts: false },
    });
    task.promise
      .then(async (pdf) => {
        const { width, height } = (await pdf.getPage(1)).getViewport({ scale: 1 });
        if (!isHere) return;
        setOpened({ pdf, ratio: width / height });
        setPages(pdf.numPages);
      })
      .catch(() => isHere && setOpened("broken"));
    return () => {
      isHere = false;
      void task.destroy();
    };
  }, [base, setPages]);
  if (opened === null) return <Said>{t("file.opening")}</Said>;
  if (opened === "broken") return <Said>{t("file.cannot")}</Said>;
  const { numPages } = opened.pdf;
  return (
    <>
      {Array.from({ length: Math.min(numPages, MOST_PAGES) }, (_, nth) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: pages are their numbers
        <PdfPage key={nth} of={opened} nth={nth + 1} reading={reading} words={t} />
      ))}
      {numPages > MOST_PAGES && <Said>{t("file.onlySaved")}</Said>}
    </>
  );
}

function PdfPage({
  of: { pdf, ratio },
  nth,
  reading,
  words: t,
}: {
  of: Opened;
  nth: number;
  reading: Reading;
  words: Words;
}) {
  const place = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [isNear, setNear] = useState(false);
  const [own, setOwn] = useState(ratio);
  const [said, setSaid] = useState("");
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const observer = new IntersectionObserver(([entry]) => setNear(entry?.isIntersecting ?? false), {
      rootMargin: NEAR,
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  useEffect(() => {
    if (!isNear) return;
    let stop = () => {};
    let isHere = true;
    void (async () => {
      const page = await pdf.getPage(nth);
      const plain = page.getViewport({ scale: 1 });
      if (!isHere || !canvas.current || !place.current) return;
      setOwn(plain.width / plain.height);
      const wanted = (place.current.clientWidth / plain.width) * Math.min(3, Math.max(1.5, devicePixelRatio));
      const scale = Math.min(wanted, Math.sqrt(MOST_POINTS / (plain.width * plain.height)));
      const viewport = page.getViewport({ scale });
      canvas.current.width = Math.floor(viewport.width);
      canvas.current.height = Math.floor(viewport.height);
      const task = page.render({ canvas: canvas.current, viewport });
      stop = () => task.cancel();
      await task.promise;
      const { items } = await page.getTextContent();
      if (isHere)
        setSaid(
          items
            .map((item) => ("str" in item ? item.str : ""))
            .join(" ")
            .slice(0, 20_000),
        );
    })().catch(() => {});
    return () => {
      isHere = false;
      stop();
    };
  }, [isNear, pdf, nth]);
  return (
    <Sheet nth={nth} ratio={own} reading={reading}>
      <Box ref={place} sx={{ position: "absolute", inset: 0 }}>
        {isNear && (
          <Box component="canvas" ref={canvas} aria-hidden sx={{ width: 1, height: 1, display: "block" }} />
        )}
        {/* What it says, for whoever has it read out. */}
        <Box
          component="section"
          aria-label={t("file.page", { page: nth, count: pdf.numPages })}
          sx={{ position: "absolute", width: 1, height: 1, overflow: "hidden", clipPath: "inset(50%)" }}
        >
          {said}
        </Box>
      </Box>
    </Sheet>
  );
}

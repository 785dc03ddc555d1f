/** A prospect's page: what they see, and what whoever makes it sees before. One column on a telephone; readable without scripts. */
import Box from "@mui/material/Box";
import type { SxProps, Theme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { INK } from "../../core/pages/colours";
import type { PersonalPage } from "../../server/pages/personal-page";
import { HostMark, OtherLanguages } from "../meetings/public-page";
import { type Tongue, useTongue } from "../public/tongue";
import { DayTimes } from "./day-times";
import { FilmPlayer } from "./film-player";

type Filled = PersonalPage["blocks"][number];

/** What stands at the side on a wide screen: to look at, and to read. */
const isSeen = ({ kind }: Filled) => kind === "film" || kind === "picture";

export function PersonalView({
  page,
  tongue,
  base,
  isPreview = false,
  isNarrow = false,
}: {
  page: PersonalPage;
  tongue: Tongue;
  /** Where its film, pictures and files are. */
  base: string;
  /** Nothing of it acts. */
  isPreview?: boolean;
  /** As on a telephone, whatever the screen. */
  isNarrow?: boolean;
}) {
  const spoken = useTongue(tongue);
  const { t, day } = spoken;
  const { accent, paper } = page.colours;
  const zone = page.visitor.zone ?? page.maker.zone;
  const times = page.blocks.find((block) => block.kind === "times");
  const company = page.blocks.find((block) => block.kind === "company");
  const isGreeted = page.blocks.some(({ kind }) => kind === "greeting");
  // Their company's stamp stands at the greeting where there is one.
  const rest = page.blocks.filter(({ kind }) => kind !== "times" && !(kind === "company" && isGreeted));
  const seen = rest.filter(isSeen);
  const read = rest.filter((block) => !isSeen(block));
  const wide = seen.length > 0 && !isNarrow;
  const shown = (blocks: readonly Filled[]) =>
    blocks.map((block) => (
      <Shown
        key={block.id}
        block={block}
        company={block.kind === "greeting" ? (company ?? null) : null}
        page={page}
        base={base}
        spoken={spoken}
        isPreview={isPreview}
      />
    ));
  /** As it stands on a telephone: the greeting first, then what is to be seen. */
  const inOneColumn = [...rest].sort((a, b) => placeOf(a) - placeOf(b));
  const columns: SxProps<Theme> = wide
    ? { gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.68fr) minmax(0, 1fr)" } }
    : { gridTemplateColumns: "minmax(0, 1fr)" };
  return (
    <Box
      sx={{
        ...{
          minHeight: isPreview ? undefined : "100dvh",
          bgcolor: paper,
          color: INK,
          containerType: "inline-size",
        },
        "& a": { color: accent },
      }}
      style={{ "--accent": accent } as React.CSSProperties}
    >
      <Box sx={{ maxWidth: wide ? 1140 : 720, mx: "auto", px: isNarrow ? 2.5 : { xs: 2.5, md: 4 }, py: 2.5 }}>
        <Box component="header" sx={{ display: "flex", alignItems: "center", minHeight: 44, mb: 2 }}>
          <HostMark host={page.host} height={36} />
          {!isPreview && <OtherLanguages of={tongue} />}
        </Box>
        <Box component={isPreview ? "div" : "main"}>
          <Box sx={{ display: "grid", columnGap: 5, rowGap: 3, alignItems: "start", ...columns }}>
            {/* On a telephone the greeting comes first, whatever stands beside it elsewhere. */}
            {wide && <Box sx={{ display: "grid", gap: 3, order: { xs: 2, md: 1 } }}>{shown(seen)}</Box>}
            <Box
              sx={{
                display: wide ? { xs: "contents", md: "grid" } : "grid",
                gap: 2.5,
                order: 2,
                alignContent: "start",
              }}
            >
              {wide ? <Ordered blocks={read}>{shown(read)}</Ordered> : shown(inOneColumn)}
            </Box>
          </Box>
          {times?.kind === "times" && page.booking && (
            <DayTimes
              text={times.text}
              page={page}
              booking={page.booking}
              spoken={spoken}
              base={base}
              zone={zone}
              isPreview={isPreview}
              isNarrow={isNarrow}
            />
          )}
        </Box>
        <Box
          component="footer"
          sx={{
            display: "flex",
            flexWrap: "wrap",
            columnGap: 3,
            rowGap: 0.5,
            justifyContent: "space-between",
            mt: 5,
            fontSize: 12.5,
            color: "#5b6472",
          }}
        >
          <span>{t("page.onlyYou", { day: day(page.endsAt, zone) })}</span>
          <span>
            {t("page.notForYou")}{" "}
            {isPreview ? (
              <u>{t("page.tellUs")}</u>
            ) : (
              <a href={`${page.optOut}${tongue.kept}`}>{t("page.tellUs")}</a>
            )}
          </span>
        </Box>
      </Box>
    </Box>
  );
}

const placeOf = (block: Filled): number => (block.kind === "greeting" ? 1 : isSeen(block) ? 2 : 3);

/** On a telephone the greeting stands above the film, the rest below it. */
function Ordered({ blocks, children }: { blocks: readonly Filled[]; children: React.ReactNode[] }) {
  return children.map((child, nth) => {
    const block = blocks[nth] as Filled;
    return (
      <Box key={block.id} sx={{ order: { xs: placeOf(block), md: 0 }, minWidth: 0 }}>
        {child}
      </Box>
    );
  });
}

function Shown({
  block,
  company,
  page,
  base,
  spoken,
  isPreview,
}: {
  block: Filled;
  /** What stands beside the greeting. */
  company: Filled | null;
  page: PersonalPage;
  base: string;
  spoken: ReturnType<typeof useTongue>;
  isPreview: boolean;
}) {
  const { t } = spoken;
  switch (block.kind) {
    case "greeting":
      return (
        <Box sx={{ display: "flex", gap: 2.5, alignItems: "flex-start", justifyContent: "space-between" }}>
          <Typography
            variant="letter"
            component={isPreview ? "div" : "h1"}
            sx={{
              ...{ fontSize: { xs: 30, md: 36 }, lineHeight: 1.15, m: 0, fontWeight: 500 },
              ...{ overflowWrap: "anywhere", minWidth: 0 },
            }}
          >
            {block.text}
          </Typography>
          {company?.kind === "company" && <Stamp name={company.name} logo={company.logo} />}
        </Box>
      );
    case "words":
      return (
        <Box
          sx={{
            typography: "letter",
            fontSize: 18,
            lineHeight: 1.5,
            overflowWrap: "anywhere",
            "& p": { m: 0, mb: 1.5 },
            "& p:last-child": { mb: 0 },
          }}
          // biome-ignore lint/security/noDangerouslySetInnerHtml: cleaned by sanitize-html where it is made (core/writing/format.ts)
          dangerouslySetInnerHTML={{ __html: block.html }}
        />
      );
    case "company":
      return <Stamp name={block.name} logo={block.logo} />;
    case "film":
      return page.film ? (
        <FilmPlayer
          film={page.film}
          site={block.besideSite ? page.site : null}
          text={block.text}
          base={base}
          spoken={spoken}
          isPreview={isPreview}
        />
      ) : null;
    case "picture":
      return (
        <Box component="figure" sx={{ m: 0 }}>
          <Box
            component="img"
            src={isPreview ? `/files/${block.fileId}` : `${base}/files/${block.fileId}`}
            alt={block.text}
            sx={{ width: 1, borderRadius: 1, display: "block" }}
          />
          {block.text && (
            <Box component="figcaption" sx={{ fontSize: 13.5, color: "#5b6472", mt: 1 }}>
              {block.text}
            </Box>
          )}
        </Box>
      );
    case "files":
      return (
        <Box sx={{ borderTop: "1px solid #ddd8ca" }}>
          {block.files.map((id) => {
            const file = page.files.find((each) => each.id === id);
            return (
              file && (
                <Box
                  key={id}
                  sx={{
                    display: "flex",
                    alignItems: "center",
                    gap: 1.5,
                    py: 1.5,
                    borderBottom: "1px solid #ddd8ca",
                  }}
                >
                  <Box sx={{ minWidth: 0, overflowWrap: "anywhere", flex: 1 }}>
                    <strong>{file.name.replace(/\.[a-z0-9]{2,4}$/i, "")}</strong>{" "}
                    <Box component="span" sx={{ color: "#5b6472", whiteSpace: "nowrap" }}>
                      {kindOf(file)}
                    </Box>
                  </Box>
                  <Box
                    component="a"
                    href={isPreview ? `/files/${id}` : `${base}/files/${id}?look&lang=${page.language}`}
                    target="_blank"
                    rel="noreferrer"
                    sx={quietButton}
                  >
                    {t("page.look")}
                  </Box>
                </Box>
              )
            );
          })}
        </Box>
      );
    case "times":
      return null;
  }
}

const quietButton = {
  ...{ border: "1px solid #cfc9b8", borderRadius: 1, bgcolor: "#fff", px: 1.75, py: 1, whiteSpace: "nowrap" },
  ...{ fontWeight: 600, textDecoration: "none", "&&": { color: INK } },
};

const kindOf = ({ name, bytes }: PersonalPage["files"][number]): string =>
  `${(/\.([a-z0-9]{2,4})$/i.exec(name)?.[1] ?? "").toUpperCase()} ${bytes < 100_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1e6).toFixed(1)} MB`}`.trim();

/** Their company as a stamp: its logo, or its initials, and its name. */
function Stamp({ name, logo }: { name: string; logo: string | null }) {
  const initials = name
    .split(/\s+/)
    .map((word) => word.charAt(0))
    .filter((sign) => /\p{L}|\p{N}/u.test(sign))
    .slice(0, 2)
    .join("")
    .toUpperCase();
  return (
    <Box
      sx={{
        ...{
          width: 106,
          flexShrink: 0,
          bgcolor: "#fff",
          border: "2px dashed #ddd8ca",
          p: 1.1,
          boxShadow: "0 2px 6px #0001",
        },
        ...{ transform: "rotate(2deg)", display: "grid", gap: 0.75, justifyItems: "center" },
      }}
    >
      <Box
        sx={{
          width: 1,
          height: 70,
          bgcolor: "color-mix(in srgb, var(--accent) 12%, #fff)",
          display: "grid",
          placeItems: "center",
        }}
      >
        {logo ? (
          <Box
            component="img"
            src={logo}
            alt=""
            sx={{ maxWidth: 0.84, maxHeight: 54, objectFit: "contain" }}
          />
        ) : (
          <Typography
            variant="letter"
            component="span"
            sx={{ fontSize: 28, fontStyle: "italic", color: "var(--accent)" }}
          >
            {initials}
          </Typography>
        )}
      </Box>
      <Box sx={{ fontSize: 11, lineHeight: 1.2, textAlign: "center", overflowWrap: "anywhere" }}>{name}</Box>
    </Box>
  );
}

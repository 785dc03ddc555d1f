/** A page that strangers see: it carries the sender's company, not this program's name. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useLocation } from "react-router";
import type { Host } from "../../server/meetings/booking-page";
import type { Tongue } from "../public/tongue";

export function PublicPage({
  host,
  tongue,
  heading,
  text,
  children,
}: {
  host: Host;
  tongue: Tongue;
  heading: string;
  text?: React.ReactNode;
  children?: React.ReactNode;
}) {
  return (
    <Box sx={{ minHeight: "100dvh", display: "grid", gridTemplateRows: "auto 1fr" }}>
      <Box
        component="header"
        sx={{
          borderTop: "6px solid",
          borderColor: "tile.deep",
          px: { xs: 2.5, sm: 5 },
          py: 2.5,
          minHeight: 62,
          display: "flex",
          alignItems: "center",
          gap: 2,
        }}
      >
        <HostMark host={host} height={44} />
        <OtherLanguages of={tongue} />
      </Box>
      <Box
        component="main"
        sx={{ px: { xs: 2.5, sm: 5 }, pb: 5, width: 1, maxWidth: 760, mx: "auto", alignSelf: "center" }}
      >
        <Typography variant="h1">{heading}</Typography>
        {text && (
          <Typography color="textSecondary" component="div" sx={{ mt: 1, mb: 3, maxWidth: 560 }}>
            {text}
          </Typography>
        )}
        {children}
      </Box>
    </Box>
  );
}

/** Whose page it is: their picture, or their name. A quiet one stands above a page of their own. */
export function HostMark({ host, height }: { host: Host; height: 32 | 36 | 44 }) {
  if (host.picture)
    return (
      <Box
        component="img"
        src={host.picture}
        alt={host.name}
        sx={{ height, maxWidth: 240, objectFit: "contain", display: "block" }}
      />
    );
  return (
    <Typography
      component="span"
      {...(height === 44 ? { variant: "letter" as const } : {})}
      sx={height === 44 ? { fontSize: 22 } : { fontSize: 17, fontWeight: 600 }}
    >
      {host.name}
    </Typography>
  );
}

/** The same page in a language that the visitor may read better. */
export function OtherLanguages({ of: { others } }: { of: Tongue }) {
  const { search } = useLocation();
  const inLanguage = (language: string) => {
    const params = new URLSearchParams(search);
    params.set("lang", language);
    return `?${params}`;
  };
  return (
    <Box component="nav" aria-label="Language" sx={{ ml: "auto", display: "flex", gap: 1.5 }}>
      {others.map(({ language, name }) => (
        <Box
          component="a"
          key={language}
          href={inLanguage(language)}
          lang={language}
          hrefLang={language}
          sx={{ fontSize: 13, color: "text.secondary" }}
        >
          {name}
        </Box>
      ))}
    </Box>
  );
}

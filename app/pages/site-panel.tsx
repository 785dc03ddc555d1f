/** A prospect's web site as we see it: drawn from what was read there, so that nothing of theirs is run or passed through. */
import Box from "@mui/material/Box";
import type { PersonalPage } from "../../server/pages/personal-page";

export function SitePanel({ site, label }: { site: NonNullable<PersonalPage["site"]>; label: string }) {
  const bar = { height: 8, borderRadius: 4, bgcolor: "#0001" };
  return (
    <Box
      role="img"
      aria-label={label}
      sx={{
        bgcolor: "#fff",
        color: "#1c2430",
        display: "grid",
        gridTemplateRows: "auto 1fr auto",
        gridTemplateColumns: "minmax(0, 1fr)",
        overflow: "hidden",
        fontSize: "clamp(8px, 1.5cqw, 15px)",
      }}
    >
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: "0.5em",
          px: "0.9em",
          py: "0.5em",
          bgcolor: "#e9ebee",
        }}
      >
        {[0, 1, 2].map((nth) => (
          <Box
            key={nth}
            sx={{ width: "0.6em", height: "0.6em", borderRadius: "50%", bgcolor: "#c6cbd2", flexShrink: 0 }}
          />
        ))}
        <Box
          sx={{
            ml: "0.6em",
            flex: 1,
            minWidth: 0,
            bgcolor: "#fff",
            borderRadius: "1em",
            px: "1em",
            color: "#5c6675",
            whiteSpace: "nowrap",
            overflow: "hidden",
            textOverflow: "ellipsis",
          }}
        >
          {site.domain}
        </Box>
      </Box>
      <Box style={{ background: site.colour }} sx={{ color: "#fff", px: "1.6em", py: "1.5em", minHeight: 0 }}>
        {site.logo ? (
          <Box
            component="img"
            src={site.logo}
            alt=""
            sx={{
              height: "2.2em",
              maxWidth: "60%",
              objectFit: "contain",
              bgcolor: "#fff",
              borderRadius: 0.5,
              p: "0.2em",
              mb: "0.6em",
              display: "block",
            }}
          />
        ) : (
          <Box sx={{ fontWeight: 650, mb: "0.5em" }}>{site.name}</Box>
        )}
        <Box
          sx={{
            fontSize: "1.45em",
            fontWeight: 600,
            lineHeight: 1.2,
            display: "-webkit-box",
            WebkitLineClamp: 3,
            WebkitBoxOrient: "vertical",
            overflow: "hidden",
          }}
        >
          {site.line || site.name}
        </Box>
      </Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(3, minmax(0, 1fr))",
          gap: "1em",
          p: "1.4em",
          alignContent: "start",
        }}
      >
        {site.headings.slice(0, 3).map((heading) => (
          <Box key={heading} sx={{ minWidth: 0, display: "grid", gap: "0.5em" }}>
            <Box sx={{ fontWeight: 600, lineHeight: 1.2, overflow: "hidden", textOverflow: "ellipsis" }}>
              {heading}
            </Box>
            <Box sx={bar} />
            <Box sx={{ ...bar, width: 0.7 }} />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

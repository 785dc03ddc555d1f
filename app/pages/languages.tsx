/** The same page in its other languages. */
import Box from "@mui/material/Box";
import type { Tongue } from "../public/tongue";

export function Languages({ of: { others } }: { of: Tongue }) {
  return (
    <Box component="nav" aria-label="Language" sx={{ ml: "auto", display: "flex", gap: 1.5 }}>
      {others.map(({ language, name }) => (
        <Box
          component="a"
          key={language}
          href={`?lang=${language}`}
          lang={language}
          hrefLang={language}
          sx={{ fontSize: 13 }}
        >
          {name}
        </Box>
      ))}
    </Box>
  );
}

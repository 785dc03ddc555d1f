import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link } from "react-router";

/** What connects this desk with other programs. */
const PLACES = [
  ["/connections", "Keys"],
  ["/connections/api", "API"],
  ["/connections/webhooks", "Webhooks"],
  ["/connections/rules", "Rules"],
  ["/connections/crm", "CRM"],
] as const;
type At = (typeof PLACES)[number][0];

export function ConnectionPlaces({ at }: { at: At }) {
  return (
    <Box component="nav" aria-label="Connections" sx={{ display: "flex", gap: 1, mb: 3, flexWrap: "wrap" }}>
      {PLACES.map(([to, label]) => (
        <Button
          key={to}
          component={Link}
          to={to}
          size="small"
          variant={to === at ? "contained" : "outlined"}
          aria-current={to === at ? "page" : undefined}
        >
          {label}
        </Button>
      ))}
    </Box>
  );
}

/** Chooses one of the free times, by day where the visitor is; sends it as `start`. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { useTongue } from "../public/tongue";

type Spoken = ReturnType<typeof useTongue>;

/** Times of the same day where the visitor is. */
function byDay(times: readonly number[], zone: string, day: Spoken["day"]): [string, number[]][] {
  const days = new Map<string, number[]>();
  for (const at of times) {
    const label = day(at, zone);
    days.set(label, [...(days.get(label) ?? []), at]);
  }
  return [...days];
}

export function TimeChoice(props: {
  /** How the page speaks. */
  spoken: Spoken;
  times: readonly number[];
  zone: string;
  daysAhead: number;
  /** Nobody who came by the link in an email. */
  isStranger?: boolean;
  chosen: number | null;
  onChoose: (start: number) => void;
}) {
  const { spoken, times, zone, daysAhead, isStranger = false, chosen, onChoose } = props;
  const { t } = spoken;
  return (
    <Box
      role="radiogroup"
      aria-label={t("times.label")}
      sx={{
        maxHeight: 280,
        overflowY: "auto",
        border: "1px solid",
        borderColor: "divider",
        borderRadius: 1,
        bgcolor: "background.paper",
        p: 1.5,
      }}
    >
      {times.length === 0 && (
        <Typography>
          {t("times.none", { count: daysAhead })} {isStranger ? t("times.later") : t("times.answer")}
        </Typography>
      )}
      {byDay(times, zone, spoken.day).map(([label, ofDay]) => (
        <Box key={label} sx={{ mb: 1.5 }}>
          <Typography variant="label" component="h2" color="textSecondary" sx={{ mb: 0.5 }}>
            {label}
          </Typography>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
            {ofDay.map((at) => (
              <Box
                component="label"
                key={at}
                sx={{
                  position: "relative",
                  border: "1px solid",
                  borderColor: chosen === at ? "tile.main" : "divider",
                  bgcolor: chosen === at ? "tile.main" : "background.paper",
                  color: chosen === at ? "background.paper" : "text.primary",
                  borderRadius: 1,
                  px: 1.2,
                  py: 0.4,
                  cursor: "pointer",
                  "&:focus-within": { outline: "2px solid", outlineColor: "tile.main", outlineOffset: 2 },
                }}
              >
                <input
                  type="radio"
                  name="start"
                  value={at}
                  checked={chosen === at}
                  onChange={() => onChoose(at)}
                  style={{ position: "absolute", opacity: 0 }}
                />
                {spoken.time(at, zone)}
              </Box>
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

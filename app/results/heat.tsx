/** By weekday and hour where they are: how many of what was sent then were answered. Plotly is fetched when it is shown. */
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import { useEffect, useRef } from "react";
import type { Hour } from "../../core/results/hours";
import { shortWeekday } from "../components/words";

export default function Heat({ hours, column }: { hours: readonly Hour[]; column: string }) {
  const place = useRef<HTMLDivElement>(null);
  const { palette, typography } = useTheme();
  useEffect(() => {
    const element = place.current;
    if (!element || hours.length === 0) return;
    let isGone = false;
    const first = Math.min(...hours.map(({ hour }) => hour));
    const last = Math.max(...hours.map(({ hour }) => hour));
    const days = [1, 2, 3, 4, 5, 6, 7].filter(
      (day) => day <= 5 || hours.some(({ weekday }) => weekday === day),
    );
    const at = Array.from({ length: last - first + 1 }, (_, nth) => first + nth);
    const cell = (day: number, hour: number) =>
      hours.find((each) => each.weekday === day && each.hour === hour) ?? null;
    const rows = days.map((day) => at.map((hour) => cell(day, hour)));
    void import("plotly.js-basic-dist-min").then(({ default: Plotly }) => {
      if (isGone) return;
      // The basic build has no heat maps: squares of a scatter, their colour the rate and their size how much stands behind it.
      const cells = rows.flatMap((row, y) =>
        row.flatMap((each, x) => (each ? [{ ...each, x: at[x] as number, y: days[y] as number }] : [])),
      );
      const most = Math.max(...cells.map(({ whole }) => whole));
      void Plotly.react(
        element,
        [
          {
            type: "scatter",
            mode: "markers",
            x: cells.map(({ x }) => `${String(x).padStart(2, "0")}:00`),
            y: cells.map(({ y }) => shortWeekday(y)),
            marker: {
              symbol: "square",
              size: cells.map(({ whole }) => 8 + 20 * Math.sqrt(whole / most)),
              color: cells.map(({ expected }) => expected),
              colorscale: [
                [0, palette.kelp.wash],
                [1, palette.kelp.main],
              ],
              cmin: Math.min(...cells.map(({ expected }) => expected)) * 0.9,
              showscale: true,
              colorbar: { tickformat: ".0%", thickness: 10, outlinewidth: 0 },
            },
            customdata: cells.map(({ part, whole }) => [part, whole]),
            hovertemplate: `%{y} %{x}: %{customdata[0]} of %{customdata[1]}<extra>${column}</extra>`,
          } as Partial<Plotly.PlotData>,
        ],
        {
          height: 44 + 38 * days.length,
          margin: { l: 40, r: 8, t: 8, b: 28 },
          paper_bgcolor: "rgba(0,0,0,0)",
          plot_bgcolor: "rgba(0,0,0,0)",
          font: { family: typography.fontFamily, size: 12, color: palette.text.secondary },
          xaxis: {
            type: "category",
            categoryorder: "array",
            categoryarray: at.map((hour) => `${String(hour).padStart(2, "0")}:00`),
            showgrid: false,
          },
          yaxis: {
            type: "category",
            categoryorder: "array",
            categoryarray: days.map(shortWeekday).reverse(),
            showgrid: false,
          },
        },
        { displayModeBar: false, responsive: true },
      );
    });
    return () => {
      isGone = true;
    };
  }, [hours, column, palette, typography]);
  return (
    <Box
      ref={place}
      role="img"
      aria-label="By weekday and hour where they are: the larger a square, the more was sent; the greener, the more was answered. The table below has the figures."
      sx={{ minHeight: 260, mb: 1 }}
    />
  );
}

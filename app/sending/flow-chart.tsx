/** Emails by day and kind: what went and what is planned. Plotly is fetched where the drawing comes into sight. */
import Box from "@mui/material/Box";
import { useTheme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Outlook } from "../../core/sending/outlook";
import type { SentDay } from "../../server/sending/sent-days";

export function FlowChart({ sent, plan, today }: { sent: SentDay[]; plan: Outlook; today: string }) {
  const place = useRef<HTMLDivElement>(null);
  const { palette, typography } = useTheme();
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    let isGone = false;
    const bars = (
      name: string,
      days: { day: string; count: number }[],
      color: string,
      outlined: boolean,
    ) => ({
      type: "bar" as const,
      name,
      x: days.map(({ day }) => day),
      y: days.map(({ count }) => count),
      marker: {
        color: outlined ? "rgba(0,0,0,0)" : color,
        line: { color, width: outlined ? 1.4 : 0 },
      },
      hovertemplate: `%{y} ${name.toLowerCase()}<extra></extra>`,
    });
    void import("plotly.js-basic-dist-min").then(({ default: Plotly }) => {
      if (isGone) return;
      void Plotly.react(
        element,
        [
          bars(
            "Follow-ups sent",
            sent.map(({ day, followUps }) => ({ day, count: followUps })),
            palette.tile.deep,
            false,
          ),
          bars(
            "First emails sent",
            sent.map(({ day, firsts }) => ({ day, count: firsts })),
            palette.tile.line,
            false,
          ),
          bars(
            "Follow-ups planned",
            plan.perDay.map(({ day, followUps }) => ({ day, count: followUps })),
            palette.tile.deep,
            true,
          ),
          bars(
            "First emails planned",
            plan.perDay.map(({ day, firsts }) => ({ day, count: firsts })),
            palette.tile.line,
            true,
          ),
        ],
        {
          barmode: "stack",
          bargap: 0.25,
          height: 240,
          margin: { l: 34, r: 8, t: 8, b: 28 },
          paper_bgcolor: "rgba(0,0,0,0)",
          plot_bgcolor: "rgba(0,0,0,0)",
          font: { family: typography.fontFamily, size: 12, color: palette.text.secondary },
          legend: { orientation: "h", y: 1.16, x: 0 },
          hovermode: "x unified",
          xaxis: { type: "date", tickformat: "%-d %b", showgrid: false },
          yaxis: { gridcolor: palette.divider, rangemode: "tozero" },
          shapes: [
            {
              type: "line",
              x0: today,
              x1: today,
              yref: "paper",
              y0: 0,
              y1: 1,
              line: { color: palette.ochre.main, width: 1.5 },
            },
          ],
        },
        { displayModeBar: false, responsive: true },
      );
    });
    return () => {
      isGone = true;
    };
  }, [sent, plan, today, palette, typography]);
  const went = sent.reduce((sum, { firsts, followUps }) => sum + firsts + followUps, 0);
  return (
    <Box component="section" aria-label="Sent and planned by day" sx={{ mt: 4 }}>
      <Typography variant="h2">
        {went.toLocaleString("en-GB")} sent in 30 days, {plan.total.toLocaleString("en-GB")} to go in 60
      </Typography>
      <Box
        ref={place}
        role="img"
        aria-label="Emails by day: first emails and follow-ups, sent and planned"
        sx={{ minHeight: 240, mt: 1 }}
      />
    </Box>
  );
}

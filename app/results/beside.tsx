/** How two looks differ, figure by figure, and how sure that is. */
import Typography from "@mui/material/Typography";
import { compareRates } from "../../core/results/beta";
import { percent } from "../../core/results/figure-words";
import type { Figures as Counted, Figure } from "../../core/results/figures";
import { chanceOfSuch } from "../../core/results/many";
import { Figures } from "./tables";

const COMPARED: readonly (readonly [Figure, string, base: Figure])[] = [
  ["answered", "Answered", "reached"],
  ["positive", "Want to talk", "reached"],
  ["booked", "Booked a call", "reached"],
  ["optedOut", "Opted out", "reached"],
  ["bounced", "Came back", "written"],
];
/** Less likely by chance than this is called a difference. */
const CHANCE = 0.05;

export function Differences({
  one,
  other,
  names,
  file,
}: {
  one: Counted;
  other: Counted;
  names: readonly [string, string];
  file: string;
}) {
  const rows = COMPARED.map(([figure, words, base]) => {
    const counts = [
      { part: one[figure], whole: one[base] },
      { part: other[figure], whole: other[base] },
    ] as const;
    const [first, second] = compareRates(counts);
    const isFirst = (first?.isBest ?? 0) >= (second?.isBest ?? 0);
    return {
      figure,
      words,
      counts,
      differs: chanceOfSuch(...counts) <= CHANCE,
      higher: isFirst ? names[0] : names[1],
      sure: Math.round(100 * Math.max(first?.isBest ?? 0, second?.isBest ?? 0)),
    };
  });
  const clear = rows.filter(({ differs }) => differs);
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {clear.length === 0
          ? "Nothing of this differs by more than chance."
          : clear.map(({ words, higher }) => `${words}: more with “${higher}”.`).join(" ")}
      </Typography>
      <Figures
        name="Differences"
        rows={rows}
        keyOf={({ figure }) => figure}
        file={file}
        columns={[
          { title: "Figure", of: ({ words }) => words },
          ...names.map((name, nth) => ({
            title: name,
            of: ({ counts }: (typeof rows)[number]) => {
              const { part, whole } = counts[nth] ?? { part: 0, whole: 0 };
              return `${part} of ${whole.toLocaleString("en-GB")} · ${percent(part, whole)}`;
            },
          })),
          { title: "Likely higher", of: ({ higher, sure }) => `${higher}, in ${Math.min(99, sure)} of 100` },
          { title: "More than chance", of: ({ differs }) => (differs ? "yes" : "no") },
        ]}
      />
    </>
  );
}

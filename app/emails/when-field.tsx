/** When an email leaves: typed in words, with what was understood of them below, or chosen. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";
import type { SaidWhen, WhenContext } from "../../core/sequence/read-when";
import { dayTime, time } from "../components/words";

const CHOICES = ["Now", "Tomorrow morning", "Monday 8:00", "At their best hour", "In 3 months"];

/** `said`: what was typed. `onRead`: told of what is understood; null for nothing. */
export function WhenField(props: {
  said: string;
  context: WhenContext;
  problem: string | undefined;
  onRead: (said: string, read: SaidWhen | null) => void;
}) {
  const { said, context, problem } = props;
  const [read, setRead] = useState<SaidWhen | null>({ when: "now" });
  // What reads dates is fetched with the first word that is typed.
  const understand = async (text: string) =>
    (await import("../../core/sequence/read-when")).readWhen(text, context);
  const say = async (text: string) => props.onRead(text, await understand(text));
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed is read, whatever else changes.
  useEffect(() => {
    let isLatest = true;
    if (said !== "") void understand(said).then((understood) => isLatest && setRead(understood));
    return () => {
      isLatest = false;
    };
  }, [said]);
  return (
    <Box sx={{ display: "grid", gap: 0.75 }}>
      <TextField
        label="It leaves"
        placeholder="now"
        value={said}
        onChange={({ target }) => void say(target.value)}
        error={problem !== undefined || read === null || "isOver" in read}
        helperText={
          whenWords(read, context) ??
          problem ??
          "Say it as “Monday 8:00”, “in 3 months”, “12 June 14:00 my time”."
        }
        sx={{ maxWidth: 420 }}
      />
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
        {CHOICES.map((choice) => (
          <Button key={choice} size="small" type="button" variant="text" onClick={() => void say(choice)}>
            {choice}
          </Button>
        ))}
      </Box>
    </Box>
  );
}

/** "Mon 15 June, 08:00 where they are (07:00 for you)"; null if nothing was understood. */
export function whenWords(read: SaidWhen | null, { own, theirs }: WhenContext): string | null {
  if (read === null) return null;
  if ("isOver" in read) return "That is over. Say a later time.";
  if (read.when === "now") return "Now, in its turn.";
  if (!("at" in read))
    return "Tomorrow or the working day after, at the hour at which they are best reached.";
  const there = theirs ?? own;
  const here = time(read.at, own);
  return theirs === null
    ? `${dayTime(read.at, own)}, your time; theirs is not known.`
    : `${dayTime(read.at, there)} where they are${here === read.time ? "." : ` (${here} for you).`}`;
}

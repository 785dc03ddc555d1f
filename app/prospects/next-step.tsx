/** Where a list goes on: from its cleaning over its duplicates and addresses to the sequence that is written to it. */
import Button from "@mui/material/Button";
import { Link } from "react-router";
import type { ListState } from "../../server/prospects/lists/list-state";
import { count } from "../components/words";

const STATIONS = ["people", "cleaning", "duplicates", "addresses"] as const;
type Station = (typeof STATIONS)[number];

/** The first station after this one where something is to do; at the end, writing. Null for a list of nobody. */
export function nextStep(
  list: { id: number },
  state: ListState,
  at: Station,
): { label: string; to: string } | null {
  if (state.people === 0) return null;
  const { missing, unchecked } = state.verdicts;
  const isBefore = (station: Station) => at === "people" || STATIONS.indexOf(at) < STATIONS.indexOf(station);
  if (isBefore("duplicates") && state.duplicates > 0 && at !== "people")
    return {
      label: `Decide ${count(state.duplicates, "pair")} of duplicates`,
      to: `/lists/${list.id}/duplicates`,
    };
  if (isBefore("addresses") && missing > 0 && state.canFind)
    return {
      label: `Find ${count(missing, "address", "addresses")}`,
      to: `/lists/${list.id}/addresses?show=missing`,
    };
  if (isBefore("addresses") && unchecked > 0 && state.verifying === null)
    return { label: `Check ${count(unchecked, "address", "addresses")}`, to: `/lists/${list.id}/addresses` };
  return {
    label: `Write to ${state.people === 1 ? "this one" : `these ${state.people.toLocaleString("en-GB")}`}`,
    to: `/sequences/new?list=${list.id}`,
  };
}

export function NextStep(props: { list: { id: number }; state: ListState; at: Station; isQuiet?: boolean }) {
  const next = nextStep(props.list, props.state, props.at);
  return next ? (
    <Button variant={props.isQuiet ? "outlined" : "contained"} component={Link} to={next.to}>
      {next.label}
    </Button>
  ) : null;
}

/** "Checking addresses: 40 of 140", while that runs; null otherwise. */
export function runningWords({ verifying, finding }: ListState): string | null {
  const job = verifying ?? finding;
  if (!job) return null;
  const what = verifying ? "checking" : "looking for";
  return job.total > 0
    ? `${what} addresses, ${job.done.toLocaleString("en-GB")} of ${job.total.toLocaleString("en-GB")}`
    : `${what} addresses`;
}

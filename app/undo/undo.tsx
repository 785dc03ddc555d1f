/** What can be taken back: everything that was done lately, with its button. */

import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { webApp } from "../../server/app";
import { type Outcome, refused } from "../../server/errors";
import { type Offer, offeredUndos, undoChanges } from "../../server/undo/undo-change";
import { userContext } from "../accounts/session";
import { Empty, MarginNote, Page } from "../components/page";
import { Row } from "../components/row";
import { dayTime } from "../components/words";
import { readForm } from "../desk/read-form";
import type { Route } from "./+types/undo";
import { UndoButton } from "./undo-line";

export function loader({ context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  return { offers: offeredUndos(webApp(), user), zone: user.zone };
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<number>> {
  const { ids } = await readForm(request);
  const numbers = String(ids ?? "")
    .split(",")
    .map(Number)
    .filter((id) => Number.isInteger(id) && id > 0);
  if (numbers.length === 0) return refused({ form: "There is nothing to take back." });
  return undoChanges(webApp(), context.get(userContext), numbers);
}

/** Taken back ones leave the list when the page is opened again, so that no button moves under the hand. */
export const shouldRevalidate = () => false;

const KIND_WORDS: Record<Offer["kind"], string> = {
  label: "label",
  merge_people: "people",
  merge_companies: "companies",
  block: "block list",
  unblock: "block list",
  list: "list",
  stop: "sequence",
  pause: "pause",
};

export default function UndoPage({ loaderData: { offers, zone } }: Route.ComponentProps) {
  return (
    <Page
      heading={offers.length === 0 ? "Nothing to take back" : "What you can take back"}
      sub={
        offers.length > 0
          ? "Each for thirty days. Only what nobody changed again since goes back."
          : undefined
      }
      margin={
        <MarginNote title="Where else">
          <Typography>
            An import is taken back on its own page, a changed field in the person's story, a version of a
            sequence under its versions. What has been sent stays sent.
          </Typography>
        </MarginNote>
      }
    >
      {offers.map(({ id, kind, what, at }) => (
        <Row key={id} sx={{ alignItems: "center", gap: 2, minHeight: 48, py: 0.5 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography>{kind === "label" ? `Labelled “${what}”` : what}</Typography>
            <Typography variant="caption" color="textSecondary">
              {dayTime(at, zone)} · {KIND_WORDS[kind]}
            </Typography>
          </Box>
          <UndoButton ids={[id]} />
        </Row>
      ))}
      {offers.length === 0 && (
        <Empty
          title="All is as you left it"
          text="Merged people and companies, blocked addresses, pauses, deleted lists and labels can be taken back here."
        />
      )}
    </Page>
  );
}

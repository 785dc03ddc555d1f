/** Who waits before a start and for what, who is left out, and what happens once it is pressed. */

import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { Link } from "react-router";
import { ADDRESS_STATES, ADDRESS_WORDS, mayWriteTo } from "../../../core/prospects/verdict";
import type { Outlook } from "../../../core/sending/outlook";
import type { WhatIf } from "../../../core/sending/what-if";
import { LEFT_OUT, WAITING } from "../../../core/sequence/standing";
import { MarginNote } from "../../components/page";
import { Row } from "../../components/row";
import { useQuestion } from "../../components/use-action";
import { day } from "../../components/words";
import { WORDS } from "./standing-words";
import type { StartData } from "./start-data";

/** When the last of those who are ready gets the first email, by the plan with what is under way already. Blank until it is known. */
function useLastFirst({ id, zone, check: { counts } }: StartData): string {
  const { ask, value } = useQuestion<{ change: WhatIf; outlook: Outlook }>({
    to: "/sending/what-if",
    as: "json",
  });
  const people = counts.ready;
  useEffect(() => {
    if (people > 0) ask({ sequenceId: id, morePeople: people });
  }, [ask, id, people]);
  if (value === null || value.change.morePeople !== people) return "";
  const { lastNewAt, newBeyondPlan } = value.outlook;
  if (newBeyondPlan > 0 && lastNewAt !== null)
    return ` ${newBeyondPlan} of the ${people} get their first email more than two months from now: more mailboxes bring that forward.`;
  return lastNewAt === null ? "" : ` The last of the first emails goes on ${day(lastNewAt, zone)}.`;
}

export function StartMargin({ data, aDay }: { data: StartData; aDay: number }) {
  const { check } = data;
  const { counts } = check;
  const lastWords = useLastFirst(data);
  const waiting = WAITING.reduce((sum, each) => sum + counts[each], 0);
  const left = LEFT_OUT.reduce((sum, each) => sum + counts[each], 0);
  return (
    <>
      <MarginNote title="Who waits, and for what">
        {waiting === 0 && <Typography>Nobody waits.</Typography>}
        {WAITING.filter((each) => counts[each] > 0).map((standing) => (
          <Reason
            key={standing}
            number={counts[standing]}
            words={
              standing === "lacks_field"
                ? `have no ${check.lacking.map(({ field }) => field.replaceAll("_", " ")).join(" or ")}`
                : WORDS[standing].waits
            }
            repair={
              standing === "address_not_good" || standing === "no_address"
                ? {
                    to: `/lists/${data.listId}/addresses`,
                    label: "See them",
                  }
                : {
                    to: `?standing=${standing}`,
                    label:
                      standing === "lacks_field"
                        ? "Fill in"
                        : standing === "line_unread"
                          ? "Read them"
                          : "See them",
                  }
            }
          />
        ))}
      </MarginNote>
      {left > 0 && (
        <MarginNote title="Left out">
          {LEFT_OUT.filter((each) => counts[each] > 0).map((standing) => (
            <Reason
              key={standing}
              number={counts[standing]}
              words={WORDS[standing].waits}
              repair={{ to: `?standing=${standing}`, label: "See them" }}
            />
          ))}
        </MarginNote>
      )}
      {counts.address_not_good > 0 && (
        <MarginNote title="Better addresses">
          <Typography>
            {notGood(data)} An address is good once its owner has written or a server has confirmed it;
            likely, if nothing speaks against it; doubtful, if something does. To which of them this writes is
            said under <Link to={`/sequences/${data.id}?show=settings`}>Who, when, from where</Link>.
          </Typography>
        </MarginNote>
      )}
      <MarginNote title="When you start">
        <Typography>
          {counts.ready === 0
            ? "Nothing leaves until somebody stops waiting."
            : aDay === 0
              ? "No mailbox sends now: nothing leaves until one does."
              : `The first leave in the coming hours between ${data.hours.opens} and ${data.hours.closes} where they are.${lastWords}`}
        </Typography>
        {waiting > 0 && (
          <Typography sx={{ mt: 1 }}>
            {waiting === 1 ? "The one who waits starts" : `The ${waiting} who wait start`} too, and{" "}
            {waiting === 1 ? "goes" : "go"} by {waiting === 1 ? "itself" : "themselves"} once the reason is
            gone.
          </Typography>
        )}
        {data.approval !== "none" && (
          <Typography sx={{ mt: 1 }}>Emails wait on Today for your yes, unless you give it here.</Typography>
        )}
      </MarginNote>
    </>
  );
}

/** "4 are likely, 2 doubtful." */
const notGood = ({ addresses, writesTo }: StartData): string =>
  `${ADDRESS_STATES.filter(
    (state) => state !== "missing" && addresses[state] > 0 && !mayWriteTo(writesTo, state),
  )
    .map(
      (state, index) =>
        `${addresses[state]} ${index > 0 ? "" : addresses[state] === 1 ? "is " : "are "}${ADDRESS_WORDS[state]}`,
    )
    .join(", ")}.`;

function Reason(props: { number: number; words: string; repair: { to: string; label: string } }) {
  return (
    <Row
      columns="38px minmax(0, 1fr) auto"
      sx={{ gap: 1, py: 1, "&:first-of-type": { borderTop: 0, pt: 0 } }}
    >
      <Typography sx={{ fontWeight: 700, textAlign: "right" }}>{props.number}</Typography>
      <Typography>{props.words}</Typography>
      <Link to={props.repair.to}>{props.repair.label}</Link>
    </Row>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { WaitReason } from "../../core/sending/reasons";
import type { sequencePeople, standingsOf } from "../../server/sequences/sequence-people";
import { MarginNote } from "../components/page";
import { SHORT_WAITS, stopWords } from "../components/words";

/** What the page of a sequence's people shows. */
export interface PeopleData {
  steps: { id: string; name: string; kind: string }[];
  /** Where somebody can stand: a step, or a fork that waits for what they do. */
  places: { id: string; name: string }[];
  people: ReturnType<typeof sequencePeople>;
  standings: ReturnType<typeof standingsOf>;
  filter: { standing: string; placeId: string | null; search: string };
  now: number;
  zone: string;
}

export function PeopleMargin(props: PeopleData & { set: (name: string, value: string | null) => void }) {
  const { standings, places, filter, set } = props;
  return (
    <>
      <MarginNote title="Under way, by what they wait for">
        {standings.states
          .filter(({ state }) => state === "active")
          .map(({ reason, count: number }) => (
            <Filter
              key={reason ?? ""}
              number={number}
              words={reason === null ? "being planned" : SHORT_WAITS[reason as WaitReason]}
              pressed={filter.standing === `active:${reason ?? ""}`}
              onPress={() =>
                set("standing", filter.standing === `active:${reason}` ? null : `active:${reason ?? ""}`)
              }
            />
          ))}
      </MarginNote>
      <MarginNote title="By what they stand before">
        {places
          .map((place) => ({
            ...place,
            number: standings.places.find(({ placeId }) => placeId === place.id)?.count ?? 0,
          }))
          .filter(({ number }) => number > 0)
          .map(({ id, name, number }) => (
            <Filter
              key={id}
              number={number}
              words={name}
              pressed={filter.placeId === id}
              onPress={() => set("step", filter.placeId === id ? null : id)}
            />
          ))}
      </MarginNote>
      <MarginNote title="Stopped because">
        {standings.states
          .filter(({ state }) => state === "stopped")
          .map(({ reason, count: number }) => (
            <Filter
              key={reason ?? ""}
              number={number}
              words={stopWords(reason as Parameters<typeof stopWords>[0])}
              pressed={filter.standing === `stopped:${reason ?? ""}`}
              onPress={() =>
                set("standing", filter.standing === `stopped:${reason}` ? null : `stopped:${reason ?? ""}`)
              }
            />
          ))}
      </MarginNote>
    </>
  );
}

function Filter(props: { number: number; words: string; pressed: boolean; onPress: () => void }) {
  return (
    <Button
      variant="text"
      size="small"
      aria-pressed={props.pressed}
      onClick={props.onPress}
      sx={{
        display: "flex",
        width: "100%",
        justifyContent: "flex-start",
        gap: 1,
        py: 0.25,
        px: 0.5,
        fontWeight: props.pressed ? 700 : 500,
        color: "text.primary",
        whiteSpace: "normal",
        textAlign: "left",
      }}
    >
      <Box component="span" sx={{ minWidth: 34, textAlign: "right", fontWeight: 700 }}>
        {props.number}
      </Box>
      {props.words}
    </Button>
  );
}

/**
 * What follows from what happened to a prospect: the only place that says so. The server applies the list
 * (server/consequences/apply.ts); a screen can show the same list before a press.
 */
import type { BounceKind, EventKind } from "../events.ts";
import type { Stage } from "../prospects/stages.ts";
import type { StopReason, WaitReason } from "../sending/reasons.ts";
import type { SequenceSettings } from "../sequence/settings.ts";
import type { LabelEffects } from "./label-effects.ts";

export type Happening =
  /** An email of a sequence, or the rep's own answer, has left. */
  | { kind: "sent" }
  | { kind: "answered" }
  /** The server refused this email for good, and it is neither the address's nor the mailbox's fault. */
  | { kind: "refused"; words: string }
  | { kind: "replied" }
  /** Somebody of the same company answers the same subject: the rep says whether it is an answer. */
  | { kind: "likely_reply" }
  /** `day`: the day of return that they name, "YYYY-MM-DD". */
  | { kind: "away"; because: string; day?: string | null }
  /** A server wants a person to confirm that a person wrote. */
  | { kind: "challenged"; because: string }
  /** The rep, or a sure reading, says what a reply means. `day`: when they are back, or want to be asked again. */
  | { kind: "labelled"; label: string; name: string; effects: LabelEffects; day: string | null }
  | { kind: "left_company"; because: string }
  /** `policy`: refused for the sender's sake. `again`: the email before it came back for now, too. */
  | { kind: "bounced"; hard: boolean; words: string; policy?: boolean; again?: boolean }
  | { kind: "complained"; because: string }
  | { kind: "opted_out" }
  | { kind: "booked"; at: number }
  /** As far as mail programs let it be seen. */
  | { kind: "opened" }
  | { kind: "clicked"; url: string }
  /** On the page that is theirs (core/pages), and with what was sent as a link: `share` of the film in hundredths, a file by its name. */
  | { kind: "page_visited" | "booking_begun" }
  | { kind: "film_watched"; share: number }
  | { kind: "file_opened" | "file_saved"; name: string }
  /** They accepted an invitation, as the rep saw. */
  | { kind: "accepted" }
  /** The rep reached them by phone. */
  | { kind: "talked" }
  /** The rep moved them to a stage. */
  | { kind: "stage_set"; stage: Stage }
  /** A field has the value at which their sequence stops. */
  | { kind: "field_met" }
  /** The rep noted that the call took place, or that they did not come. */
  | { kind: "meeting_held" | "meeting_missed" }
  | { kind: "booking_cancelled"; at: number }
  | { kind: "booking_moved"; at: number }
  /** The rep puts them on the block list; `blocked`: an address or a domain of theirs is on it. */
  | { kind: "blocked_by_rep" }
  /** An address was blocked by mistake, and its email goes again. */
  | { kind: "unblocked" }
  /** Another entry was one and the same person: what it had come to, and what since the start would have stopped them. */
  | { kind: "became_one"; stage: Stage; ended: "replied" | "booked" | null }
  /** The sequence that was deleted under them is back. */
  | { kind: "restored" }
  | { kind: "blocked" | "stopped_by_rep" | "merged" | "erased" };

export type Consequence =
  /** An entry in the record of events, named like the happening. */
  | { do: "record"; kind: EventKind; detail: string | null; bounce: BounceKind | null }
  /** Ends everything planned, on every channel. `ifAddress`: only if they still have the address it is about. */
  | { do: "stop"; reason: StopReason; detail: string | null; ifAddress: boolean }
  | { do: "hold"; reason: WaitReason }
  /** Nothing goes to the person until somebody lifts it. */
  | { do: "hold_person"; reason: "came_back_twice" | "challenged"; detail: string }
  /** Nothing goes to them before the day after this one. */
  | { do: "leave_until"; day: string }
  /**
   * What was stopped for this goes on where it stood; `again`: with the step that it stood at, at once; `awaited`: since
   * its path asks for just this.
   */
  | { do: "resume"; from: StopReason; again: boolean; awaited?: true }
  | { do: "release_company" }
  /** Moves to a stage, also back. */
  | { do: "set_stage"; to: Stage }
  | { do: "add_to_list"; listId: number }
  /** A reminder for the rep, on a day or now. */
  | { do: "remind"; kind: "reminder" | "come_back"; text: string; day: string | null }
  /** Nothing goes to them for so many working days. */
  | { do: "leave_alone"; days: number }
  /** The other people of their company wait until somebody lifts it; a free-mail domain is no company. */
  | { do: "hold_company" }
  /** Something for the rep to do. */
  | { do: "errand"; text: string }
  /** Moves forward to a stage, never back. */
  | { do: "raise"; to: Stage }
  /** Nothing is ever sent there again: the address that the email went to, or every address of the person. */
  | { do: "block"; whose: "recipient" | "person"; reason: "opted_out" | "bounced" | "added_by_rep" };

const record = (
  kind: EventKind,
  detail: string | null = null,
  bounce: BounceKind | null = null,
): Consequence => ({ do: "record", kind, detail, bounce });
const resume = (from: StopReason, more: { again?: true; awaited?: true } = {}): Consequence => ({
  do: "resume",
  from,
  again: false,
  ...more,
});
const stop = (reason: StopReason, detail: string | null = null, ifAddress = false): Consequence => ({
  do: "stop",
  reason,
  detail,
  ifAddress,
});

/** What a sequence says about stops; where somebody is on none, nothing of it matters. */
export interface StopSettings
  extends Pick<SequenceSettings, "stops" | "holdsCompany" | "thenErrand" | "thenOn" | "awayDays"> {
  /** Whether its path asks for a label where they stand (core/sequence/awaited-labels.ts). */
  awaits: (label: string) => boolean;
}

const NO_SEQUENCE: StopSettings = {
  stops: { reply: true, labels: null, meeting: true, click: false, open: false, stages: [], field: null },
  holdsCompany: false,
  thenErrand: "",
  thenOn: [],
  awayDays: 0,
  awaits: () => false,
};

/**
 * In the order in which they are to be applied. `settings` are those of the sequence they are on. An opt-out, a complaint
 * and a hard bounce cannot be set otherwise.
 */
export function consequences(happening: Happening, settings: StopSettings = NO_SEQUENCE): Consequence[] {
  const { stops } = settings;
  const errand: Consequence[] =
    settings.thenErrand === "" ? [] : [{ do: "errand", text: settings.thenErrand }];
  const companyHold: Consequence[] = settings.holdsCompany ? [{ do: "hold_company" }] : [];
  switch (happening.kind) {
    case "sent":
      return [record("email_sent"), { do: "raise", to: "contacted" }];
    case "answered":
      return [record("answered")];
    case "refused":
      return [record("email_refused", happening.words), stop("refused", happening.words)];
    case "replied":
      return [
        record("replied"),
        ...(stops.reply ? [stop("replied")] : []),
        ...companyHold,
        { do: "raise", to: "in_conversation" },
      ];
    case "opened":
      return [record("opened"), ...(stops.open ? [stop("opened")] : [])];
    case "clicked":
      return [record("clicked", happening.url), ...(stops.click ? [stop("clicked")] : [])];
    case "accepted":
      return [record("accepted")];
    case "page_visited":
    case "booking_begun":
      return [record(happening.kind)];
    case "film_watched":
      return [record("film_watched", String(happening.share))];
    case "file_opened":
    case "file_saved":
      return [record(happening.kind, happening.name)];
    case "talked":
      return [{ do: "raise", to: "in_conversation" }];
    case "stage_set":
      return [
        { do: "set_stage", to: happening.stage },
        ...(stops.stages.some((stage) => stage === happening.stage) ? [stop("stage", happening.stage)] : []),
      ];
    case "field_met":
      return [stop("field")];
    case "likely_reply":
      return [record("likely_reply"), { do: "hold", reason: "likely_reply" }];
    case "away":
      return [
        record("away", happening.because),
        ...(happening.day
          ? [{ do: "leave_until" as const, day: happening.day }]
          : settings.awayDays > 0
            ? [{ do: "leave_alone" as const, days: settings.awayDays }]
            : []),
      ];
    case "challenged":
      return [
        record("challenged", happening.because),
        { do: "hold_person", reason: "challenged", detail: happening.because },
      ];
    case "labelled":
      return labelConsequences(happening, settings, errand);
    case "left_company":
      return [record("left_company", happening.because), stop("left_company", happening.because)];
    case "bounced": {
      const { hard, policy, again, words } = happening;
      // Of a policy the mailbox's health hears (server/sending/mailboxes/rest.ts), not the prospect.
      const noted = record("bounced", words, hard ? "hard" : policy ? "policy" : "soft");
      if (hard)
        return [noted, { do: "block", whose: "recipient", reason: "bounced" }, stop("bounced", words, true)];
      return again && !policy
        ? [noted, { do: "hold_person", reason: "came_back_twice", detail: words }]
        : [noted];
    }
    case "complained":
      return [
        record("complained", happening.because),
        stop("complained", happening.because),
        { do: "block", whose: "recipient", reason: "opted_out" },
        { do: "block", whose: "person", reason: "opted_out" },
      ];
    case "opted_out":
      return [stop("opted_out"), { do: "block", whose: "person", reason: "opted_out" }, record("opted_out")];
    case "booked":
      return [
        record("booked", String(happening.at)),
        ...errand,
        ...(stops.meeting ? [stop("booked")] : []),
        ...companyHold,
        { do: "raise", to: "meeting_booked" },
      ];
    case "meeting_held":
    case "meeting_missed":
      return [record(happening.kind)];
    case "booking_cancelled":
    case "booking_moved":
      return [record(happening.kind, String(happening.at))];
    case "blocked_by_rep":
      return [stop("blocked"), { do: "block", whose: "person", reason: "added_by_rep" }];
    case "unblocked":
      return [record("unblocked"), resume("bounced", { again: true })];
    case "became_one":
      return [...(happening.ended ? [stop(happening.ended)] : []), { do: "raise", to: happening.stage }];
    case "restored":
      return [resume("stopped_by_rep")];
    case "blocked":
    case "stopped_by_rep":
    case "merged":
    case "erased":
      return [stop(happening.kind)];
  }
}

/**
 * What a label ends is the sequence's to say, and one that its path waits for ends nothing. Where the sequence holds
 * nobody for a reply, neither does a label.
 */
function labelConsequences(
  { label, name, effects, day }: Extract<Happening, { kind: "labelled" }>,
  settings: StopSettings,
  errand: Consequence[],
): Consequence[] {
  const { stage, stops, resumes, colleagues, task, listId, blocks } = effects;
  const isAwaited = !blocks && settings.awaits(label);
  const { reply, labels } = settings.stops;
  const ends = stops && !isAwaited && (reply || labels === null || labels.includes(label));
  return [
    record("labelled", name),
    ...(blocks
      ? [
          stop("opted_out"),
          { do: "block" as const, whose: "person" as const, reason: "opted_out" as const },
          record("opted_out"),
        ]
      : ends
        ? [stop("replied")]
        : []),
    ...(isAwaited ? [resume("replied", { awaited: true })] : resumes ? [resume("replied")] : []),
    ...(settings.thenOn.includes(label) && !blocks ? errand : []),
    ...(resumes && day ? [{ do: "leave_until" as const, day }] : []),
    ...(colleagues === "hold" && settings.holdsCompany ? [{ do: "hold_company" as const }] : []),
    ...(colleagues === "release" ? [{ do: "release_company" as const }] : []),
    ...(stage ? [{ do: "set_stage" as const, to: stage }] : []),
    ...(listId !== null ? [{ do: "add_to_list" as const, listId }] : []),
    ...(task !== "" ? [{ do: "remind" as const, kind: "reminder" as const, text: task, day: null }] : []),
    ...(label === "not_now" && day
      ? [
          {
            do: "remind" as const,
            kind: "come_back" as const,
            text: "They asked to be written to again.",
            day,
          },
        ]
      : []),
  ];
}

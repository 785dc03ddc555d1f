/** The open letter: what was said before, what it means, and what is done about it. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Desk } from "../../server/desk/reading-desk";
import { KeyButton } from "../components/key";
import { AnswerForm } from "./answer-form";
import { Conversation } from "./conversation";
import { LabelBar } from "./label-bar";
import { isAnswerable, isLabelled } from "./label-words";
import { LikelyAnswer } from "./likely-answer";
import { AwayPanel, ComeBackPanel, NamedPanel } from "./next-panel";
import type { ReplyDesk } from "./use-reply-desk";

type Open = NonNullable<Desk["open"]>;

export function OpenLetter(props: {
  desk: Desk;
  open: Open;
  story: NonNullable<Desk["story"]>;
  at: ReplyDesk;
}) {
  const { desk, open, story } = props;
  const { labels, notYours, zone } = desk;
  const { answer, names, usable, ask, turn, isBusy, setLabel, setLooked } = props.at;
  const meaning = open.label?.code ?? (open.reading?.sure ? open.reading.label : null);
  return (
    <Box sx={{ minWidth: 0, display: "flex", flexDirection: "column" }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 1.25 }}>
        <Typography sx={{ flex: 1, minWidth: 0 }}>
          <Box
            component={Link}
            to={`/prospects/${open.prospectId}`}
            sx={{ color: "inherit", fontWeight: 650, textDecoration: "none" }}
          >
            {open.name}
          </Box>{" "}
          <Box component="span" sx={{ color: "text.secondary" }}>
            {[open.title, open.company].filter(Boolean).join(", ")}
          </Box>
        </Typography>
        <KeyButton size="small" disabled={notYours !== null} onClick={turn} keys="E">
          {open.readAt === null ? "Mark as read" : "To read again"}
        </KeyButton>
      </Box>
      {notYours && (
        <Alert severity="info" sx={{ mb: 2 }}>
          {notYours} You can read it, and mark an opt-out.
        </Alert>
      )}
      {open.certainty === "likely" && notYours === null && <LikelyAnswer key={open.id} reply={open} />}
      <Conversation
        items={story.conversation}
        zone={zone}
        from={`r${open.id}`}
        marks={open.reading?.words ?? []}
        onDrop={(touchId) => ask("drop-later", { touchId: String(touchId) })}
      />
      {open.kind === "challenge" && notYours === null && (
        <Alert
          severity="warning"
          sx={{ mt: 2 }}
          action={
            <Button size="small" onClick={() => ask("challenge-done")}>
              It is confirmed
            </Button>
          }
        >
          Their server wants a person to confirm that a person wrote. Follow what it asks in your own mail
          program; their sequence waits until then.
        </Alert>
      )}
      {isLabelled(open.kind) && (
        <LabelBar
          reply={open}
          labels={labels}
          usable={usable}
          names={names}
          busy={isBusy}
          afterLabel={desk.afterLabel}
          onLabel={setLabel}
          onLook={setLooked}
          onAfter={(afterLabel) => ask("after-label", { afterLabel })}
          foot={
            <>
              {isAnswerable(open.kind) && !open.blocked && notYours === null && (
                <Button onClick={() => answer.current?.focus()}>Answer</Button>
              )}
              <Button onClick={props.at.next}>Next letter</Button>
            </>
          }
        />
      )}
      {meaning === "not_now" && notYours === null && (
        <ComeBackPanel key={`b${open.id}`} reply={open} suggestion={desk.suggestion} />
      )}
      {meaning === "away" && notYours === null && <AwayPanel key={`a${open.id}`} reply={open} />}
      {notYours === null && (meaning === "wrong_person" || (meaning === "away" && open.reading?.person)) && (
        <NamedPanel
          key={`n${open.id}`}
          reply={open}
          suggestion={desk.suggestion}
          isAway={meaning === "away"}
        />
      )}
      {open.blocked && (
        <Typography color="textSecondary" sx={{ mt: 2 }}>
          {open.answerTo} is on the {/* The domain finds either entry: its own, or the address's. */}
          <Link to={`/block-list?q=${encodeURIComponent(open.answerTo.split("@")[1] ?? "")}`}>
            block list
          </Link>
          : to answer, take it off there first.
        </Typography>
      )}
      {isAnswerable(open.kind) && !open.blocked && notYours === null && (
        <AnswerForm
          key={open.id}
          replyId={open.id}
          mailbox={open.mailbox}
          handle={answer}
          name={open.name}
          answerTo={open.answerTo}
          isElsewhere={open.answerTo !== story.prospect.email}
          draft={desk.draft}
          pieces={desk.pieces}
          suggested={desk.suggestion.answer}
          nudge={desk.suggestion.nudge}
          link={desk.offer.link}
          times={desk.offer.times}
        />
      )}
    </Box>
  );
}

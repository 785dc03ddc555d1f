/** What a user, and for a manager the team, sets: one page, opened from the user's menu. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link, useSearchParams } from "react-router";
import { holidayCountries } from "../../../core/holidays";
import { readCompany, saveCompany } from "../../../server/accounts/company";
import { changePassword } from "../../../server/accounts/password";
import { endOtherSessions, endSession, listSessions } from "../../../server/accounts/session";
import { readSettings, saveProfile, saveSettings } from "../../../server/accounts/settings";
import { addMember, listTeam, removeMember, resetMember, setRole } from "../../../server/accounts/team";
import { readTogether, webApp } from "../../../server/app";
import { archiveJob, askArchive, madeArchive } from "../../../server/archive/make-archive";
import { readAssistant, saveAssistant } from "../../../server/assistant/ask";
import { done, type Outcome, whenDone } from "../../../server/errors";
import {
  bookingPages,
  pageHosts,
  removeBookingPage,
  saveBookingPage,
} from "../../../server/meetings/booking-pages";
import { feedLink, touchesLink } from "../../../server/meetings/calendar-file";
import { addCalendar, calendarsOf, removeCalendar } from "../../../server/meetings/calendars";
import { canConfirm } from "../../../server/meetings/host-mailbox";
import { saveNoticeSettings } from "../../../server/notices/own-notices";
import { allLabels, listChoices, removeLabel, saveLabel } from "../../../server/replies/labels";
import { askLearning, decideLearning, learning } from "../../../server/replies/learn";
import { readSendingSettings, saveSendingSettings } from "../../../server/sending/rules";
import {
  accountStandings,
  connectAccount,
  removeAccount,
  setAccountPaused,
} from "../../../server/social/accounts";
import { health } from "../../../server/web/health";
import { callerOf, tokenOf, userContext } from "../../accounts/session";
import { lazily } from "../../components/lazily";
import { MarginNote, Page } from "../../components/page";
import type { PageHandle } from "../../desk/live";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { AboutYou, Sessions } from "../about-you";
import { ArchivePart } from "../archive-part";
import { AssistantSettings } from "../assistant-settings";
import { Calendars } from "../calendars";
import { CompanySettings } from "../company-settings";
import { Hosting } from "../hosting";
import { LearningSettings } from "../learning-settings";
import { type Said, SETTINGS_MARGINS } from "../parts";
import { SendingRules, sendingForm } from "../sending-rules";
import { SocialAccounts } from "../social-accounts";
import { Team } from "../team";
import type { Route } from "./+types/settings";

// Their forms know their schemas, which the other places need not bring. They stand in no Suspense, so that the page answers
// nobody before its forms do.
const BookingPageSettings = lazily(() => import("../booking-settings"), "BookingPageSettings");
const LabelSettings = lazily(() => import("../label-settings"), "LabelSettings");
const NoticeSettings = lazily(() => import("../notice-settings"), "NoticeSettings");

export const PLACES = [
  ["you", "You"],
  ["booking", "Booking and calendars"],
  ["labels", "Labels"],
  ["notices", "Notices"],
  ["sending", "Sending and accounts"],
  ["company", "Company"],
  ["team", "Team and health"],
] as const;
export type Place = (typeof PLACES)[number][0];

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export async function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const asked = new URL(request.url).searchParams.get("show");
  const place: Place = PLACES.find(([name]) => name === asked)?.[0] ?? "you";
  const isManager = user.role === "manager";
  return {
    place,
    user,
    isManager,
    now: Date.now(),
    notices: readSettings(app.db, user.id).notices,
    pages: place === "booking" ? bookingPages(app, user) : [],
    calendars: place === "booking" ? calendarsOf(app, user.id) : [],
    feed: place === "booking" ? feedLink(app, user.id) : "",
    touches: place === "booking" ? touchesLink(app, user.id) : "",
    mates: place === "booking" ? pageHosts(app, user.id) : [],
    canConfirm: canConfirm(app, user),
    colleaguesBook: readSettings(app.db, user.id).colleaguesBook,
    labels: allLabels(app.db),
    learning: place === "labels" ? readTogether(app, () => learning(app)) : null,
    lists: place === "labels" ? listChoices(app, user.id) : [],
    sessions: place === "you" ? listSessions(app, user.id, (await tokenOf(request)) ?? "") : [],
    company: readCompany(app.db),
    assistant: readAssistant(app),
    sending: readSendingSettings(app.db),
    accounts: place === "sending" ? accountStandings(app, user) : [],
    countries: place === "company" ? holidayCountries() : [],
    team: place === "team" ? listTeam(app) : [],
    health: place === "team" ? health(app) : null,
    archive: place === "team" && isManager ? { made: madeArchive(app), job: archiveJob(app) } : null,
    bookingUrl: `${app.config.url}/book`,
  };
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Said>> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const token = (await tokenOf(request)) ?? "";
  const said = (outcome: Outcome<unknown>, words: string) => whenDone(outcome, (): Said => ({ words }));
  const linkOf = (outcome: Outcome<string>) =>
    whenDone(outcome, (token): Said => ({ link: `${app.config.url}/welcome/${token}` }));
  switch (form.intent) {
    case "profile":
      return said(saveProfile(app, user.id, form), "Saved.");
    case "notices":
      return said(saveNoticeSettings(app, user.id, readText(form.form)), "Saved.");
    case "password":
      return said(
        await changePassword(app, user, token, form, await callerOf(request)),
        "Your password is changed; every other session has ended.",
      );
    case "end-session":
      endSession(app, user.id, Number(form.id));
      return done({ words: "That session has ended." });
    case "end-others":
      endOtherSessions(app, user.id, token);
      return done({ words: "Every other session has ended." });
    case "booking":
      return said(saveBookingPage(app, user, Number(form.id) || null, readText(form.form)), "Saved.");
    case "hosting":
      return said(saveSettings(app, user.id, { colleaguesBook: form.colleaguesBook === "on" }), "Saved.");
    case "remove-page":
      return said(
        removeBookingPage(app, user, Number(form.id)),
        "The page is gone; calls booked on it stay.",
      );
    case "add-calendar":
      return said(await addCalendar(app, user.id, form), "It is read, and its events are no time to book.");
    case "remove-calendar":
      return said(removeCalendar(app, user.id, Number(form.id)), "Taken off.");
    case "label-save":
    case "label-remove":
    case "learn":
    case "learn-use":
    case "learn-drop":
    case "learn-forget":
      if (form.intent === "label-save")
        return said(saveLabel(app, user.id, Number(form.id) || null, readText(form.form)), "Saved.");
      if (form.intent === "label-remove")
        return said(removeLabel(app, user.id, Number(form.id)), "The label is gone.");
      if (form.intent === "learn") return said(askLearning(app, user.id), "It is learning.");
      return said(
        decideLearning(
          app,
          user.id,
          form.intent === "learn-use" ? "use" : form.intent === "learn-drop" ? "drop" : "forget",
        ),
        "Done.",
      );
    case "company":
    case "assistant":
      return said(
        form.intent === "company" ? saveCompany(app, user.id, form) : saveAssistant(app, user.id, form),
        "Saved.",
      );
    case "sending": {
      return said(saveSendingSettings(app, user.id, sendingForm(form)), "Saved.");
    }
    case "connect-account":
      return said(await connectAccount(app, user, form), "Connected.");
    case "pause-account":
    case "wake-account":
      return whenDone(
        setAccountPaused(app, user, Number(form.id), form.intent === "pause-account"),
        (undo): Said => ({ words: "Saved.", undo }),
      );
    case "remove-account":
      return said(removeAccount(app, user, Number(form.id)), "Disconnected: its touches are yours again.");
    case "make-archive":
      return said(askArchive(app, user.id), "It is being made.");
    case "add-member":
      return linkOf(addMember(app, user, form));
    case "reset-member":
      return linkOf(resetMember(app, user, Number(form.id)));
    case "role":
      return said(setRole(app, user, Number(form.id), form.role), "Saved.");
    case "remove-member":
      return said(removeMember(app, user, Number(form.id)), "They are removed, and signed out.");
    default:
      return unknownIntent(form.intent);
  }
}

const HEADINGS: Record<Place, string> = {
  you: "You, and how you sign in",
  booking: "How calls are booked, and when you are busy",
  labels: "What a label does, and what the sorting learns",
  notices: "What you are told, and when it is quiet",
  sending: "What holds for all sending, and the accounts that send",
  company: "What prospects see, and what holds for everybody",
  team: "Who works here, and whether everything runs",
};

export default function SettingsPage({ loaderData }: Route.ComponentProps) {
  const { place } = loaderData;
  const [params] = useSearchParams();
  return (
    <Page
      heading={HEADINGS[place]}
      margin={
        <Box>
          {(SETTINGS_MARGINS[place] ?? []).map(([title, text]) => (
            <MarginNote key={title} title={title}>
              {text}
            </MarginNote>
          ))}
        </Box>
      }
    >
      <Box component="nav" aria-label="Settings" sx={{ display: "flex", gap: 1, mb: 3, flexWrap: "wrap" }}>
        {PLACES.map(([name, label]) => (
          <Button
            key={name}
            component={Link}
            to={name === "you" ? "/settings" : `/settings?show=${name}`}
            size="small"
            variant={name === place ? "contained" : "outlined"}
            aria-current={name === place ? "page" : undefined}
          >
            {label}
          </Button>
        ))}
      </Box>
      <Box key={params.get("show") ?? "you"} sx={{ display: "grid", gap: 4, maxWidth: 760 }}>
        {place === "you" && (
          <>
            <AboutYou user={loaderData.user} />
            <Sessions sessions={loaderData.sessions} now={loaderData.now} zone={loaderData.user.zone} />
          </>
        )}
        {place === "booking" && (
          <>
            {!loaderData.canConfirm && (
              <Alert severity="warning">
                None of your mailboxes sends, so strangers cannot book with you: the link with which they
                confirm leaves from there. <Link to="/sending/mailboxes/new">Add a mailbox</Link>, or wake
                one.
              </Alert>
            )}
            {loaderData.pages.map((page) => (
              <BookingPageSettings
                key={page.id}
                page={page}
                url={loaderData.bookingUrl}
                zone={loaderData.user.zone}
                mates={loaderData.mates}
              />
            ))}
            {loaderData.mates.length > 1 && <Hosting isOn={loaderData.colleaguesBook} />}
            <Calendars
              calendars={loaderData.calendars}
              feed={loaderData.feed}
              touches={loaderData.touches}
              zone={loaderData.user.zone}
            />
            <BookingPageSettings
              key={`new ${loaderData.pages.length}`}
              page={null}
              url={loaderData.bookingUrl}
              zone={loaderData.user.zone}
              mates={loaderData.mates.toSorted(
                (a, b) => Number(b.id === loaderData.user.id) - Number(a.id === loaderData.user.id),
              )}
            />
          </>
        )}
        {place === "labels" && (
          <>
            <LabelSettings
              labels={loaderData.labels}
              lists={loaderData.lists}
              isManager={loaderData.isManager}
            />
            {loaderData.learning && (
              <LearningSettings
                learning={loaderData.learning}
                names={Object.fromEntries(loaderData.labels.map(({ code, name }) => [code, name]))}
                isManager={loaderData.isManager}
              />
            )}
          </>
        )}
        {place === "notices" && <NoticeSettings settings={loaderData.notices} />}
        {place === "sending" && (
          <>
            <SendingRules settings={loaderData.sending} isManager={loaderData.isManager} />
            <SocialAccounts accounts={loaderData.accounts} />
          </>
        )}
        {place === "company" && (
          <>
            <CompanySettings
              company={loaderData.company}
              countries={loaderData.countries}
              isManager={loaderData.isManager}
            />
            <AssistantSettings assistant={loaderData.assistant} isManager={loaderData.isManager} />
          </>
        )}
        {place === "team" && (
          <>
            <Team
              team={loaderData.team}
              health={loaderData.health}
              me={loaderData.user.id}
              isManager={loaderData.isManager}
            />
            {loaderData.archive && <ArchivePart {...loaderData.archive} zone={loaderData.user.zone} />}
          </>
        )}
      </Box>
    </Page>
  );
}

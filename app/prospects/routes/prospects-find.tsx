import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, redirect, useSearchParams } from "react-router";
import { unreadWords } from "../../../core/prospects/description";
import { profileSchema, type TargetProfile } from "../../../core/prospects/profile";
import { webApp } from "../../../server/app";
import { done, type Outcome, whenDone } from "../../../server/errors";
import { allProfiles, describeProfile, saveProfile } from "../../../server/prospects/searches/profiles";
import { latestSearches } from "../../../server/prospects/searches/review-search";
import { startSearch } from "../../../server/prospects/searches/search";
import { userContext } from "../../accounts/session";
import { Choice } from "../../components/choice";
import { Field } from "../../components/field";
import { MarginNote, Page } from "../../components/page";
import { Sharing } from "../../components/sharing";
import { useAction, useQuestion } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { ProfileEditor } from "../profile-editor";
import type { Route } from "./+types/prospects-find";

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  return {
    profiles: allProfiles(app, context.get(userContext).id),
    searches: latestSearches(app),
    zone: context.get(userContext).zone,
  };
}

interface Answer {
  errors?: Record<string, string>;
  /** A profile that the assistant filled in. */
  described?: TargetProfile;
  /** Words of the description that nothing in it stands for. */
  unread?: string[];
  saved?: number;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Answer>> {
  const app = webApp();
  const userId = context.get(userContext).id;
  const body = await readJson(request);
  if (body.intent === "describe") {
    const described = await describeProfile(app, String(body.text ?? ""));
    return whenDone(described, (profile) => ({
      described: profile,
      unread: unreadWords(String(body.text ?? ""), profile),
    }));
  }
  const saved = saveProfile(app, userId, body.profile);
  if (!saved.ok) return saved;
  if (body.intent === "save") return done({ saved: saved.value });
  if (body.intent !== "search") return unknownIntent(body.intent);
  const search = startSearch(app, userId, saved.value);
  if (!search.ok) return search;
  throw redirect(`/searches/${search.value}`);
}

const EMPTY = profileSchema.parse({});

export default function FindPage({ loaderData }: Route.ComponentProps) {
  const { profiles, searches, zone } = loaderData;
  const [query] = useSearchParams();
  const wanted = profiles.find(({ id }) => String(id) === query.get("profile"));
  const [chosen, setChosen] = useState(wanted ?? profiles[0] ?? null);
  const [name, setName] = useState(chosen?.name ?? "");
  const [description, setDescription] = useState(chosen?.description ?? "");
  const [profile, setProfile] = useState<TargetProfile>(chosen?.definition ?? EMPTY);
  const ask = useQuestion<Answer>({ as: "json" });
  const save = useAction<Answer>({ as: "json" });
  const errors = { ...ask.errors, ...save.errors };
  useEffect(() => {
    if (ask.value?.described) setProfile((before) => ({ ...before, ...ask.value?.described }));
  }, [ask.value]);
  useEffect(() => {
    const saved = profiles.find(({ id }) => id === save.value?.saved);
    if (saved) setChosen(saved);
  }, [save.value, profiles]);

  const open = (id: number | null) => {
    const next = profiles.find((each) => each.id === id) ?? null;
    setChosen(next);
    setName(next?.name ?? "");
    setDescription(next?.description ?? "");
    setProfile(next?.definition ?? EMPTY);
  };
  const send = (intent: "save" | "search") =>
    save.press({ intent, profile: { id: chosen?.id ?? null, name, description, definition: profile } });
  return (
    <Page
      heading="Say whom you want to write to"
      sub="The directory is searched with the profile, and everybody it brings is held against it before you keep them."
      actions={
        <>
          <Button onClick={() => send("save")} disabled={save.isBusy}>
            Save the profile
          </Button>
          <Button variant="contained" onClick={() => send("search")} disabled={save.isBusy}>
            Search the directory
          </Button>
        </>
      }
      margin={
        <>
          <MarginNote title="What will happen">
            <Typography>
              The directory knows many people who only nearly match. Each one is cleaned, judged by this
              profile, and shown with the reason. Nobody is added until you say so.
            </Typography>
          </MarginNote>
          <MarginNote title="Searches so far">
            {searches.map(({ id, name: searched, at, fits, kept }) => (
              <Typography key={id} sx={{ mb: 0.75 }}>
                <Link to={`/searches/${id}`}>{searched}</Link>
                <br />
                <Typography component="span" variant="body2" color="textSecondary">
                  {dayTime(at, zone)} · {fits} fit · {kept} kept
                </Typography>
              </Typography>
            ))}
            {searches.length === 0 && <Typography color="textSecondary">None yet.</Typography>}
          </MarginNote>
        </>
      }
    >
      {save.value?.saved && (
        <Alert severity="success" sx={{ mb: 2 }}>
          Saved.
        </Alert>
      )}
      {(ask.value?.unread?.length ?? 0) > 0 && (
        <Alert severity="info" sx={{ mb: 2 }}>
          Not in the profile: {ask.value?.unread?.map((word) => `“${word}”`).join(", ")}. If that matters, add
          it to the titles, the places or the words about the company.
        </Alert>
      )}
      {errors.form && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {errors.form}
        </Alert>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2, mb: 2 }}>
        <Choice
          label={count(profiles.length, "saved profile")}
          value={chosen?.id ?? ""}
          onChange={(chosen) => open(Number(chosen) || null)}
          options={[["", "A new one"], ...profiles.map(({ id, name: each }) => [id, each] as const)]}
        />
        {chosen && (
          <Box sx={{ gridColumn: { sm: "2" }, gridRow: { sm: "2" } }}>
            <Sharing kind="profile" id={chosen.id} shared={chosen.shared} />
          </Box>
        )}
        <Field
          name="name"
          label="Its name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          errors={errors}
        />
      </Box>
      <Paper variant="outlined" sx={{ p: 2, mb: 2.5 }}>
        <Field
          name="description"
          multiline
          minRows={2}
          label="In a paragraph: what you sell, and whom you are looking for"
          placeholder="We sell loggers for humidity and temperature. We are looking for registrars and collections managers at mid-size museums in northern Europe, not assistants."
          value={description}
          onChange={(event) => setDescription(event.target.value)}
          errors={errors}
        />
        <Box sx={{ display: "flex", alignItems: "center", gap: 2, mt: 1 }}>
          <Button disabled={ask.isBusy} onClick={() => ask.ask({ intent: "describe", text: description })}>
            {ask.isBusy ? "Reading …" : "Fill in the fields from this"}
          </Button>
          <Typography variant="body2" color="textSecondary">
            {ask.value?.described
              ? "Filled in. Correct what it misread."
              : "You correct what it makes of it."}
          </Typography>
        </Box>
      </Paper>
      <ProfileEditor profile={profile} onChange={setProfile} errors={errors} />
    </Page>
  );
}

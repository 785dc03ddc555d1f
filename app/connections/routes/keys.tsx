/** The keys by which programs act for a user. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { DAY } from "../../../core/calendar";
import { AREA_NAMES, AREAS, type Scope } from "../../../core/team/scopes";
import { type ApiKey, keysOf, makeKey, revokeKey } from "../../../server/api/keys";
import { webApp } from "../../../server/app";
import { type Outcome, whenDone } from "../../../server/errors";
import { userContext } from "../../accounts/session";
import { CopiedText } from "../../components/copied-text";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { KeyForm } from "../key-form";
import { ConnectionPlaces } from "../places";
import type { Route } from "./+types/keys";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  return { keys: keysOf(webApp(), user.id), now: Date.now(), zone: user.zone };
}

interface Made {
  /** Shown once. */
  key?: string;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Made>> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  switch (form.intent) {
    case "make-key":
      return whenDone(
        makeKey(app, user.id, {
          name: form.name,
          scopes: readText(form.scopes || "[]"),
          days: form.days === "" ? null : form.days,
        }),
        (key): Made => ({ key }),
      );
    case "revoke-key":
      return whenDone(revokeKey(app, user.id, Number(form.id)), (): Made => ({}));
    default:
      return unknownIntent(form.intent);
  }
}

export default function Keys({ loaderData }: Route.ComponentProps) {
  const { keys, now, zone } = loaderData;
  const make = useAction<Made>();
  const revoke = useAction<Made>();
  const good = keys.filter(({ endsAt }) => endsAt === null || endsAt > now);
  return (
    <Page
      heading={
        good.length === 0 ? "No program acts for you yet" : `${count(good.length, "program")} may act for you`
      }
      sub="A key lets a program do here what you may, and no more than it was made for."
      margin={
        <>
          <MarginNote title="What a key can do">
            <Typography>
              It never does more than you: what belongs to colleagues stays theirs, and if your role changes,
              the key's does too.
            </Typography>
          </MarginNote>
          <MarginNote title="If one gets lost">
            <Typography>
              Revoke it: its next request is refused. Only a fingerprint is kept here, so nobody can read a
              key back, not even from a backup.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <ConnectionPlaces at="/connections" />
      {make.value?.key !== undefined && (
        <Box role="status" sx={{ bgcolor: "kelp.wash", borderRadius: 1, p: 2, mb: 3, maxWidth: 760 }}>
          <Typography sx={{ fontWeight: 600, mb: 1 }}>
            The key is made. Copy it now: it is shown this once.
          </Typography>
          <CopiedText text={make.value.key} label="The new key" />
        </Box>
      )}
      <Refusal errors={revoke.errors} />
      {keys.length > 0 && (
        <Box sx={{ mb: 4, maxWidth: 760 }}>
          {keys.map((key) => (
            <Row key={key.id} sx={{ alignItems: "center", gap: 2, py: 1 }} data-row>
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography sx={{ fontWeight: 600 }}>
                  {key.name}{" "}
                  <Box component="code" sx={{ fontWeight: 400, fontSize: 12.5 }}>
                    {key.begins}…
                  </Box>
                </Typography>
                <Typography variant="body2" color="textSecondary">
                  {reachWords(key.scopes)}
                </Typography>
                <Typography variant="body2" color="textSecondary">
                  {lifeWords(key, now, zone)}
                </Typography>
              </Box>
              {key.endsAt !== null && key.endsAt <= now && <Pill tone="ochre">ended</Pill>}
              <Button
                size="small"
                type="button"
                disabled={revoke.isBusy}
                onClick={() => revoke.press({ intent: "revoke-key", id: String(key.id) })}
                aria-label={`Revoke ${key.name}`}
              >
                Revoke
              </Button>
            </Row>
          ))}
        </Box>
      )}
      <KeyForm key={keys[0]?.id ?? 0} of={make} />
    </Page>
  );
}

/** "Changes sequences; reads results." */
function reachWords(scopes: readonly Scope[]): string {
  const of = (power: string) =>
    scopes
      .filter((scope) => scope.endsWith(`:${power}`))
      .map((scope) => AREAS[scope.split(":")[0] as keyof typeof AREAS]);
  const [changes, reads] = [of("write"), of("read")];
  const isAll = (some: readonly unknown[]) => some.length === AREA_NAMES.length;
  if (isAll(changes)) return "Everything that you may";
  if (isAll([...changes, ...reads]))
    return changes.length === 0 ? "Reads everything" : `Changes ${changes.join("; ")} · reads everything`;
  return [
    changes.length > 0 ? `Changes ${changes.join("; ")}` : "",
    reads.length > 0 ? `${changes.length > 0 ? "reads" : "Reads"} ${reads.join("; ")}` : "",
  ]
    .filter(Boolean)
    .join(" · ");
}

function lifeWords({ madeAt, endsAt, usedAt }: ApiKey, now: number, zone: string): string {
  const used = usedAt === null ? "never used" : `last used ${dayTime(usedAt, zone)}`;
  const ends =
    endsAt === null
      ? "no end"
      : endsAt > now
        ? `ends in ${count(Math.ceil((endsAt - now) / DAY), "day")}`
        : `ended ${dayTime(endsAt, zone)}`;
  return `${used} · made ${dayTime(madeAt, zone)} · ${ends}`;
}

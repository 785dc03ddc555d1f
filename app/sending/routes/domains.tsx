import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { CheckKind, Finding } from "../../../core/sending/domain-check";
import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import {
  checkDomain,
  type DomainCheck,
  knownDomainChecks,
  uncheckedDomains,
} from "../../../server/sending/domains/check-domains";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { ActionForm, useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/domains";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  return {
    checks: knownDomainChecks(app),
    unchecked: uncheckedDomains(app),
    zone: context.get(userContext).zone,
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const app = webApp();
  const all = [...knownDomainChecks(app).map(({ domain }) => domain), ...uncheckedDomains(app)];
  switch (form.intent) {
    case "check_all":
      await Promise.all(all.map((domain) => checkDomain(app, domain)));
      return done(null);
    case "check":
      // Only domains that mail is sent from here: nobody has others looked up.
      if (all.includes(form.domain ?? ""))
        await checkDomain(app, form.domain ?? "", (form.selector ?? "").trim());
      return done(null);
    default:
      return unknownIntent(form.intent);
  }
}

const NAMES: Record<CheckKind, string> = {
  spf: "SPF",
  dkim: "DKIM",
  dmarc: "DMARC",
  mx: "Mail exchanger",
  ptr: "Reverse name",
  lists: "Block lists",
};

export default function Domains({ loaderData }: Route.ComponentProps) {
  const { checks, unchecked, zone } = loaderData;
  const { press, isBusy, errors } = useAction();
  const problems = checks.reduce((sum, each) => sum + each.problems, 0);
  const total = checks.length + unchecked.length;
  return (
    <Page
      heading={
        total === 0
          ? "No domain to send from yet"
          : checks.length === 0
            ? `${count(total, "domain")} not checked yet`
            : problems === 0
              ? `${count(checks.length, "domain")} set up as receivers ask`
              : `${count(problems, "thing")} to mend on ${count(checks.filter((each) => each.problems > 0).length, "domain")}`
      }
      sub="What receiving servers look up before they take mail from you."
      actions={
        <>
          <Button component={Link} to="/sending">
            Back to Sending
          </Button>
          <Button
            variant="contained"
            disabled={isBusy || total === 0}
            onClick={() => press({ intent: "check_all" })}
          >
            {isBusy ? "Asking DNS …" : "Check them all now"}
          </Button>
        </>
      }
      margin={
        <>
          <MarginNote title="Why it matters">
            <Typography>
              Large receivers refuse, or file as junk, what comes from a domain without SPF and DKIM; from
              whoever writes to many they ask for DMARC too.
            </Typography>
          </MarginNote>
          <MarginNote title="Where the records go">
            <Typography>
              Where your domain's DNS is kept, often with whoever sold you the domain. A change takes up to a
              day to be seen everywhere.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={errors} />
      {total === 0 && (
        <Empty
          title="Add a mailbox first"
          text="Its domain is checked then."
          action={
            <Button component={Link} to="/sending/mailboxes/new" variant="contained">
              Add a mailbox
            </Button>
          }
        />
      )}
      {unchecked.length > 0 && (
        <Typography sx={{ mb: 2 }}>Not checked yet: {unchecked.join(", ")}.</Typography>
      )}
      {checks.map((each) => (
        <DomainSection key={each.domain} check={each} zone={zone} />
      ))}
    </Page>
  );
}

function DomainSection({ check, zone }: { check: DomainCheck; zone: string }) {
  const again = useAction();
  return (
    <Box component="section" aria-label={check.domain} sx={{ mb: 4 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1 }}>
        <Box sx={{ flex: 1, minWidth: 200 }}>
          <Typography variant="h2">{check.domain}</Typography>
          <Typography variant="caption" color="textSecondary">
            {count(check.mailboxes, "mailbox", "mailboxes")}
            {check.at !== null && ` · asked ${dayTime(check.at, zone)}`}
          </Typography>
        </Box>
        <ActionForm of={again} sends={{ domain: check.domain }} sx={{ display: "flex", gap: 1 }}>
          <TextField name="selector" label="DKIM selector" sx={{ width: 150 }} />
          <Button type="submit" name="intent" value="check" disabled={again.isBusy}>
            Check again
          </Button>
        </ActionForm>
      </Box>
      {check.findings.map((finding) => (
        <FindingRow key={finding.kind} finding={finding} />
      ))}
    </Box>
  );
}

const MARKS = { good: ["✓", "kelp.text"], wrong: ["!", "clay.main"], open: ["?", "text.secondary"] } as const;

function FindingRow({ finding }: { finding: Finding }) {
  const [mark, color] = MARKS[finding.state];
  return (
    <Row
      columns="20px minmax(90px, 130px) minmax(0, 1fr)"
      data-finding={finding.kind}
      sx={{ gap: 1.25, py: 1 }}
    >
      <Box component="span" aria-hidden sx={{ color, fontWeight: 700 }}>
        {mark}
      </Box>
      <Typography sx={{ fontWeight: 600 }}>{NAMES[finding.kind]}</Typography>
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ color: finding.state === "wrong" ? color : undefined }}>{finding.words}</Typography>
        {finding.record && (
          <Box
            component="code"
            sx={{
              display: "block",
              mt: 0.5,
              p: 1,
              bgcolor: "margin",
              borderRadius: 0.5,
              fontSize: 12.5,
              overflowWrap: "anywhere",
            }}
          >
            {finding.record.name} {finding.record.type} {finding.record.value}
          </Box>
        )}
      </Box>
    </Row>
  );
}

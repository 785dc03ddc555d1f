/** The rules of the team: when something happens, something follows by itself. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { RULE_EXAMPLES } from "../../../core/rules/shelf";
import { webApp } from "../../../server/app";
import { allLabels } from "../../../server/replies/labels";
import { ruleChoices, rulesSeenBy, type StoredRule } from "../../../server/rules/rules";
import { sequenceChoices } from "../../../server/sequences/add-people";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Pill, type Tone } from "../../components/pill";
import { Row } from "../../components/row";
import { count } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { ConnectionPlaces } from "../places";
import { ruleSentence } from "../rule-words";
import type { Route } from "./+types/rules";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["events"] } satisfies PageHandle;

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const names = {
    ...ruleChoices(app, user.id),
    sequences: sequenceChoices(app, user.id),
    labels: allLabels(app.db).map(({ code, name }) => ({ code, name })),
  };
  return {
    rules: rulesSeenBy(app, user.id).map((each) => ({ ...each, sentence: ruleSentence(each.rule, names) })),
  };
}

export const RULE_STATES: Record<StoredRule["state"], [tone: Tone, words: string]> = {
  on: ["kelp", "on"],
  off: ["quiet", "off"],
  held: ["clay", "holds"],
};

export default function Rules({ loaderData }: Route.ComponentProps) {
  const { rules } = loaderData;
  const on = rules.filter(({ state }) => state === "on");
  const held = rules.filter(({ state }) => state === "held");
  const acted = on.reduce((sum, { runs }) => sum + runs, 0);
  return (
    <Page
      heading={
        rules.length === 0
          ? "Nothing follows by itself yet"
          : held.length > 0
            ? `${count(held.length, "rule")} ${held.length === 1 ? "holds" : "hold"} until somebody looks`
            : on.length === 0
              ? `${count(rules.length, "rule is", "rules are")} written, and none is on`
              : acted === 0
                ? `${count(on.length, "rule is", "rules are")} on; nothing set ${on.length === 1 ? "it" : "them"} off in 30 days`
                : `${count(on.length, "rule is", "rules are")} on, and acted ${count(acted, "time")} in 30 days`
      }
      sub="When something happens, a rule does what you would have done, and says why."
      actions={
        <Button component={Link} to="/connections/rules/new" variant="contained">
          Write a rule
        </Button>
      }
      margin={
        <>
          <MarginNote title="As whom it acts">
            <Typography>
              As whoever wrote it: what they may not do, their rule does not do either. What it did for
              somebody is taken back as a whole, for a day.
            </Typography>
          </MarginNote>
          <MarginNote title="Before it is on">
            <Typography>
              It shows what it would have done in the last 30 days, and rules that would set each other off
              without end are found.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <ConnectionPlaces at="/connections/rules" />
      <Box sx={{ mb: 4, maxWidth: 820 }}>
        {rules.map(({ id, name, owner, state, heldBecause, runs, sentence }) => {
          const [tone, words] = RULE_STATES[state];
          return (
            <Row key={id} sx={{ alignItems: "center", gap: 2, py: 1 }} data-row>
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography sx={{ fontWeight: 600 }}>
                  <Link to={`/connections/rules/${id}`}>{name}</Link>
                </Typography>
                <Typography variant="body2">{sentence}</Typography>
                <Typography variant="body2" color={heldBecause === null ? "textSecondary" : "error"}>
                  {heldBecause ??
                    `${owner} · ${runs === 0 ? "not set off" : `acted ${count(runs, "time")}`} in 30 days`}
                </Typography>
              </Box>
              <Pill tone={tone}>{words}</Pill>
            </Row>
          );
        })}
      </Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        To begin with
      </Typography>
      <Box
        sx={{ display: "grid", gap: 1.5, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, maxWidth: 820 }}
      >
        {RULE_EXAMPLES.map(({ name, about }, nth) => (
          <Box
            key={name}
            component={Link}
            to={`/connections/rules/new?from=${nth}`}
            sx={{
              ...{
                border: "1px solid",
                borderColor: "divider",
                borderRadius: 1,
                bgcolor: "background.paper",
                p: 1.75,
              },
              ...{ color: "inherit", textDecoration: "none", "&:hover": { borderColor: "tile.main" } },
            }}
          >
            <Typography sx={{ fontWeight: 600 }}>{name}</Typography>
            <Typography variant="body2" color="textSecondary">
              {about}
            </Typography>
          </Box>
        ))}
      </Box>
    </Page>
  );
}

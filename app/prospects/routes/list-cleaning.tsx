import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { CLEANING_RULES, type CleaningRule } from "../../../core/prospects/cleaning/rules";
import { webApp } from "../../../server/app";
import {
  CLEANINGS_PAGE,
  countCleaned,
  countRules,
  listCleanings,
  refuseRule,
} from "../../../server/prospects/cleaning/cleanings";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readForm, readPage } from "../../desk/read-form";
import { BeforeAfter } from "../import-review";
import { ListQuality } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { NextStep } from "../next-step";
import { requireList } from "../require-list";
import { fieldName, RULE_NAMES } from "../words";
import type { Route } from "./+types/list-cleaning";

export function loader({ request, params, context }: Route.LoaderArgs) {
  const app = webApp();
  const { list, state } = requireList(app, context.get(userContext).id, params.id);
  const rules = countRules(app, list.id);
  const url = new URL(request.url).searchParams;
  const asked = url.get("rule") as CleaningRule;
  const rule = CLEANING_RULES.includes(asked) ? asked : (rules[0]?.rule ?? null);
  const page = readPage(url);
  const current = rules.find((each) => each.rule === rule);
  const cleaned = countCleaned(app, list.id);
  return {
    list,
    state,
    cleaned,
    rules,
    rule,
    page,
    total: current ? current.applied + current.refused : 0,
    pageSize: CLEANINGS_PAGE,
    rows: rule ? listCleanings(app, list.id, rule, page) : [],
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const form = await readForm(request);
  return refuseRule(webApp(), context.get(userContext).id, {
    listId: params.id,
    rule: form.rule,
    prospectId: form.prospectId ?? null,
    refuse: form.refuse === "yes",
  });
}

export default function CleaningPage({ loaderData }: Route.ComponentProps) {
  const { list, state, cleaned, rules, rule, rows, page, total, pageSize } = loaderData;
  const [, setParams] = useSearchParams();
  const act = useAction();
  const refuse = (yes: boolean, prospectId?: number) =>
    act.press({
      rule: rule ?? "",
      refuse: yes ? "yes" : "no",
      ...(prospectId !== undefined && { prospectId }),
    });
  const current = rules.find((each) => each.rule === rule);
  return (
    <Page
      heading={
        cleaned === 0
          ? `Nothing had to be cleaned on “${list.name}”`
          : `${count(cleaned, "person", "people")} on “${list.name}” ${cleaned === 1 ? "was" : "were"} cleaned`
      }
      actions={<NextStep list={list} state={state} at="cleaning" />}
      sub="Every original is kept. Give back one value, or a whole kind, and it stands again as it came."
      margin={
        <>
          <MarginNote title="Why clean">
            <Typography>
              “Hello ANTHONY” or “at Foo Ltd.” gives the machine away. These changes are what a person would
              write.
            </Typography>
          </MarginNote>
          <ListQuality state={state} title={`“${list.name}”`} />
        </>
      }
    >
      <Refusal errors={act.errors} />
      <ListTabs list={list} state={state} />
      {rules.length > 0 && (
        <Box sx={{ display: "grid", gridTemplateColumns: "260px minmax(0,1fr)", gap: 3 }}>
          <Box component="nav" aria-label="Kinds of cleaning">
            {rules.map((each) => (
              <Box
                key={each.rule}
                component="button"
                type="button"
                aria-current={each.rule === rule ? "true" : undefined}
                onClick={() => setParams({ rule: each.rule })}
                sx={{
                  display: "flex",
                  gap: 1,
                  width: 1,
                  textAlign: "left",
                  font: "inherit",
                  color: "inherit",
                  cursor: "pointer",
                  border: 0,
                  borderLeft: "3px solid",
                  borderColor: each.rule === rule ? "tile.main" : "transparent",
                  bgcolor: each.rule === rule ? "background.paper" : "transparent",
                  px: 1.25,
                  py: 0.9,
                }}
              >
                <Box component="span" sx={{ flex: 1 }}>
                  {RULE_NAMES[each.rule]}
                </Box>
                <Box component="span" sx={{ color: "text.secondary" }}>
                  {each.applied.toLocaleString("en-GB")}
                </Box>
              </Box>
            ))}
          </Box>
          <Box>
            {current && (
              <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
                <Typography variant="h2" sx={{ flex: 1 }}>
                  {RULE_NAMES[current.rule]}
                </Typography>
                {current.refused > 0 && (
                  <Button size="small" onClick={() => refuse(false)}>
                    Clean {count(current.refused, "value")} again
                  </Button>
                )}
                {current.applied > 0 && (
                  <Button size="small" onClick={() => refuse(true)}>
                    Give back all {current.applied.toLocaleString("en-GB")}
                  </Button>
                )}
              </Box>
            )}
            {rows.map((row) => {
              const isRefused = row.refused.includes(rule as CleaningRule);
              return (
                <Row
                  columns="110px minmax(0,1fr) 110px"
                  key={`${row.prospectId} ${row.field}`}
                  data-row
                  sx={{ alignItems: "center", py: 0.6, opacity: isRefused ? 0.75 : 1 }}
                >
                  <Typography variant="body2" color="textSecondary" noWrap>
                    {fieldName(row.field)}
                  </Typography>
                  <Typography noWrap component="div">
                    <BeforeAfter before={row.original} after={row.cleaned} />{" "}
                    <Typography
                      component={Link}
                      variant="caption"
                      to={`/prospects/${row.prospectId}`}
                      sx={{ ml: 1, color: "text.secondary" }}
                    >
                      {row.name}
                    </Typography>
                  </Typography>
                  <Button
                    size="small"
                    onClick={() => refuse(!isRefused, row.prospectId)}
                    aria-label={`${isRefused ? "Clean again" : "Give back"} ${row.original}`}
                  >
                    {isRefused ? "Clean again" : "Give back"}
                  </Button>
                </Row>
              );
            })}
            <Pager page={page} pageSize={pageSize} total={total} />
          </Box>
        </Box>
      )}
    </Page>
  );
}

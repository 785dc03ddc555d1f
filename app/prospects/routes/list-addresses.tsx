import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { z } from "zod";
import { ADDRESS_STATES } from "../../../core/prospects/verdict";
import { mayNot } from "../../../server/accounts/may-not";
import { readTogether, webApp } from "../../../server/app";
import { askFindAddresses } from "../../../server/prospects/addresses/find-addresses";
import { isProbeOn, setProbe } from "../../../server/prospects/addresses/probe-setting";
import { askVerifyList } from "../../../server/prospects/addresses/verify-addresses";
import { CHECKED_PAGE, checkedAddresses } from "../../../server/prospects/lists/list-state";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import { readForm, readPage, unknownIntent } from "../../desk/read-form";
import { AddressPill } from "../address-pill";
import { JobProgress } from "../job-progress";
import { ListQuality } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { NextStep, runningWords } from "../next-step";
import { requireList } from "../require-list";
import { VERDICT_NAMES, verdictSentence } from "../words";
import type { Route } from "./+types/list-addresses";

const SHOWS = ["all", ...ADDRESS_STATES, "found"] as const;
const showSchema = z.enum(SHOWS).catch("all");

export function loader({ request, params, context }: Route.LoaderArgs) {
  const app = webApp();
  const url = new URL(request.url).searchParams;
  const show = showSchema.parse(url.get("show") ?? "all");
  const page = readPage(url);
  return readTogether(app, () => {
    const { list, state } = requireList(app, context.get(userContext).id, params.id);
    return {
      list,
      state,
      show,
      page,
      pageSize: CHECKED_PAGE,
      rows: checkedAddresses(app, list.id, show, page),
      probe: isProbeOn(app),
      mayProbe: mayNot(app, context.get(userContext).id, "probe.switch") === null,
      zone: context.get(userContext).zone,
    };
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  const listId = Number(params.id);
  const form = await readForm(request);
  switch (form.intent) {
    case "verify":
      return askVerifyList(app, userId, { listId, anew: form.anew === "yes" });
    case "find":
      return askFindAddresses(app, userId, listId);
    case "probe":
      return setProbe(app, userId, form.probe === "on");
    default:
      return unknownIntent(form.intent);
  }
}

export default function AddressesPage({ loaderData }: Route.ComponentProps) {
  const { list, state, show, page, pageSize, rows, probe, zone } = loaderData;
  const { verdicts } = state;
  const [, setParams] = useSearchParams();
  const act = useAction();
  const unsure = verdicts.unchecked;
  const running = runningWords(state);
  const busy = state.verifying !== null || state.finding !== null;
  const counts: Record<(typeof SHOWS)[number], number | null> = {
    all: state.people,
    ...verdicts,
    found: null,
  };
  return (
    <Page
      heading={
        running
          ? `“${list.name}”: ${running}`
          : verdicts.missing > 0
            ? `${count(verdicts.missing, "person", "people")} on “${list.name}” ${verdicts.missing === 1 ? "has" : "have"} no address yet`
            : verdicts.unchecked > 0
              ? `${count(verdicts.unchecked, "address", "addresses")} on “${list.name}” ${verdicts.unchecked === 1 ? "was" : "were"} never checked`
              : `${verdicts.good.toLocaleString("en-GB")} of ${count(state.people, "address", "addresses")} on “${list.name}” ${verdicts.good === 1 ? "is" : "are"} good`
      }
      sub={
        verdicts.missing > 0 && !state.canFind && !busy
          ? `${verdicts.missing === 1 ? "It" : "None of them"} can${verdicts.missing === 1 ? "not" : ""} be found: ${probe ? "no company of theirs has a web domain." : "mail servers are not asked (on the right), and no company of theirs has two known addresses that show its pattern."}`
          : "Sequences write to good and likely addresses, unless you tell a sequence otherwise."
      }
      actions={
        <>
          {verdicts.missing > 0 && (
            <Button
              variant={state.canFind ? "contained" : "outlined"}
              disabled={busy || !state.canFind}
              onClick={() => act.press({ intent: "find" })}
            >
              Find {count(verdicts.missing, "address", "addresses")}
            </Button>
          )}
          <Button
            disabled={busy}
            onClick={() => act.press({ intent: "verify", anew: unsure > 0 ? "no" : "yes" })}
          >
            {unsure > 0 ? `Verify ${count(unsure, "address", "addresses")}` : "Verify all again"}
          </Button>
          <NextStep list={list} state={state} at="addresses" isQuiet={state.canFind} />
        </>
      }
      margin={
        <>
          <ListQuality state={state} title="The addresses" />
          <MarginNote title="Asking mail servers">
            <FormControlLabel
              control={
                <Switch
                  checked={probe}
                  disabled={!loaderData.mayProbe}
                  onChange={(event) =>
                    act.press({ intent: "probe", probe: event.target.checked ? "on" : "off" })
                  }
                />
              }
              label={probe ? "On" : "Off"}
            />
            {!loaderData.mayProbe && (
              <Typography color="textSecondary">It is for everybody; a manager switches it.</Typography>
            )}
            <Typography sx={{ mt: 0.5 }}>
              A mail server can be asked whether it would take mail for somebody, without sending any. It is
              the only way to know before you write.
            </Typography>
            <Typography sx={{ mt: 1 }} color="textSecondary">
              The risk: servers that are asked often may distrust whoever asks, and put that address on block
              lists. So it is one conversation a domain, slow, and best done from another network than the one
              you send from. Off, addresses are likely at best until somebody answers.
            </Typography>
          </MarginNote>
          <MarginNote title="How missing ones are found">
            <Typography>
              A company writes its people's addresses in one way. What is known of its addresses shows which;
              the usual ways are tried after it, one by one, if its server can be asked.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={act.errors} />
      <ListTabs list={list} state={state} />
      <JobProgress job={state.verifying} doing="Verifying" unit="addresses" />
      <JobProgress job={state.finding} doing="Looking for addresses" unit="people" />
      <Tabs
        value={show}
        onChange={(_, value: string) => setParams({ show: value })}
        variant="scrollable"
        sx={{ minHeight: 38, mb: 1 }}
      >
        {SHOWS.filter(
          (each) => each === "all" || each === show || each === "found" || (counts[each] ?? 0) > 0,
        ).map((each) => (
          <Tab
            key={each}
            value={each}
            sx={{ minHeight: 38 }}
            label={`${each === "all" ? "All" : each === "found" ? "Found by pattern" : VERDICT_NAMES[each]}${counts[each] === null ? "" : ` ${counts[each]?.toLocaleString("en-GB")}`}`}
          />
        ))}
      </Tabs>
      {rows.map((row) => (
        <Row
          columns="minmax(0,1.1fr) 96px minmax(0,1.7fr)"
          key={row.id}
          data-row
          sx={{ alignItems: "center", py: 0.9 }}
        >
          <Box sx={{ minWidth: 0 }}>
            <Typography noWrap sx={{ fontWeight: 600 }}>
              <Link to={`/prospects/${row.id}`}>{row.name || row.email}</Link>
            </Typography>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {row.email || row.company}
            </Typography>
          </Box>
          <Box>
            <AddressPill of={row} />
          </Box>
          <Box sx={{ minWidth: 0 }}>
            <Typography variant="body2">
              {row.email === ""
                ? "The directory or file had none."
                : verdictSentence(row.verdictReason, row.detail)}
            </Typography>
            <Typography variant="caption" color="textSecondary">
              {row.found && `Found: ${row.found}. `}
              {row.at !== null && dayTime(row.at, zone)}
            </Typography>
          </Box>
        </Row>
      ))}
      {rows.length === 0 && (
        <Alert severity="info" icon={false}>
          {show === "found" ? "No address of this list had to be found." : "Nobody here."}
        </Alert>
      )}
      <Pager page={page} pageSize={pageSize} total={counts[show] ?? 0} />
    </Page>
  );
}

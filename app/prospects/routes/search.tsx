import Alert from "@mui/material/Alert";
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, redirect, useSearchParams } from "react-router";
import { z } from "zod";
import { readTogether, webApp } from "../../../server/app";
import { allLists } from "../../../server/prospects/lists/lists";
import {
  FOUND_PAGE,
  type FoundRow,
  foundPeople,
  keepFound,
  searchById,
} from "../../../server/prospects/searches/review-search";
import { userContext } from "../../accounts/session";
import { Field } from "../../components/field";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Pill } from "../../components/pill";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import { readJson, readPage } from "../../desk/read-form";
import { JobProgress } from "../job-progress";
import { MISFIT_NAMES, misfitSentence } from "../words";
import type { Route } from "./+types/search";

const showSchema = z.enum(["fits", "misfits", "known", "kept"]).catch("fits");

export function loader({ request, params, context }: Route.LoaderArgs) {
  const app = webApp();
  const url = new URL(request.url).searchParams;
  const show = showSchema.parse(url.get("show") ?? "fits");
  const page = readPage(url);
  return readTogether(app, () => {
    const search = searchById(app, Number(params.id));
    if (!search) throw data("This search does not exist, or no longer.", { status: 404 });
    return {
      search,
      show,
      page,
      rows: foundPeople(app, context.get(userContext).id, search.id, show, page),
      pageSize: FOUND_PAGE,
      lists: allLists(app, context.get(userContext).id),
      zone: context.get(userContext).zone,
    };
  });
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const body = await readJson(request);
  const kept = keepFound(webApp(), context.get(userContext).id, { ...body, searchId: params.id });
  if (!kept.ok) return kept;
  throw redirect(`/prospects?list=${kept.value.listId}`);
}

export default function SearchPage({ loaderData }: Route.ComponentProps) {
  const { search, show, page, pageSize, rows, lists, zone } = loaderData;
  const { counts, job } = search;
  const [, setParams] = useSearchParams();
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const [listName, setListName] = useState(search.profileName);
  const [focused, setFocused] = useState<FoundRow | null>(null);
  const keep = useAction({ as: "json" });
  const runs = job?.state === "waiting" || job?.state === "working";
  const many = picked.size > 0 ? picked.size : counts.fits;
  const toggle = (id: number) => {
    const next = new Set(picked);
    if (!next.delete(id)) next.add(id);
    setPicked(next);
  };
  const tabs = [
    ["fits", `Fit ${counts.fits.toLocaleString("en-GB")}`],
    ["misfits", `Do not fit ${counts.misfits.toLocaleString("en-GB")}`],
    ["known", `Known already ${counts.known.toLocaleString("en-GB")}`],
    ["kept", `Kept ${counts.kept.toLocaleString("en-GB")}`],
  ] as const;
  return (
    <Page
      heading={
        runs
          ? `${count(counts.fits, "person fits", "people fit")} “${search.profileName}” so far`
          : counts.fits + counts.kept === 0
            ? `Nobody ${job?.state === "cancelled" ? "seen so far" : "in the directory"} fits “${search.profileName}”`
            : `${count(counts.fits, "person fits", "people fit")} “${search.profileName}”${counts.kept > 0 ? `, ${counts.kept} kept` : ""}`
      }
      sub={
        counts.withoutAddress > 0
          ? `${counts.withoutAddress.toLocaleString("en-GB")} of them have no address in the directory; most can be found once they are on a list.`
          : "Tick people to keep only those."
      }
      actions={
        <>
          <Autocomplete
            freeSolo
            size="small"
            options={lists.map(({ name }) => name)}
            inputValue={listName}
            onInputChange={(_, text) => setListName(text)}
            sx={{ width: 230 }}
            renderInput={(params) => (
              <Field {...params} name="listName" label="On the list" errors={keep.errors} />
            )}
          />
          <Button
            variant="contained"
            disabled={many === 0 || keep.isBusy}
            onClick={() => keep.press({ listName, ids: picked.size > 0 ? [...picked] : null })}
          >
            Keep {many.toLocaleString("en-GB")}
          </Button>
        </>
      }
      margin={
        <>
          {focused && <WhyTheyFit of={focused} zone={zone} />}
          <MarginNote title="Not a fit, and why">
            {search.reasons.map(({ reason, count: people }) => (
              <Typography key={reason} sx={{ display: "flex", gap: 1.5 }}>
                <Box component="span" sx={{ fontWeight: 650, minWidth: 42, textAlign: "right" }}>
                  {people.toLocaleString("en-GB")}
                </Box>
                {MISFIT_NAMES[reason]}
              </Typography>
            ))}
            {search.reasons.length === 0 && <Typography color="textSecondary">Nobody so far.</Typography>}
            <Typography sx={{ mt: 1.5 }}>
              <Link to="/prospects/find">Change the profile</Link>
            </Typography>
          </MarginNote>
          <MarginNote title="When you keep them">
            <Typography>
              They go on the list with you as their owner, cleaned. Their addresses are then verified by
              themselves.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <JobProgress job={job} doing="Searching the directory" unit="pages" />
      {keep.errors.form && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {keep.errors.form}
        </Alert>
      )}
      <Tabs
        value={show}
        onChange={(_, value: string) => {
          setPicked(new Set());
          setParams({ show: value });
        }}
        sx={{ mb: 1, minHeight: 38 }}
      >
        {tabs.map(([value, label]) => (
          <Tab key={value} value={value} label={label} sx={{ minHeight: 38 }} />
        ))}
      </Tabs>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {rows.map((row) => (
          <FoundPerson
            key={row.id}
            row={row}
            zone={zone}
            isFocused={focused?.id === row.id}
            onFocus={() => setFocused(row)}
            picked={show === "kept" ? null : picked.has(row.id)}
            onPick={() => toggle(row.id)}
          />
        ))}
      </Box>
      {rows.length === 0 && (
        <Typography color="textSecondary" sx={{ py: 3 }}>
          {runs ? "The first page is on its way." : "Nobody here."}
        </Typography>
      )}
      <Pager page={page} pageSize={pageSize} total={search.counts[show]} />
    </Page>
  );
}

function WhyTheyFit({ of, zone }: { of: FoundRow; zone: string }) {
  return (
    <MarginNote title="Why">
      <Typography variant="letter">{of.name}</Typography>
      <Typography sx={{ mt: 0.5 }}>
        {misfitSentence(of.reason, of.detail)}.
        {of.known &&
          ` Known already${of.known.owner ? `, as ${of.known.owner}'s` : ""}; ${
            of.known.lastWrittenAt
              ? `last written to on ${dayTime(of.known.lastWrittenAt, zone)}`
              : "never written to"
          }.`}
      </Typography>
      {of.found.changes.length > 0 && (
        <Typography variant="body2" color="textSecondary" component="div" sx={{ mt: 1 }}>
          {of.found.changes
            .filter(({ before }) => before !== "")
            .slice(0, 6)
            .map(({ field, before, after }) => (
              <Box key={field}>
                <s>{before}</s> → {after}
              </Box>
            ))}
        </Typography>
      )}
    </MarginNote>
  );
}

/** Somebody whom the directory named; `picked` is null where nobody can be chosen. */
function FoundPerson(props: {
  row: FoundRow;
  zone: string;
  isFocused: boolean;
  onFocus: () => void;
  picked: boolean | null;
  onPick: () => void;
}) {
  const { row, zone, isFocused, onFocus, picked, onPick } = props;
  return (
    <Row
      columns="38px minmax(0,1.2fr) minmax(0,1.2fr) minmax(0,1.3fr)"
      component="li"
      data-row
      onMouseEnter={onFocus}
      onFocus={onFocus}
      sx={{ alignItems: "center", bgcolor: isFocused ? "tile.wash" : undefined }}
    >
      {picked === null ? (
        <span />
      ) : (
        <Checkbox
          size="small"
          checked={picked}
          onChange={onPick}
          slotProps={{ input: { "aria-label": `Choose ${row.name}` } }}
        />
      )}
      <Box sx={{ minWidth: 0 }}>
        <Typography noWrap sx={{ fontWeight: 600 }}>
          {row.keptId ? <Link to={`/prospects/${row.keptId}`}>{row.name}</Link> : row.name}
        </Typography>
        <Typography noWrap variant="caption" color="textSecondary" component="div">
          {row.found.email || "no address in the directory"}
        </Typography>
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Typography noWrap>{row.found.fields.title}</Typography>
        <Typography noWrap variant="caption" color="textSecondary" component="div">
          {row.found.fields.company}, {row.found.fields.city}
        </Typography>
      </Box>
      <Box sx={{ minWidth: 0 }}>
        {row.known ? (
          <>
            <Pill tone="ochre">Known</Pill>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {[row.known.owner, row.known.lists].filter(Boolean).join(" · ")}
              {row.known.lastWrittenAt
                ? `, written to ${dayTime(row.known.lastWrittenAt, zone)}`
                : ", never written to"}
            </Typography>
          </>
        ) : (
          <>
            <Pill tone={row.fits ? "kelp" : "quiet"}>{misfitSentence(row.reason, row.detail)}</Pill>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {row.found.company.industry}
              {row.size && `, ${row.size} employees`}
            </Typography>
          </>
        )}
      </Box>
    </Row>
  );
}

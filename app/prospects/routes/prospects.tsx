import Typography from "@mui/material/Typography";
import type { GridRowSelectionModel } from "@mui/x-data-grid";
import { useState } from "react";
import { data, redirect, useNavigation, useSearchParams } from "react-router";
import { parseFilter } from "../../../core/prospects/filter";
import { webApp } from "../../../server/app";
import { done, whenDone } from "../../../server/errors";
import { filterChoices } from "../../../server/prospects/filters/filter-choices";
import { allFilters, dropFilter, saveFilter } from "../../../server/prospects/filters/filters";
import { listState } from "../../../server/prospects/lists/list-state";
import { allLists, listById } from "../../../server/prospects/lists/lists";
import { addProspect } from "../../../server/prospects/people/add-prospect";
import { bulkEdit, previewBulkAdd, undoBulk } from "../../../server/prospects/people/bulk-edit";
import {
  countProspects,
  listProspects,
  prospectsQuery,
} from "../../../server/prospects/people/list-prospects";
import { overviewOf } from "../../../server/prospects/people/overview";
import { shownColumns } from "../../../server/research/research-of-list";
import { resultsOfList } from "../../../server/results/of-list";
import { sequenceChoices } from "../../../server/sequences/add-people";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { useRefreshWhile } from "../../desk/refresh";
import { UndoLine } from "../../undo/undo-line";
import { AddPeople, Begin } from "../add-people";
import { AddPerson } from "../add-person";
import { BulkBar } from "../bulk-bar";
import { ColumnChoice, useColumnLayout } from "../column-layout";
import { FilterEditor } from "../filter-editor";
import { ListQuality, ListResults } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { NextStep, runningWords } from "../next-step";
import { NOBODY, ProspectGrid } from "../prospect-grid";
import { OverviewMargin, ProspectMargin } from "../prospect-margin";
import { SearchBar } from "../search-bar";
import type { BulkAnswer } from "../write-to-chosen";
import type { Route } from "./+types/prospects";

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const params = Object.fromEntries(new URL(request.url).searchParams);
  const query = prospectsQuery.parse(params);
  const userId = context.get(userContext).id;
  if (query.list !== undefined && listById(app, userId, query.list) === null)
    throw data("This list does not exist, or no longer.", { status: 404 });
  return {
    hasDirectory: app.config.directory !== null && app.config.directory !== undefined,
    found: query.list === undefined ? [] : shownColumns(app, query.list),
    overview: overviewOf(app),
    /** The list that was just deleted, by what undoes it. */
    deleted: Number(params.deleted) || null,
    query,
    filter: parseFilter(query.f),
    ...listProspects(app, userId, query),
    lists: allLists(app, userId),
    state: query.list === undefined ? null : listState(app, query.list),
    results: query.list === undefined ? null : resultsOfList(app, userId, query.list),
    filters: allFilters(app, userId),
    choices: filterChoices(app, userId),
    sequences: sequenceChoices(app, userId),
    zone: context.get(userContext).zone,
    now: app.clock.now(),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  const user = context.get(userContext);
  const { intent, ...form } = await readForm(request);
  switch (intent) {
    case "count":
      return done(countProspects(app, userId, prospectsQuery.parse({ f: form.f })));
    case "save-filter":
      return saveFilter(app, userId, { name: form.name, definition: form.f });
    case "drop-filter":
      return dropFilter(app, userId, Number(form.id));
    case "undo-bulk":
      return whenDone(undoBulk(app, userId, Number(form.batch)), (undone): BulkAnswer => ({ undone }));
    case "add": {
      const added = addProspect(app, userId, form);
      if (!added.ok) return added;
      throw redirect(`/prospects/${added.value.id}`);
    }
    case "preview-add":
      return previewBulkAdd(app, user, readText(form.bulk));
    case "bulk":
      return whenDone(bulkEdit(app, user, readText(form.bulk)), (report): BulkAnswer => ({ report }));
    default:
      return unknownIntent(intent);
  }
}

/** Milliseconds between two looks at how far the checking of the list is. */
const LOOK_EVERY = 2_000;

export default function Prospects({ loaderData }: Route.ComponentProps) {
  const { query, filter, rows, total, lists, state, filters, choices, zone, now } = loaderData;
  const [params, setParams] = useSearchParams();
  const chosen = useChosen(params, total);
  const [focused, setFocused] = useState<number | null>(null);
  const [filtering, setFiltering] = useState(false);
  const [adding, setAdding] = useState(false);
  const [layout, setLayout] = useColumnLayout();
  const loading = useNavigation().state === "loading";
  const list = lists.find(({ id }) => id === query.list);
  const isFiltered = query.q !== "" || query.list !== undefined || query.stage !== "" || filter !== null;

  const change = (changes: Record<string, string | undefined>) => {
    chosen.choose(chosen.selection);
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [name, value] of Object.entries(changes))
          if (value === undefined || value === "") next.delete(name);
          else next.set(name, value);
        return next;
        // What is typed letter by letter is one step back.
      },
      { replace: "q" in changes },
    );
  };
  const opened = rows.find(({ id }) => id === focused);
  const nobodyYet = total === 0 && !isFiltered;
  const isWholeList = list !== undefined && state !== null && query.q === "" && query.stage === "" && !filter;
  const running = state && runningWords(state);
  useRefreshWhile(running !== null, LOOK_EVERY);
  const ways = (
    <>
      <AddPeople
        hasDirectory={loaderData.hasDirectory}
        onAdd={() => setAdding(true)}
        isFirst={!isWholeList}
      />
      {isWholeList && <NextStep list={list} state={state} at="people" />}
    </>
  );
  return (
    <Page
      heading={
        nobodyYet
          ? "Nobody to write to yet"
          : isWholeList
            ? `“${list.name}”: ${running ?? `${number(state.verdicts.good)} of ${number(total)} good`}`
            : `${number(total)} ${foundWords(total, list?.name, isFiltered)}`
      }
      actions={nobodyYet ? undefined : ways}
      fill={!nobodyYet}
      margin={
        <>
          {opened ? (
            <ProspectMargin row={opened} now={now} zone={zone} />
          ) : nobodyYet ? (
            <WhatListsNeed />
          ) : (
            !list && <OverviewMargin overview={loaderData.overview} total={total} />
          )}
          {state && <ListQuality state={state} title={`“${list?.name}”`} />}
          {loaderData.results && loaderData.results.started > 0 && (
            <ListResults figures={loaderData.results} />
          )}
        </>
      }
    >
      {nobodyYet ? (
        <Begin hasDirectory={loaderData.hasDirectory} onAdd={() => setAdding(true)} />
      ) : (
        <>
          {list && state && <ListTabs list={list} state={state} />}
          <BulkBar
            chosen={chosen.count}
            only={chosen.only}
            total={total}
            everybody={chosen.everybody}
            onEverybody={chosen.chooseAll}
            onClear={() => chosen.choose(NOBODY)}
            listId={query.list}
            lists={lists}
            users={choices.users}
            sequences={loaderData.sequences}
            customs={choices.customs}
            run={chosen.run}
            exportTo={chosen.exportTo}
          >
            <SearchBar
              query={query}
              filter={filter}
              filters={filters}
              choices={choices}
              lists={lists}
              change={(changes) => change({ ...changes, page: undefined })}
              onFilter={() => setFiltering(true)}
            >
              <ColumnChoice layout={layout} onLayout={setLayout} found={loaderData.found} />
            </SearchBar>
          </BulkBar>
          <ProspectGrid
            found={loaderData.found}
            rows={rows}
            total={total}
            query={query}
            now={now}
            zone={zone}
            loading={loading}
            focused={focused}
            onFocus={setFocused}
            selection={chosen.selection}
            onSelect={chosen.choose}
            change={change}
            layout={layout}
            onLayout={setLayout}
          />
        </>
      )}
      {filtering && (
        <FilterEditor
          filter={filter}
          choices={choices}
          open
          onClose={() => setFiltering(false)}
          onApply={(next) => {
            setFiltering(false);
            change({ f: next ? JSON.stringify(next) : undefined, page: undefined });
          }}
        />
      )}
      <UndoLine
        words={loaderData.deleted ? "The list was deleted; its people stay." : null}
        ids={loaderData.deleted ? [loaderData.deleted] : []}
      />
      <AddPerson open={adding} onClose={() => setAdding(false)} listName={list?.name ?? ""} />
    </Page>
  );
}

/** The rows that are ticked, or everybody whom the search finds: what is done with them is asked of the server. */
function useChosen(params: URLSearchParams, total: number) {
  const [selection, setSelection] = useState<GridRowSelectionModel>(NOBODY);
  const [everybody, setEverybody] = useState(false);
  const ids = [...selection.ids].map(Number);
  return {
    selection,
    everybody,
    count: everybody ? total : ids.length,
    only: !everybody && ids.length === 1 ? (ids[0] ?? null) : null,
    choose: (model: GridRowSelectionModel) => {
      setSelection(model);
      setEverybody(false);
    },
    chooseAll: () => setEverybody(true),
    run: (action: Record<string, unknown>) => ({
      bulk: JSON.stringify({
        ids: everybody ? null : ids,
        query: everybody ? Object.fromEntries(params) : {},
        action,
      }),
    }),
    exportTo: (kind: string) => {
      const query = new URLSearchParams(everybody ? params : undefined);
      if (!everybody) query.set("ids", ids.join(","));
      query.set("as", kind);
      return `/prospects/export?${query}`;
    },
  };
}

const number = (of: number) => of.toLocaleString("en-GB");

function foundWords(total: number, list: string | undefined, isFiltered: boolean): string {
  const where = list ? `on “${list}”` : isFiltered ? (total === 1 ? "matches" : "match") : "on your lists";
  return `${total === 1 ? "person" : "people"} ${where}`;
}

function WhatListsNeed() {
  return (
    <MarginNote title="What a list needs">
      <Typography>
        A name and a company are enough: the address is found by how the company writes its others. What an
        import brings is cleaned, and nothing is stored before you have seen it.
      </Typography>
    </MarginNote>
  );
}

import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { webApp } from "../../../server/app";
import {
  closeForm,
  fieldChoices,
  formOfList,
  formSnippet,
  saveForm,
} from "../../../server/prospects/forms/forms";
import { sequenceChoices } from "../../../server/sequences/add-people";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { ListQuality } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { NextStep } from "../next-step";
import { requireList } from "../require-list";
import { fieldName } from "../words";
import type { Route } from "./+types/list-form";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const by = context.get(userContext).id;
  const { list, state } = requireList(app, by, params.id);
  const form = formOfList(app, context.get(userContext).id, list.id);
  return {
    list,
    state,
    form,
    snippet: form ? formSnippet(app.config.url, form) : "",
    known: fieldChoices(app),
    sequences: sequenceChoices(app, by),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const form = await readForm(request);
  const userId = context.get(userContext).id;
  if (form.intent !== "close" && form.intent !== "open" && form.intent !== "save")
    return unknownIntent(form.intent);
  return form.intent === "close"
    ? closeForm(app, userId, Number(params.id))
    : saveForm(app, userId, {
        listId: params.id,
        sequenceId: form.sequenceId ?? "",
        ...(form.fields !== undefined && { fields: readText(form.fields) }),
      });
}

export default function FormPage({ loaderData }: Route.ComponentProps) {
  const { list, state, form, snippet, sequences, known } = loaderData;
  const act = useAction();
  const save = (change: { sequenceId?: number | null; fields?: string[] }) =>
    act.press({
      intent: "save",
      sequenceId: String((change.sequenceId === undefined ? form?.sequenceId : change.sequenceId) ?? ""),
      fields: JSON.stringify(change.fields ?? form?.fields ?? []),
    });
  const [copied, setCopied] = useState(false);
  return (
    <Page
      heading={
        form
          ? `${count(form.entries, "person", "people")} came through the form of “${list.name}”`
          : `“${list.name}” has no web form`
      }
      actions={
        <>
          {form ? (
            <Button onClick={() => act.press({ intent: "close" })}>Close the form</Button>
          ) : (
            <Button variant="contained" onClick={() => act.press({ intent: "open" })}>
              Open a form
            </Button>
          )}
          <NextStep list={list} state={state} at="people" isQuiet />
        </>
      }
      margin={
        <>
          <MarginNote title="What happens to an entry">
            <Typography component="div">
              <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 0.75 }}>
                <li>It is cleaned and lands on this list; somebody known is put on it as they are.</li>
                <li>Its address is verified by itself.</li>
                <li>What it does not ask for is left out, whatever an entry brings.</li>
                <li>Whoever is on the block list or was erased is thanked and not kept.</li>
                <li>One caller can send six entries a minute.</li>
              </Box>
            </Typography>
          </MarginNote>
          <ListQuality state={state} title={`“${list.name}”`} />
        </>
      }
    >
      <Refusal errors={act.errors} />
      <ListTabs list={list} state={state} />
      {form ? (
        <>
          <Typography variant="h2" sx={{ mb: 1 }}>
            Copy this into your site
          </Typography>
          <Paper
            variant="outlined"
            component="pre"
            tabIndex={0}
            aria-label="HTML of the form"
            sx={{ p: 2, overflowX: "auto", fontSize: 12.5, m: 0 }}
          >
            {snippet}
          </Paper>
          <Button
            sx={{ mt: 1.5, mb: 4 }}
            onClick={() => {
              void navigator.clipboard?.writeText(snippet);
              setCopied(true);
            }}
          >
            {copied ? "Copied" : "Copy it"}
          </Button>
          <Typography variant="h2" sx={{ mb: 1 }}>
            Ask for more than address, name and company
          </Typography>
          <Autocomplete
            multiple
            freeSolo
            options={known.filter((name) => !form.fields.includes(name))}
            value={form.fields}
            onChange={(_, fields) => save({ fields })}
            getOptionLabel={(name) => fieldName(`custom:${name}`)}
            renderInput={(input) => (
              <TextField
                {...input}
                label="Fields of your own"
                helperText="Choose one, or type a new one and press Enter. The lines above change with it; copy them again."
              />
            )}
            sx={{ maxWidth: 560, mb: 4 }}
          />
          <Typography variant="h2" sx={{ mb: 1 }}>
            Start a sequence for whoever fills it in
          </Typography>
          <TextField
            select
            label="Sequence"
            value={form.sequenceId ?? ""}
            onChange={(event) => save({ sequenceId: Number(event.target.value) || null })}
            helperText="Only while the sequence runs."
            sx={{ maxWidth: 360 }}
          >
            <MenuItem value="">None; they wait on the list</MenuItem>
            {form.sequenceId !== null && !sequences.some(({ id }) => id === form.sequenceId) && (
              <MenuItem value={form.sequenceId} disabled>
                {form.sequenceName}
              </MenuItem>
            )}
            {sequences.map(({ id, name }) => (
              <MenuItem key={id} value={id}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        </>
      ) : (
        <Empty
          title="Let people come to you"
          text="Open a form, copy a few lines of HTML into your web site, and everybody who fills it in lands on this list."
        />
      )}
    </Page>
  );
}

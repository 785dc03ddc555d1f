import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, redirect } from "react-router";
import { ownNameOf } from "../../../core/languages";
import { webApp } from "../../../server/app";
import { allTemplates, createTemplate, removeTemplate } from "../../../server/pages/templates";
import { userContext } from "../../accounts/session";
import { Confirm, FormDialog } from "../../components/dialogs";
import { Empty, MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { Sharing } from "../../components/sharing";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import type { Route } from "./+types/pages";

export function loader({ context }: Route.LoaderArgs) {
  return { pages: allTemplates(webApp(), context.get(userContext).id) };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const by = context.get(userContext).id;
  const form = await readForm(request);
  switch (form.intent) {
    case "create": {
      const made = createTemplate(app, by, { name: form.name, from: form.from });
      return made.ok ? redirect(`/pages/${made.value}`) : made;
    }
    case "remove":
      return removeTemplate(app, by, Number(form.id));
    default:
      return unknownIntent(form.intent);
  }
}

export default function Pages({ loaderData: { pages } }: Route.ComponentProps) {
  const [making, setMaking] = useState<{ from: number | null; name: string } | null>(null);
  const [removing, setRemoving] = useState<(typeof pages)[number] | null>(null);
  const act = useAction();
  const make = (
    <Button variant="contained" onClick={() => setMaking({ from: null, name: "" })}>
      New page
    </Button>
  );
  const visited = pages.reduce((sum, page) => sum + page.visited, 0);
  const heading =
    pages.length === 0
      ? "No page yet"
      : visited === 0
        ? `${count(pages.length, "page")}, and nobody has looked yet`
        : `${count(visited, "person has", "people have")} looked at their page`;
  return (
    <Page
      heading={heading}
      sub="Each prospect gets a page of their own: your film, what you have to say to them, and times for a call."
      actions={pages.length > 0 && make}
      margin={
        <>
          <MarginNote title="How it gets to them">
            <Typography color="textSecondary">
              Choose the page in a sequence’s settings, and put “page link” or “page picture” into an email.
              The picture moves: you beside their site, with their name on it.
            </Typography>
          </MarginNote>
          <MarginNote title="Who sees it">
            <Typography color="textSecondary">
              Only somebody with the link. No search engine is let in, and a page says nothing of anybody
              else. It ends after its days, and goes with the person where they are erased.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={act.errors} />
      {pages.length === 0 ? (
        <Empty
          title="A face, their name, and a time to talk"
          text="Make one page for a list: it is filled in anew for each person, in their language, with their company’s name and logo."
          action={make}
        />
      ) : (
        pages.map((page) => (
          <Row key={page.id} sx={{ display: "flex", alignItems: "center", gap: 2, flexWrap: "wrap" }}>
            <Box sx={{ flex: "1 1 260px", minWidth: 0 }}>
              <Typography variant="h3" component="h2">
                <Link to={`/pages/${page.id}`}>{page.name}</Link>
              </Typography>
              <Typography color="textSecondary">
                {page.pages === 0
                  ? "Nobody has one yet"
                  : `${count(page.pages, "person has", "people have")} one · ${page.visited} looked · ${page.watched} watched half of it or more`}
                {page.languages.length > 1 && ` · ${page.languages.map(ownNameOf).join(", ")}`}
              </Typography>
            </Box>
            <Box sx={{ width: 260 }}>
              <Sharing kind="page" id={page.id} shared={page.shared} />
            </Box>
            <Button size="small" onClick={() => setMaking({ from: page.id, name: `${page.name}, copy` })}>
              Copy
            </Button>
            <Button size="small" color="error" onClick={() => setRemoving(page)}>
              Remove
            </Button>
          </Row>
        ))
      )}
      {making && (
        <FormDialog
          title={making.from === null ? "A new page" : "A copy"}
          act="Make it"
          intent="create"
          onClose={() => setMaking(null)}
        >
          {(errors) => (
            <>
              {making.from !== null && <input type="hidden" name="from" value={making.from} />}
              <TextField
                name="name"
                label="Its name; only the team sees it"
                defaultValue={making.name}
                autoFocus
                error={!!errors.name}
                helperText={errors.name}
              />
            </>
          )}
        </FormDialog>
      )}
      {removing && (
        <Confirm
          title={`Remove “${removing.name}”?`}
          keep="Keep it"
          act="Remove it"
          isDanger
          onClose={() => setRemoving(null)}
          onAct={() => {
            act.press({ intent: "remove", id: String(removing.id) });
            setRemoving(null);
          }}
        >
          {removing.pages > 0
            ? `${count(removing.pages, "person has", "people have")} a link to it. Their links say from then on that the page is no longer here.`
            : "Nobody has a link to it."}
        </Confirm>
      )}
    </Page>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, redirect } from "react-router";
import { webApp } from "../../../server/app";
import { latestImports } from "../../../server/prospects/imports/open-import";
import { receiveUpload } from "../../../server/prospects/imports/receive-upload";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import type { Route } from "./+types/prospects-import";

export function loader({ context }: Route.LoaderArgs) {
  return { imports: latestImports(webApp()), zone: context.get(userContext).zone };
}

export async function action({ request, context }: Route.ActionArgs) {
  const uploaded = await receiveUpload(webApp(), context.get(userContext).id, request);
  if (!uploaded.ok) return uploaded;
  throw redirect(`/prospects/imports/${uploaded.value}`);
}

export default function ImportPage({ loaderData }: Route.ComponentProps) {
  const upload = useAction({ as: "file" });
  const choose = (file: File | undefined) => {
    if (!file) return;
    const form = new FormData();
    form.set("file", file);
    upload.press(form);
  };
  return (
    <Page
      heading="Bring a list that you have"
      sub="CSV, TSV or vCard; any delimiter, any usual encoding. Nothing is stored until you have looked through it."
      actions={
        <Button component="a" href="/sample-prospects.csv" download>
          Download a sample
        </Button>
      }
      margin={
        <>
          <MarginNote title="What will happen">
            <Typography component="div">
              <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 1 }}>
                <li>Columns are matched by their names and by what they hold; you correct them.</li>
                <li>Names, companies and places are cleaned, and every change is shown.</li>
                <li>Known people are shown with old and new values; you choose what they keep.</li>
                <li>Rows that cannot be used are named with their line.</li>
                <li>The whole import can be taken back.</li>
              </Box>
            </Typography>
          </MarginNote>
          <MarginNote title="Imports so far">
            {loaderData.imports.map(({ id, fileName, at, state, added }) => (
              <Typography key={id} sx={{ mb: 0.75, wordBreak: "break-word" }}>
                <Link to={`/prospects/imports/${id}`}>{fileName}</Link>
                <br />
                <Typography component="span" variant="body2" color="textSecondary">
                  {dayTime(at, loaderData.zone)} ·{" "}
                  {state === "done"
                    ? `${count(added, "person", "people")} added`
                    : state === "undone"
                      ? "taken back"
                      : "not finished"}
                </Typography>
              </Typography>
            ))}
            {loaderData.imports.length === 0 && <Typography color="textSecondary">None yet.</Typography>}
          </MarginNote>
        </>
      }
    >
      <Refusal errors={upload.errors} />
      <Box
        component="label"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          choose(event.dataTransfer.files[0]);
        }}
        sx={{
          display: "block",
          border: "1.5px dashed",
          borderColor: "tile.line",
          borderRadius: 1,
          bgcolor: "background.paper",
          p: 6,
          textAlign: "center",
          cursor: "pointer",
          "&:focus-within": { outline: "2px solid", outlineColor: "tile.main" },
        }}
      >
        <Typography variant="h2">
          {upload.isBusy ? "Reading …" : "Drop a file here, or choose one"}
        </Typography>
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          Up to 100,000 rows and 50 MB. From a spreadsheet: save as CSV first.
        </Typography>
        <input
          type="file"
          accept=".csv,.tsv,.txt,.vcf,text/csv,text/vcard"
          aria-label="CSV or vCard file"
          onChange={(event) => {
            choose(event.target.files?.[0]);
            event.target.value = "";
          }}
          style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
        />
      </Box>
    </Page>
  );
}

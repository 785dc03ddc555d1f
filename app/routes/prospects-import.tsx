import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useFetcher } from "react-router";
import { type ColumnUse, customFieldName, FIELDS } from "../../core/prospects/columns";
import type { RefusedRow } from "../../core/prospects/rows";
import { MOST_BYTES } from "../../core/prospects/table";
import { webApp } from "../../server/app";
import {
  type ImportPreview,
  type ImportReport,
  importProspects,
  previewImport,
} from "../../server/prospects/import-prospects";
import { MarginNote, Page } from "../components/page";
import { count } from "../components/words";
import { userContext } from "../session";
import type { Route } from "./+types/prospects-import";

interface Answer {
  errors?: Record<string, string>;
  preview?: ImportPreview;
  report?: ImportReport;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Answer> {
  // Checked before the body is read, so that a huge file fills no memory.
  if (Number(request.headers.get("content-length")) > MOST_BYTES + 100_000)
    return { errors: { file: "The file is larger than 50 MB. Split it and import the parts one by one." } };
  const form = await request.formData();
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0)
    return { errors: { file: "Choose a file that is not empty." } };
  const bytes = new Uint8Array(await file.arrayBuffer());
  if (form.get("intent") === "preview") {
    const preview = previewImport(bytes);
    return preview.ok ? { preview: preview.value } : { errors: preview.errors };
  }
  const outcome = importProspects(webApp(), context.get(userContext).id, bytes, {
    listName: form.get("listName"),
    fileName: file.name,
    uses: form.getAll("use"),
  });
  return outcome.ok ? { report: outcome.value } : { errors: outcome.errors };
}

export function loader() {
  return null;
}

export default function ImportPage() {
  const look = useFetcher<Answer>();
  const bring = useFetcher<Answer>();
  const [file, setFile] = useState<File | null>(null);
  const [uses, setUses] = useState<ColumnUse[] | null>(null);
  const [listName, setListName] = useState("");
  const preview = look.data?.preview;
  const report = bring.data?.report;
  const used = uses ?? preview?.uses ?? [];

  function choose(chosen: File | undefined): void {
    if (!chosen) return;
    setFile(chosen);
    setUses(null);
    setListName(chosen.name.replace(/\.[^.]*$/, "").replace(/[-_]+/g, " "));
    send(look, chosen, { intent: "preview" });
  }
  function send(fetcher: typeof look, sent: File, fields: Record<string, string>): void {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) form.set(name, value);
    for (const use of used) form.append("use", use);
    form.set("file", sent);
    fetcher.submit(form, { method: "post", encType: "multipart/form-data" });
  }

  if (report) return <Report report={report} fileName={file?.name ?? ""} />;
  const problem = look.data?.errors?.file ?? bring.data?.errors?.file;
  return (
    <Page
      heading={
        preview ? `${count(preview.rowCount, "row")} in ${file?.name}` : "Import prospects from a CSV file"
      }
      sub={
        preview
          ? "Check what each column is. Nothing is stored until you press the button."
          : "One line of column names on top, then one person a line. Any delimiter, any usual encoding."
      }
      actions={
        preview && (
          <>
            <Button onClick={() => window.location.reload()}>Another file</Button>
            <Button
              variant="contained"
              disabled={bring.state !== "idle"}
              onClick={() => file && send(bring, file, { intent: "import", listName })}
            >
              {bring.state !== "idle" ? "Importing …" : `Import ${count(preview.rowCount, "row")}`}
            </Button>
          </>
        )
      }
      margin={
        <>
          <MarginNote title="What will happen">
            <Typography component="div">
              <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 1 }}>
                <li>People you know already are put on the list and stay as they are.</li>
                <li>Rows with no or a broken address are left out and named with their line.</li>
                <li>Columns that are none of ours become fields of the list, to be used as merge fields.</li>
                <li>It is all or nothing: if anything fails, nothing is stored.</li>
              </Box>
            </Typography>
          </MarginNote>
          {preview && (
            <MarginNote title="Merge fields you will have">
              <Typography variant="body2" sx={{ wordBreak: "break-word" }}>
                {used
                  .filter((use) => use !== "skip")
                  .map((use) => `{{ ${use.replace("custom:", "")} }}`)
                  .join("  ")}
              </Typography>
            </MarginNote>
          )}
        </>
      }
    >
      {problem && (
        <Alert severity="error" sx={{ mb: 2 }}>
          {problem}
        </Alert>
      )}
      {!preview && (
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
            {look.state === "idle" ? "Drop a CSV file here, or choose one" : "Reading …"}
          </Typography>
          <Typography color="textSecondary" sx={{ mt: 1 }}>
            Up to 100,000 rows and 50 MB. From a spreadsheet: save as CSV first.
          </Typography>
          <input
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
            aria-label="CSV file"
            onChange={(event) => choose(event.target.files?.[0])}
            style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
          />
        </Box>
      )}
      {preview && (
        <>
          <TextField
            label="Name of the list"
            value={listName}
            onChange={(event) => setListName(event.target.value)}
            error={!!bring.data?.errors?.listName}
            helperText={
              bring.data?.errors?.listName ?? "A list of this name gets them added; otherwise it is made."
            }
            sx={{ maxWidth: 420, mb: 2.5 }}
          />
          {bring.data?.errors?.uses && (
            <Alert severity="error" sx={{ mb: 2 }}>
              {bring.data.errors.uses}
            </Alert>
          )}
          <Box
            sx={{
              overflowX: "auto",
              bgcolor: "background.paper",
              border: "1px solid",
              borderColor: "divider",
              borderRadius: 1,
            }}
          >
            <Table size="small">
              <TableHead>
                <TableRow>
                  <TableCell sx={{ width: 180 }}>Column in the file</TableCell>
                  <TableCell sx={{ width: 210 }}>is</TableCell>
                  <TableCell>First rows</TableCell>
                </TableRow>
              </TableHead>
              <TableBody>
                {preview.headers.map((header, column) => (
                  <TableRow key={`${header} ${String(column)}`}>
                    <TableCell sx={{ fontWeight: 600 }}>{header || <em>no name</em>}</TableCell>
                    <TableCell>
                      <TextField
                        select
                        variant="standard"
                        value={used[column] ?? "skip"}
                        onChange={(event) =>
                          setUses(
                            used.map((use, index) =>
                              index === column ? (event.target.value as ColumnUse) : use,
                            ),
                          )
                        }
                        slotProps={{ htmlInput: { "aria-label": `${header} is` } }}
                      >
                        {FIELDS.map(({ name, label }) => (
                          <MenuItem key={name} value={name}>
                            {label}
                          </MenuItem>
                        ))}
                        <MenuItem value={`custom:${customFieldName(header)}`}>
                          A field of the list: {customFieldName(header)}
                        </MenuItem>
                        <MenuItem value="skip">Leave it out</MenuItem>
                      </TextField>
                    </TableCell>
                    <TableCell sx={{ color: "text.secondary", maxWidth: 380 }}>
                      <Typography variant="body2" noWrap>
                        {preview.rows.map((row) => row[column] || "–").join("  ·  ")}
                      </Typography>
                    </TableCell>
                  </TableRow>
                ))}
              </TableBody>
            </Table>
          </Box>
        </>
      )}
    </Page>
  );
}

function Report({ report, fileName }: { report: ImportReport; fileName: string }) {
  return (
    <Page
      heading={`${count(report.added, "new person", "new people")} on the list`}
      sub={`From ${fileName}.`}
      actions={
        <>
          <Button component={Link} to={`/prospects?list=${report.listId}`}>
            See the list
          </Button>
          <Button variant="contained" component={Link} to="/sequences">
            Write to them
          </Button>
        </>
      }
      margin={
        <MarginNote title="What was done">
          <Typography component="div">
            <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 0.75 }}>
              <li>{count(report.added, "person", "people")} added</li>
              <li>{count(report.known, "person", "people")} known before, put on the list unchanged</li>
              <li>{count(report.repeated.length, "row")} repeated within the file</li>
              <li>{count(report.refused.length, "row")} left out</li>
            </Box>
          </Typography>
        </MarginNote>
      }
    >
      <Lines
        title={`${count(report.refused.length, "row")} left out`}
        rows={report.refused}
        hint="Correct these lines in the file and import it again; the others will not be added twice."
      />
      <Lines
        title={`${count(report.repeated.length, "row")} repeated`}
        rows={report.repeated}
        hint="The first of them was taken."
      />
      {report.refused.length + report.repeated.length === 0 && (
        <Alert severity="success">Every row of the file is on the list.</Alert>
      )}
    </Page>
  );
}

const MOST_LINES = 200;

function Lines({ title, rows, hint }: { title: string; rows: RefusedRow[]; hint: string }) {
  if (rows.length === 0) return null;
  return (
    <Box component="section" sx={{ mb: 3 }}>
      <Typography variant="h2">{title}</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {hint}
      </Typography>
      {rows.slice(0, MOST_LINES).map(({ line, reason }) => (
        <Box
          key={line}
          sx={{ display: "flex", gap: 2, borderTop: "1px solid", borderColor: "divider", py: 0.8 }}
        >
          <Typography sx={{ width: 90, fontWeight: 600 }}>Line {line}</Typography>
          <Typography>{reason}</Typography>
        </Box>
      ))}
      {rows.length > MOST_LINES && (
        <Typography color="textSecondary">and {rows.length - MOST_LINES} more</Typography>
      )}
    </Box>
  );
}

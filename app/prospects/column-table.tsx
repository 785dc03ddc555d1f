/** What each column of a file is, with its first values. */

import Paper from "@mui/material/Paper";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type ColumnUse, customFieldName, FIELDS } from "../../core/prospects/columns";
import { Choice } from "../components/choice";

export function ColumnTable(props: {
  headers: string[];
  preview: string[][];
  uses: ColumnUse[];
  onUses: (uses: ColumnUse[]) => void;
  listName: string;
  onListName: (name: string) => void;
}) {
  return (
    <>
      <TextField
        label="Name of the list"
        value={props.listName}
        onChange={(event) => props.onListName(event.target.value)}
        helperText="A list of this name gets them added; otherwise it is made."
        sx={{ maxWidth: 420, mb: 2.5 }}
      />
      <Paper variant="outlined" sx={{ overflowX: "auto" }}>
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell sx={{ width: 180 }}>Column in the file</TableCell>
              <TableCell sx={{ width: 230 }}>is</TableCell>
              <TableCell>First rows</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {props.headers.map((header, column) => (
              <TableRow key={`${header} ${String(column)}`}>
                <TableCell sx={{ fontWeight: 600 }}>{header || <em>no name</em>}</TableCell>
                <TableCell>
                  <Choice
                    variant="standard"
                    value={props.uses[column] ?? "skip"}
                    onChange={(chosen) =>
                      props.onUses(
                        props.uses.map((use, index) => (index === column ? (chosen as ColumnUse) : use)),
                      )
                    }
                    slotProps={{ htmlInput: { "aria-label": `${header} is` } }}
                    options={[
                      ...FIELDS.map(({ name, label }) => [name, label] as const),
                      [
                        `custom:${customFieldName(header)}`,
                        `A field of the list: ${customFieldName(header)}`,
                      ],
                      ["skip", "Leave it out"],
                    ]}
                  />
                </TableCell>
                <TableCell sx={{ color: "text.secondary", maxWidth: 380 }}>
                  <Typography variant="body2" noWrap>
                    {props.preview.map((row) => row[column] || "–").join("  ·  ")}
                  </Typography>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Paper>
    </>
  );
}

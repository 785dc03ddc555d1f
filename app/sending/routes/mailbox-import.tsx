import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { type AddedLine, addFromCsv } from "../../../server/sending/mailboxes/add-mailbox";
import { userContext } from "../../accounts/session";
import { Field } from "../../components/field";
import { MarginNote, Page } from "../../components/page";
import { Row } from "../../components/row";
import { ActionForm, useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readForm } from "../../desk/read-form";
import type { Route } from "./+types/mailbox-import";

const MOST = 200_000;

export async function action({ request, context }: Route.ActionArgs) {
  const { csv = "" } = await readForm(request);
  if (csv.length > MOST) return refused({ csv: "This is too much for 200 mailboxes." });
  return addFromCsv(webApp(), context.get(userContext), csv);
}

const EXAMPLE = `address,password,sender name,daily limit,pools
marta@quillwater.example,an app password,Marta Quintela,30,Spring
m.quintela@quillwater.example,an app password,Marta Quintela,20,Spring`;

export default function MailboxImport() {
  const send = useAction<AddedLine[]>();
  const { isBusy: busy, value: lines } = send;
  const added = lines?.filter(({ problem }) => problem === null).length ?? 0;
  return (
    <Page
      heading={
        lines === null
          ? "Add many mailboxes at once"
          : `${count(added, "mailbox was", "mailboxes were")} added, ${lines.length - added} not`
      }
      sub="One line each. Servers are found from the addresses and asked; what does not work is not added."
      actions={
        <Button component={Link} to="/sending">
          Back to Sending
        </Button>
      }
      margin={
        <MarginNote title="Columns">
          <Typography>
            Needed: address, password. Others: sender name, signature, user name, smtp server, smtp port, imap
            server, imap port, daily limit, hourly limit, ramp start, ramp step, reply to, tags, pools. Their
            order does not matter.
          </Typography>
        </MarginNote>
      }
    >
      <ActionForm of={send} sx={{ display: "grid", gap: 2, maxWidth: 860 }}>
        <Field
          name="csv"
          label="CSV"
          multiline
          minRows={6}
          maxRows={14}
          placeholder={EXAMPLE}
          errors={send.errors}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Box>
          <Button type="submit" variant="contained" disabled={busy}>
            {busy ? "Asking the servers …" : "Check and add them all"}
          </Button>
        </Box>
      </ActionForm>
      {lines && (
        <Box role="status" sx={{ mt: 3 }}>
          {lines.map(({ line, address, problem }) => (
            <Row columns="60px minmax(0, 240px) minmax(0, 1fr)" key={line}>
              <Typography color="textSecondary">line {line}</Typography>
              <Typography noWrap>{address}</Typography>
              <Typography sx={{ color: problem ? "clay.main" : "kelp.text" }}>
                {problem ? `! ${problem}` : "✓ added"}
              </Typography>
            </Row>
          ))}
        </Box>
      )}
    </Page>
  );
}

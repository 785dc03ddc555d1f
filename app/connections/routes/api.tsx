/** The API's documentation, made from what checks the requests; it needs no network. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { type DocumentedOperation, documentation, type FieldLine } from "../../../server/api/documentation";
import { webApp } from "../../../server/app";
import { CopiedText } from "../../components/copied-text";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Row } from "../../components/row";
import type { PageHandle } from "../../desk/live";
import { ConnectionPlaces } from "../places";
import type { Route } from "./+types/api";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ request }: Route.LoaderArgs) {
  const { url } = webApp().config;
  const areas = documentation(url);
  const asked = new URL(request.url).searchParams.get("area");
  const [first] = areas;
  const shown = areas.find(({ area }) => area === asked) ?? first;
  return {
    url,
    shown,
    areas: areas.map(({ area, about, operations }) => ({ area, about, count: operations.length })),
  };
}

export default function ApiDocumentation({ loaderData }: Route.ComponentProps) {
  const { url, shown, areas } = loaderData;
  const total = areas.reduce((sum, { count }) => sum + count, 0);
  return (
    <Page
      heading={`${total} things that a program can do here`}
      sub={
        <>
          At <code>{url}/api/v1</code>, with JSON. For machines:{" "}
          <a href={`${url}/api/v1/openapi.json`}>the description as OpenAPI 3.1</a>.
        </>
      }
      margin={<Conventions />}
    >
      <ConnectionPlaces at="/connections/api" />
      <Box
        component="nav"
        aria-label="Areas of the API"
        sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", mb: 2.5 }}
      >
        {areas.map(({ area, count }) => (
          <Button
            key={area}
            component={Link}
            to={`/connections/api?area=${area}`}
            size="small"
            aria-current={area === shown?.area ? "page" : undefined}
            sx={{
              fontWeight: area === shown?.area ? 700 : 400,
              textDecoration: area === shown?.area ? "underline" : "none",
            }}
          >
            {area} {count}
          </Button>
        ))}
      </Box>
      {shown?.operations.map((operation) => (
        <Operation key={operation.name} operation={operation} />
      ))}
    </Page>
  );
}

function Operation({ operation }: { operation: DocumentedOperation }) {
  const { name, method, path, does, scope, parameters, body, answer, example } = operation;
  return (
    <Box component="section" id={name} aria-label={does} sx={{ mb: 4 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", flexWrap: "wrap" }}>
        <Pill tone={method === "GET" ? "kelp" : "tile"}>{method}</Pill>
        <Typography
          component="code"
          sx={{ fontFamily: "ui-monospace, monospace", fontSize: 13.5, overflowWrap: "anywhere" }}
        >
          {path}
        </Typography>
        <Typography variant="body2" color="textSecondary">
          {scope}
        </Typography>
      </Box>
      <Typography variant="h3" component="h2" sx={{ my: 1 }}>
        {does}
      </Typography>
      <CopiedText text={example} label={`${name} as a command`} />
      <Fields title="Parameters" lines={parameters} />
      <Fields title="Body" lines={body} />
      <Box component="details" sx={{ mt: 1, "& summary": { cursor: "pointer" } }}>
        <summary>What it answers</summary>
        <Fields title="" lines={answer} />
      </Box>
    </Box>
  );
}

function Fields({ title, lines }: { title: string; lines: readonly FieldLine[] }) {
  if (lines.length === 0) return null;
  return (
    <Box sx={{ mt: 1.25 }}>
      {title && (
        <Typography variant="label" color="textSecondary">
          {title}
        </Typography>
      )}
      {lines.map(({ name, type, isRequired, about }) => (
        <Row key={name} columns={{ xs: "1fr", sm: "200px 170px minmax(0, 1fr)" }} sx={{ py: 0.5 }}>
          <Box component="code" sx={{ fontSize: 12.5, overflowWrap: "anywhere" }}>
            {name}
          </Box>
          <Typography variant="body2" color="textSecondary">
            {type}
            {isRequired ? ", needed" : ""}
          </Typography>
          <Typography variant="body2">{about}</Typography>
        </Row>
      ))}
    </Box>
  );
}

function Conventions() {
  return (
    <>
      <MarginNote title="Who asks">
        <Typography>
          Each request carries a key: <code>Authorization: Bearer …</code>. It needs the scope that stands
          beside the operation. <Link to="/connections">Make a key</Link>.
        </Typography>
      </MarginNote>
      <MarginNote title="Long lists">
        <Typography>
          Take <code>next</code> of an answer as the next <code>cursor</code>, until it is null.{" "}
          <code>fields</code> names what you want of each.
        </Typography>
      </MarginNote>
      <MarginNote title="Twice is once">
        <Typography>
          With an <code>Idempotency-Key</code> the same request is carried out once, however often it is sent
          within a day. Of a request in bulk that broke off, the rest is done.
        </Typography>
      </MarginNote>
      <MarginNote title="Two at once">
        <Typography>
          Send the <code>ETag</code> of what you read as <code>If-Match</code>: a change on an old state is
          refused (412).
        </Typography>
      </MarginNote>
      <MarginNote title="What goes wrong">
        <Typography>
          Is said as RFC 9457 asks, with <code>type</code>, <code>detail</code>, and <code>errors</code> by
          field. How much a key may still ask stands in the header <code>RateLimit</code>.
        </Typography>
      </MarginNote>
    </>
  );
}

/** The people behind a number of a sequence's results. */
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { data, Link } from "react-router";
import { webApp } from "../../../server/app";
import { behindQuery, peopleBehind } from "../../../server/results/people-behind";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { count, day } from "../../components/words";
import { Figures } from "../tables";
import { PICK_WORDS } from "../words";
import type { Route } from "./+types/people";

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const { id, zone } = context.get(userContext);
  const search = new URL(request.url).searchParams;
  const query = behindQuery.parse(Object.fromEntries(search));
  const found = peopleBehind(app, id, Number(params.id), query, zone);
  if (!found) throw data("This sequence does not exist, or no longer.", { status: 404 });
  const at = `/results/${Number(params.id)}`;
  const table = `${at}/table?${new URLSearchParams([...[...search].filter(([name]) => name !== "page"), ["show", "people"]])}`;
  for (const name of ["pick", "step", "page"]) search.delete(name);
  return { ...found, ...query, zone, table, back: `${at}?${search}` };
}

export default function PeopleBehind({ loaderData }: Route.ComponentProps) {
  const { name, step, people, total, pageSize, page, pick, zone, back, table } = loaderData;
  return (
    <Page
      heading={`${count(total, "person", "people")} ${PICK_WORDS[pick](total)}`}
      sub={
        <>
          <Link to={back}>{name}</Link>
          {step !== null && `, “${step}”`}
        </>
      }
      actions={
        total > 0 && (
          <Button variant="outlined" href={table} download>
            Download
          </Button>
        )
      }
      margin={
        <MarginNote title="Who is here">
          <Typography>
            The latest start first. Open one to see their whole story; to write to all of them, put them on a
            list from the prospects page.
          </Typography>
        </MarginNote>
      }
    >
      {people.length === 0 ? (
        <Empty title="Nobody" text="Nobody of this look is behind this number." />
      ) : (
        <Figures
          name="People"
          rows={people}
          keyOf={({ journeyId }) => String(journeyId)}
          columns={[
            {
              title: "Name",
              of: (person) => <Link to={`/prospects/${person.prospectId}`}>{person.name}</Link>,
            },
            { title: "Job", of: (person) => person.title || "–" },
            { title: "Company", of: (person) => person.company || "–" },
            { title: "Started", of: (person) => day(person.startedAt, zone) },
            {
              title: "Answered",
              of: (person) => (person.answeredAt === null ? "–" : day(person.answeredAt, zone)),
            },
          ]}
        />
      )}
      <Pager page={page} pageSize={pageSize} total={total} />
    </Page>
  );
}

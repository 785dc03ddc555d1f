/** An import as its page shows it, at each stage. */
import { afterEach, beforeEach, expect, it } from "vitest";
import { unwatched } from "../../jobs/report.ts";
import { createWorld, type World } from "../../tests/world.ts";
import { importById } from "./imports.ts";
import { leftOutCsv } from "./left-out.ts";
import { askLookThrough, lookThrough } from "./look-through.ts";
import { latestImports, openImport } from "./open-import.ts";
import { askImport, runImport } from "./run-import.ts";
import { undoImport } from "./undo-import.ts";
import { uploadImport } from "./upload-import.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

const CSV =
  "Work email,Given name,Hall\nana@kai.example,ANA,7\nbroken,Bia,8\nana@kai.example,Ana,7\nсara@kai.example,Cara,9\nd@kai.example,D,1\ne@kai.example,E,2\nf@kai.example,F,3\n";

function upload(name = "halls.csv"): number {
  const uploaded = uploadImport(world.app, world.userId, { name, bytes: new TextEncoder().encode(CSV) });
  if (!uploaded.ok) throw new Error(JSON.stringify(uploaded.errors));
  return uploaded.value;
}
const open = (id: number) => {
  const opened = openImport(world.app, null, id);
  if (!opened) throw new Error("no import");
  return opened;
};
async function look(id: number): Promise<void> {
  const { settings } = importById(world.app, id) as NonNullable<ReturnType<typeof importById>>;
  expect(askLookThrough(world.app, world.userId, id, { ...settings, listName: "Halls" }).ok).toBe(true);
  await lookThrough(world.app, id, unwatched);
}

it("first shows how the columns were matched, with the first rows as they are in the file", () => {
  const { state, headers, preview, settings, listName } = open(upload());
  expect(state).toBe("columns");
  expect(headers).toEqual(["Work email", "Given name", "Hall"]);
  expect(settings.uses).toEqual(["email", "first_name", "custom:hall"]);
  expect(preview).toHaveLength(5);
  expect(preview[0]).toEqual(["ana@kai.example", "ANA", "7"]);
  expect(listName).toBeNull();
});

it("then what would come of it, each row that a person should see under its kind", async () => {
  const id = upload();
  await look(id);
  const { state, report, hasLeftOut, knownRows } = open(id);
  expect(state).toBe("ready");
  expect(report).toMatchObject({ added: 5, refused: 1, repeated: 1 });
  const lines = Object.fromEntries(
    (report.problems ?? []).map(({ problem, examples }) => [problem, examples.map(({ line }) => line)]),
  );
  // The first letter of the address on line 5 is Cyrillic.
  expect(lines).toEqual({ broken_address: [3], repeated: [4], look_alikes: [5], doubtful_name: [6, 7, 8] });
  expect(hasLeftOut).toBe(true);
  expect(knownRows).toEqual([]);
});

it("offers the rows that are left out as a file, with their lines and why", async () => {
  const id = upload();
  await look(id);
  const [head, ...rows] = (leftOutCsv(world.app, id) ?? "").trim().split("\r\n");
  expect(head).toBe("Work email,Given name,Hall,Line in the file,Why it was left out");
  expect(rows).toEqual([
    "broken,Bia,8,3,“broken” has no @",
    "ana@kai.example,Ana,7,4,ana@kai.example is on line 2 already",
  ]);
});

it("at the end the list that they went to; the file itself is gone, and a taken back import says so", async () => {
  const id = upload();
  await look(id);
  expect(askImport(world.app, world.userId, id).ok).toBe(true);
  expect(open(id).state).toBe("importing");
  await runImport(world.app, id, unwatched);
  expect(open(id)).toMatchObject({ state: "done", listName: "Halls", headers: [], preview: [] });
  undoImport(world.app, null, id);
  expect(open(id).state).toBe("undone");
  expect(latestImports(world.app)).toMatchObject([{ id, fileName: "halls.csv", state: "undone" }]);
});

it("the latest six are offered, the newest first; one that there is not opens nothing", () => {
  const ids = Array.from({ length: 7 }, (_, index) => upload(`${index}.csv`));
  expect(latestImports(world.app).map(({ id }) => id)).toEqual(ids.toReversed().slice(0, 6));
  expect(openImport(world.app, null, 99)).toBeNull();
});

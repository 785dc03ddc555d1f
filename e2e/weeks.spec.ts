import { HERE } from "./addresses.ts";
import { choose, importList, moveClock, open } from "./desk.ts";
import { expect, test } from "./world.ts";

/** By the stand-in's seed the first of them accepts within a day, the other never. */
const RITA = "https://vitrine.example/people/rita-46";
const NEVER = "https://vitrine.example/people/nunca-9";

const FILE = JSON.stringify({
  format: "saudade-sequence",
  version: 1,
  name: "Vitrine season",
  path: [
    { id: "look", kind: "profile_view", name: "Look", wait: { days: 0, working: true }, text: "" },
    {
      id: "invite",
      kind: "invitation",
      name: "Invite",
      wait: { hours: 1 },
      text: "Hello {{ first_name }}, may we?",
    },
    {
      id: "fork",
      kind: "fork",
      ask: { about: "accepted" },
      patience: { days: 10, working: true },
      yes: [
        {
          id: "thanks",
          kind: "social_message",
          name: "Thanks",
          wait: { hours: 1 },
          text: "Thank you, {{ first_name }}.",
        },
      ],
      no: [{ id: "end", kind: "end" }],
    },
  ],
});

test("a social sequence goes by itself, from the view over the acceptance to the message", async ({
  page,
}) => {
  await importList(
    page,
    "Social houses",
    `email,first name,company,time zone,profile\nrita@vitrine-um.example,Rita,Casa Um,Europe/Lisbon,${RITA}\nnuno@vitrine-dois.example,Nuno,Casa Dois,Europe/Lisbon,${NEVER}\n`,
  );
  await open(page, "/sequences/new");
  await page
    .getByLabel("Sequence file")
    .setInputFiles({ name: "social.json", mimeType: "application/json", buffer: Buffer.from(FILE) });
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Vitrine season");
  await page.getByRole("tab", { name: "Who, when, from where" }).click();
  await choose(page, page.getByLabel("Writes to the list"), /^Social houses /);
  await choose(page, page.getByLabel("Social touches are made"), /by themselves, from Marta Quintela/);
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.getByRole("link", { name: "Check and start 2" }).click();
  await page.getByRole("button", { name: /^Start/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Started for 2/);

  const acts = async () => {
    const answer = await fetch(`http://127.0.0.1:${HERE.ports.social}/acts`, {
      headers: { connection: "close" },
    });
    const { acts: all } = (await answer.json()) as {
      acts: { kind: string; profile: string; text: string }[];
    };
    return all.map(({ kind, profile, text }) => `${kind} ${profile.split("/").at(-1)} ${text}`.trim());
  };
  for (let morning = 0; morning < 5 && !(await acts()).some((act) => act.startsWith("message")); morning++)
    await moveClock(page, "Next morning");
  const made = await acts();
  expect(made.slice(0, 2).toSorted()).toEqual(["view nunca-9", "view rita-46"]);
  expect(made).toContain("invitation rita-46 Hello Rita, may we?");
  expect(made).toContain("invitation nunca-9 Hello Nuno, may we?");
  expect(made.filter((act) => act.startsWith("message"))).toEqual(["message rita-46 Thank you, Rita."]);
  // None of it was asked of the rep.
  await open(page, "/");
  await expect(page.getByText("Vitrine season")).toBeHidden();
  await open(page, "/settings?show=sending");
  await expect(
    page.getByText(/in 7 days 2 of 200 views, 2 of 80 invitations, 1 of 150 messages/),
  ).toBeVisible();
});

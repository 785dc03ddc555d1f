/** Reading, finding and ordering at the sizes of a busy team: each against the bare work in the same run. */
import { readFileSync } from "node:fs";
import { simpleParser } from "mailparser";
import { DAY, MINUTE } from "../core/calendar.ts";
import { busyTimes } from "../core/meetings/calendar-events.ts";
import { freeTimes } from "../core/meetings/free-times.ts";
import { readLetter } from "../core/replies/letter.ts";
import { unpackModel } from "../core/replies/model-file.ts";
import { sortReply } from "../core/replies/sort.ts";
import { readTraining } from "../core/replies/train.ts";
import type { User } from "../server/accounts/session.ts";
import type { App } from "../server/app.ts";
import { desk } from "../server/desk/reading-desk.ts";
import { searchMessages } from "../server/replies/search-messages.ts";
import { todoList } from "../server/today/todo-list.ts";
import { type Figure, median } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";

const NOW = Date.parse("2026-06-09T10:00:00Z");
const timed = (work: () => void): number => {
  const started = performance.now();
  work();
  return performance.now() - started;
};
const p95 = (values: readonly number[]) =>
  values.toSorted((a, b) => a - b)[Math.floor(values.length * 0.95)] as number;
const round = (value: number) => Number(value.toFixed(1));

/** An email of ours, as it stands below every second letter. */
const OURS = {
  subject: "Loans",
  text: 'Dear Ana,\n\nyour new hall opens in May, and loans travel badly in March. Would a quarter of an hour next week be of use?\n\nIf you would rather not hear from me, answer "stop".\n\nMarta',
  fromName: "Marta Quintela",
  fromAddress: "marta@q.example",
  recipient: "ana@b.example",
};
const FACTS = {
  headers: new Map<string, string>(),
  fromAddress: "ana@b.example",
  subject: "Re: Loans",
  deliveryStatus: null,
};

/** 1,000 replies parted from what they quote of ours, and sorted, against taking as many letters apart as a mail program does. */
export async function benchSortReplies(): Promise<Figure> {
  const model = unpackModel(JSON.parse(readFileSync("core/replies/model.json", "utf8")));
  const letters = readTraining(readFileSync("core/replies/unseen.txt", "utf8"), "several").map(
    ({ text }) => `Dear Marta,\n\n${text}\n\nKind regards,\nAna Lind\nHead of Registration`,
  );
  const letter = (nth: number) => {
    const text = letters[nth % letters.length] as string;
    return nth % 2 === 0 ? text : `${text}\n\nMarta Quintela wrote:\n\n${OURS.text}`;
  };
  const sort = (nth: number) => {
    const { text, mixed } = readLetter(letter(nth), FACTS, [OURS]);
    return sortReply({ text, mixed, own: [], at: NOW, zone: "UTC", country: "" }, model);
  };
  for (let nth = 0; nth < 200; nth++) sort(nth);
  const ms = timed(() => {
    for (let nth = 0; nth < 1_000; nth++) sort(nth);
  });
  const started = performance.now();
  for (let nth = 0; nth < 1_000; nth++)
    await simpleParser(
      `From: a@b.example\r\nSubject: Re: Loans\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n${letter(nth)}`,
    );
  const parse = performance.now() - started;
  return {
    bench: "sort-replies",
    kind: "most",
    limit: 2.5,
    ratio: Number((ms / parse).toFixed(2)),
    ms: round(ms),
    parseMs: round(parse),
  };
}

const USER: User = {
  id: 1,
  looksAt: "all",
  name: "Marta Quintela",
  email: "m@q.example",
  zone: "Europe/Lisbon",
  bookingSlug: "m",
  role: "rep",
};

/** A team with people, mailboxes, and so many replies and sent letters. */
function fill({ db }: App, { people, letters }: { people: number; letters: number }): void {
  const words =
    "loan sheet humidity registrar gallery sensor autumn price reading store lender case network battery report".split(
      " ",
    );
  const text = (seed: number) =>
    Array.from({ length: 40 }, (_, nth) => words[(seed * 7 + nth * nth * 3 + nth) % words.length]).join(" ");
  db.transaction(() => {
    db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at) VALUES (1, 'm@q.example', 'Marta', 'x', 'Europe/Lisbon', 'm', 0);
      INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
        VALUES (1, 1, 'm@q.example', 'Marta', 'x', 25, 'none', 'x', 143, 'none', 'm', '', 30, 1, 2, 0)`);
    const person = db.prepare(
      "INSERT INTO prospects (id, email, first_name, last_name, company, title, phone, time_zone, created_at) VALUES (?, ?, ?, 'Lind', 'House', 'Registrar', '+351 210 000 000', ?, 0)",
    );
    const zones = ["Europe/Lisbon", "Europe/Berlin", "America/New_York", "Asia/Tokyo"];
    for (let id = 1; id <= people; id++)
      person.run(id, `p${id}@house${id}.example`, `Ana${id}`, zones[id % 4]);
    const sent = db.prepare(
      `INSERT INTO touches (kind, prospect_id, mailbox_id, recipient, state, message_id, subject, body, claimed_at) VALUES ('answer', ?, 1, ?, 'claimed', ?, 'Loans', ?, ?)`,
    );
    const reply = db.prepare(
      `INSERT INTO replies (mailbox_id, message_id, prospect_id, kind, from_address, from_name, answer_to, subject, text, at, read_at, reading)
       VALUES (1, ?, ?, 'person', ?, 'Ana Lind', ?, 'Re: Loans', ?, ?, ?, ?)`,
    );
    const reading = JSON.stringify({
      label: "interested",
      confidence: 0.9,
      sure: true,
      by: "model",
      words: [[0, 4]],
      day: null,
      person: null,
    });
    for (let nth = 0; nth < letters / 2; nth++) {
      const id = (nth % people) + 1;
      const at = NOW - nth * MINUTE;
      sent.run(id, `p${id}@house${id}.example`, `<t${nth}@q>`, `${text(nth)} number${nth}`, at);
      reply.run(
        `<r${nth}@h>`,
        id,
        `p${id}@house${id}.example`,
        `p${id}@house${id}.example`,
        `${text(nth + 5)} word${nth}`,
        at,
        nth < 200 ? null : at,
        reading,
      );
    }
    db.exec("UPDATE touches SET state = 'sent', sent_at = claimed_at WHERE state = 'claimed'");
  })();
}

/** The next reply on the desk with 20,000 messages, against reading its rows bare. */
export async function benchDesk(): Promise<Figure> {
  const { app, close } = freshApp();
  fill(app, { people: 4_000, letters: 20_000 });
  const show = (open: number) => desk(app, USER, { filter: "unread", label: "", search: "", open });
  for (let id = 1; id <= 5; id++) show(id);
  const times = Array.from({ length: 60 }, (_, nth) => timed(() => show(nth + 6)));
  const bare = Array.from({ length: 60 }, (_, nth) =>
    timed(() => {
      app.db.prepare("SELECT * FROM replies WHERE read_at IS NULL ORDER BY at DESC LIMIT 100").all();
      app.db.prepare("SELECT * FROM replies WHERE prospect_id = ?").all(nth + 6);
      app.db.prepare("SELECT * FROM touches WHERE prospect_id = ?").all(nth + 6);
    }),
  );
  close();
  return {
    bench: "desk",
    kind: "most",
    limit: 60,
    ratio: Number((median(times) / median(bare)).toFixed(1)),
    ms: round(median(times)),
    p95Ms: round(p95(times)),
  };
}

/** Search over 200,000 messages, against looking through all of them. */
export async function benchSearch(): Promise<Figure> {
  const { app, close } = freshApp();
  fill(app, { people: 20_000, letters: 200_000 });
  const asked = Array.from(
    { length: 60 },
    (_, nth) =>
      ["humidity lender", `word${nth * 37}`, "loan sheet aut", '"price reading"', `number${nth * 91} sensor`][
        nth % 5
      ] as string,
  );
  searchMessages(app, "battery");
  const times = asked.map((words) => timed(() => searchMessages(app, words)));
  const scan = median(
    Array.from({ length: 3 }, () =>
      timed(
        () =>
          void app.db
            .prepare(
              "SELECT id FROM replies WHERE text LIKE '%word4711%' UNION SELECT id FROM touches WHERE body LIKE '%word4711%'",
            )
            .all(),
      ),
    ),
  );
  close();
  return {
    bench: "search",
    kind: "most",
    limit: 0.6,
    ratio: Number((p95(times) / scan).toFixed(2)),
    p95Ms: round(p95(times)),
    medianMs: round(median(times)),
    scanMs: round(scan),
  };
}

/** Today with 5,000 open touches, against reading them bare. */
export async function benchToday(): Promise<Figure> {
  const { app, close } = freshApp();
  const { db } = app;
  fill(app, { people: 6_000, letters: 4_000 });
  db.transaction(() => {
    db.exec(`INSERT INTO sequences (id, name, user_id, time_zone, state, created_at) VALUES (1, 'Loans', 1, 'Europe/Lisbon', 'running', 0);
      INSERT INTO sequence_versions (sequence_id, number, path, saved_at) VALUES (1, 1, '[{"id":"ring","kind":"call","name":"Ring","note":"","wait":{"days":0,"working":true},"text":"Ask","journey":"waits"}]', 0)`);
    const journey = db.prepare(
      "INSERT INTO journeys (id, sequence_id, prospect_id, version, place_id, since, due_at, started_at) VALUES (?, 1, ?, 1, 'ring', 0, 0, 0)",
    );
    const touch = db.prepare(
      "INSERT INTO touches (kind, journey_id, step_id, prospect_id, user_id, state, at, due_at, body) VALUES (?, ?, 'ring', ?, 1, 'open', ?, ?, 'Ask about the loans.')",
    );
    for (let id = 1; id <= 5_000; id++) {
      journey.run(id, id);
      touch.run(id % 3 === 0 ? "call" : "social_message", id, id, NOW - id * MINUTE, NOW - id * MINUTE);
    }
    db.exec(`INSERT INTO demo_clock (id, base) VALUES (1, ${NOW})`);
  })();
  const times = Array.from({ length: 25 }, () => timed(() => void todoList(app, USER)));
  const bare = median(
    Array.from({ length: 25 }, () =>
      timed(() => void db.prepare("SELECT * FROM touches WHERE state = 'open'").all()),
    ),
  );
  close();
  return {
    bench: "today",
    kind: "most",
    limit: 12,
    ratio: Number((median(times) / bare).toFixed(1)),
    ms: round(median(times)),
    p95Ms: round(p95(times)),
  };
}

/** Free times over 90 days with 10 feeds of 2,000 events each, against merging the same busy times bare. */
export async function benchFreeTimes(): Promise<Figure> {
  const stamp = (at: number) => new Date(at).toISOString().replace(/[-:]|\.\d{3}/g, "");
  const feed = (nth: number) =>
    `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n${Array.from({ length: 2_000 }, (_, at) => {
      const from = NOW + (((at * 61 + nth * 17) % 2_160) * 60 + 7 * nth) * MINUTE;
      return `BEGIN:VEVENT\r\nUID:${nth}-${at}\r\nDTSTART:${stamp(from)}\r\nDTEND:${stamp(from + 25 * MINUTE)}\r\n${at % 50 === 0 ? "RRULE:FREQ=WEEKLY;COUNT=10\r\n" : ""}END:VEVENT\r\n`;
    }).join("")}END:VCALENDAR\r\n`;
  const window = { from: NOW, to: NOW + 91 * DAY };
  const feeds = Array.from({ length: 10 }, (_, nth) => feed(nth));
  const started = performance.now();
  const busy = feeds.flatMap((text) => busyTimes(text, window, "Europe/Lisbon").busy);
  const read = performance.now() - started;
  const rules = {
    hours: { days: [1, 2, 3, 4, 5], opens: "09:00", closes: "17:30" },
    length: 30,
    buffer: 5,
    notice: 2,
    daysAhead: 90,
    mostADay: 4,
  };
  const free = () => freeTimes(NOW, "Europe/Lisbon", rules, [], () => false, busy);
  free();
  const ms = median(Array.from({ length: 15 }, () => timed(() => void free())));
  const bare = median(
    Array.from({ length: 15 }, () => timed(() => void busy.toSorted((a, b) => a.startsAt - b.startsAt))),
  );
  return {
    bench: "free-times",
    kind: "most",
    limit: 25,
    ratio: Number((ms / bare).toFixed(1)),
    ms: round(ms),
    busyTimes: busy.length,
    readFeedsMs: round(read),
  };
}

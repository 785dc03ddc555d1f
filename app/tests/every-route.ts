/** One of everything, and one request for every route and intent: what is asked of all of them is asked over this table. */

import { join } from "node:path";
import { RouterContextProvider } from "react-router";
import { USUAL_SETTINGS } from "../../core/crm/settings.ts";
import { usualDefinition } from "../../core/pages/template.ts";
import type { Act } from "../../core/team/may";
import type { User } from "../../server/accounts/session";
import { type App, webApp } from "../../server/app";
import { seal } from "../../server/secrets";
import { createWorld, email, type World } from "../../server/tests/world";
import { userContext } from "../accounts/session";

export const APP = join(import.meta.dirname, "..");

export const USERS = { owner: 1, colleague: 2, manager: 3 } as const;
export type Who = keyof typeof USERS;

const path = JSON.stringify([
  email("one", 0, { subject: "Loans", body: "Hello" }),
  email("two", 2, { body: "More" }),
]).replaceAll("'", "''");

const calledRule = JSON.stringify({
  when: { kind: "called", list: "Called", mapping: { email: "email" } },
  ...{ filter: "", isOnce: false },
  steps: [{ after: { kind: "now" }, act: { kind: "remind", what: "call", text: "Ring", inDays: 0 } }],
});
const rule = {
  name: "Enough",
  rule: {
    when: { kind: "stage", to: "won" },
    isOnce: false,
    steps: [{ after: { kind: "now" }, act: { kind: "stop" } }],
  },
};

const page = JSON.stringify(usualDefinition("en")).replaceAll("'", "''");

/** One of everything, all of it Marta's. */
export const SEED = `
  UPDATE users SET role = 'rep' WHERE id = 1;
  INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at) VALUES
    (2, 'rui@q.example', 'Rui Abrantes', '', 'Europe/Lisbon', 'rui-1', 'rep', 0),
    (3, 'helga@q.example', 'Helga Lund', '', 'Europe/Lisbon', 'helga-1', 'manager', 0);
  INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port, imap_security,
    username, password_sealed, daily_limit, gap_least, gap_most, created_at, connected_wall) VALUES
    (1, 1, 'marta@q.example', 'Marta', '127.0.0.1', 9, 'none', '127.0.0.1', 9, 'none', 'u', '', 30, 9, 14, 0, 1),
    (2, 2, 'rui@q.example', 'Rui', '127.0.0.1', 9, 'none', '127.0.0.1', 9, 'none', 'u', '', 30, 9, 14, 0, 1);
  INSERT INTO companies (id, name, domain) VALUES (1, 'Kai', 'kai.example'), (2, 'Kaj', 'kaj.example');
  INSERT INTO prospects (id, email, first_name, last_name, company_id, company, owner_id, created_at) VALUES
    (1, 'ana@kai.example', 'Ana', 'Reis', 1, 'Kai', 1, 0), (2, 'bia@kai.example', 'Bia', 'Reis', 1, 'Kai', 1, 0),
    (3, 'caio@kaj.example', 'Caio', 'Sá', 2, 'Kaj', 1, 0), (4, 'dora@kaj.example', 'Dora', 'Sá', 2, 'Kaj', 1, 0);
  INSERT INTO lists (id, name, owner_id, created_at) VALUES (1, 'Museums', 1, 0);
  INSERT INTO list_prospects (list_id, prospect_id) VALUES (1, 1), (1, 2), (1, 3), (1, 4);
  INSERT INTO sequences (id, name, user_id, list_id, time_zone, state, created_at) VALUES
    (1, 'Loans', 1, 1, 'Europe/Lisbon', 'running', 0), (2, 'Draft', 1, 1, 'Europe/Lisbon', 'draft', 0),
    (3, 'One', 1, NULL, 'Europe/Lisbon', 'running', 0);
  UPDATE sequences SET kind = 'single' WHERE id = 3;
  INSERT INTO sequence_versions (sequence_id, number, path, saved_at) VALUES (1, 1, '${path}', 0), (2, 1, '${path}', 0), (3, 1, '${path}', 0);
  INSERT INTO sequence_mailboxes VALUES (1, 1), (2, 1), (3, 1);
  INSERT INTO journeys (id, sequence_id, prospect_id, version, place_id, since, due_at, started_at) VALUES
    (1, 1, 1, 1, 'one', 0, 0, 0), (2, 1, 2, 1, 'one', 0, 0, 0), (3, 1, 3, 1, 'one', 0, 0, 0);
  INSERT INTO touches (id, kind, journey_id, step_id, version, variant_id, prospect_id, user_id, mailbox_id, recipient, state, at, due_at, subject, body, message_id, claimed_at, claimed_wall, undecided_at) VALUES
    (1, 'approved_email', 1, 'one', 1, 'a', 1, 1, NULL, 'ana@kai.example', 'draft', 0, 0, 'Loans', 'Hello', NULL, NULL, NULL, NULL),
    (2, 'call', 2, 'ring', 1, NULL, 2, 1, NULL, '', 'open', 0, 0, '', 'Ring', NULL, NULL, NULL, NULL),
    (3, 'email', 3, 'one', 1, 'a', 3, NULL, 1, 'caio@kaj.example', 'claimed', 0, 0, 'Loans', 'Hello', '<three@q.example>', 0, 0, 1),
    (4, 'answer', NULL, NULL, NULL, NULL, 2, NULL, 1, 'bia@kai.example', 'queued', 0, 99999999999999, 'Re: Loans', 'Later', '<four@q.example>', NULL, NULL, NULL),
    (5, 'email', 2, 'one', 1, 'a', 2, NULL, 1, 'bia@kai.example', 'sent', 0, 0, 'Loans', 'Hello', '<five@q.example>', 0, 0, NULL);
  INSERT INTO replies (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, answer_to, subject, text, at) VALUES
    (1, 1, '<r1@kai.example>', 2, 5, 'person', 'sure', 'bia@kai.example', 'Bia', 'bia@kai.example', 'Re: Loans', 'Tell me more.', 1),
    (2, 1, '<r2@kai.example>', 2, 5, 'person', 'likely', 'bia@kai.example', 'Bia', 'bia@kai.example', 'Loans', 'Hm.', 1),
    (3, 1, '<r3@kai.example>', 2, 5, 'challenge', 'sure', 'bia@kai.example', 'Bia', 'bia@kai.example', 'Confirm', 'Confirm', 1);
  INSERT INTO set_aside (id, mailbox_id, path, uid, from_address, subject, reason, at) VALUES (1, 1, 'INBOX', 1, 'x@y.example', 'S', 'R', 0);
  INSERT INTO reminders (id, user_id, prospect_id, kind, text, due_at, at) VALUES (1, 1, 1, 'reminder', 'Ring', 0, 0);
  INSERT INTO meetings (id, token, user_id, prospect_id, name, email, starts_at, ends_at, visitor_zone, created_at)
    VALUES (1, 'token-1', 1, 4, 'Dora', 'dora@kaj.example', 0, 1800000, 'UTC', 0);
  INSERT INTO booking_asks (id, page_id, user_id, token, name, email, phone, place, starts_at, ends_at, visitor_zone, answers, caller, asked_wall, kept_until)
    SELECT 1, min(id), 1, 'asked-1', 'Eva', 'eva@kaj.example', '', '', 1781074800000, 1781076600000, 'UTC', '[]', '', 0, 9999999999999 FROM booking_pages;
  INSERT INTO filters (id, name, definition, user_id, saved_at) VALUES (1, 'Silent', '{"all":[]}', 1, 0);
  INSERT INTO pieces (id, name, body, user_id, at) VALUES (1, 'Greeting', 'Hello', 1, 0);
  INSERT INTO profiles (id, name, definition, user_id, saved_at) VALUES (1, 'Registrars', '{}', 1, 0);
  INSERT INTO shelf (id, name, path, user_id, at) VALUES (1, 'Loans', '${path}', 1, 0);
  INSERT INTO imports (id, file_name, user_id, rows, added, known, refused, at, state) VALUES (1, 'fair.csv', 1, 1, 0, 0, 0, 0, 'ready');
  INSERT INTO searches (id, profile_id, profile_name, definition, user_id, at) VALUES (1, 1, 'Registrars', '{}', 1, 0);
  INSERT INTO jobs (id, kind, input, user_id, asked_at) VALUES (1, 'verify', '{}', 1, 0);
  INSERT INTO block_list (id, kind, value, reason, at, user_id) VALUES
    (1, 'domain', 'old.example', 'added_by_rep', 0, 1), (2, 'address', 'no@thanks.example', 'opted_out', 0, NULL);
  INSERT INTO undo_records (id, user_id, what, changes, at, kind) VALUES (1, 1, 'Blocked', '[]', ${Date.parse("2026-06-09")}, 'block');
  INSERT INTO changes (id, prospect_id, field, before, after, source, source_id, user_id, at) VALUES (1, 1, 'city', '', 'Porto', 'bulk', 1, 1, 0);
  INSERT INTO social_accounts (id, user_id, name, url, token_sealed, created_at) VALUES (1, 1, 'Marta', 'http://127.0.0.1:9', '', 0);
  INSERT INTO holds (scope, scope_id, reason, since) VALUES ('company', 1, 'colleague_replied', 0), ('journey', 1, 'after_restore', 0);
  INSERT INTO cleanings (prospect_id, fields, rules) VALUES (1, '[]', '');
  INSERT INTO rules (id, user_id, name, definition, kinds, state, address, made_at) VALUES
    (1, 1, 'Called', '${calledRule}', '["rule.called"]', 'on', 'called-1', 0);
  INSERT INTO listeners VALUES ('rule.called');
  INSERT INTO rule_runs (id, rule_id, prospect_id, occasion, because, at, state) VALUES (1, 1, 1, 'h 1', 'another program called it', ${Date.parse("2026-06-09T08:00:00Z")}, 'done');
  INSERT INTO rule_acts (run_id, nth, due_at, state, said, undo) VALUES (1, 0, 0, 'done', 'put on Today', 'reminder 1');
  INSERT INTO api_keys (id, user_id, name, begins, hash, scopes, made_wall) VALUES (1, 1, 'CRM', 'saudade_abcd', 'x', '[]', 1);
  INSERT INTO crms (id, user_id, name, url, dialect, settings, key_sealed, state, address, hook_secret_sealed, made_at)
    VALUES (1, 1, 'Ledger', 'https://ledger.example', '{}', '${JSON.stringify(USUAL_SETTINGS)}', '', 'looked', 'crm-1', '', 0);
  INSERT INTO crm_links (id, crm_id, kind, prospect_id, there_id, base, there, there_at, state) VALUES
    (1, 1, 'person', 1, 'p1', '{}', '{}', 0, 'gone_there'), (2, 1, 'person', 2, 'p2', '{}', '{}', 0, 'linked');
  INSERT INTO crm_conflicts (crm_id, link_id, field, here, there, at) VALUES (1, 2, 'title', 'Clerk', 'Head', 0);
  INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at) VALUES (1, 'deal', 2, 'd2', '{"name":"Loans","stage":"s1"}', 0);
  INSERT INTO webhooks (id, user_id, name, url, kinds, secret_sealed, seen_happening, made_at)
    VALUES (1, 1, 'Warehouse', 'https://hooks.quay.example/in', '["reply.received"]', '', 0, 0);
  INSERT INTO columns (id, name, code, kind, gives, scope, settings, fresh_days, user_id, made_at) VALUES
    (1, 'Line', 'line', 'ask', 'text', 'person', '{"kind":"ask","question":"Write to {{ first_name }}","reads":"site","most":300}', 90, 1, 0);
  INSERT INTO list_columns (list_id, column_id) VALUES (1, 1);
  INSERT INTO column_values (id, column_id, code, prospect_id, state, value, at) VALUES (1, 1, 'line', 1, 'found', 'A line', 0);
  INSERT INTO page_templates (id, name, definition, user_id, changed_at) VALUES (1, 'Page', '${page}', 1, 0);
  INSERT INTO pages (id, template_id, prospect_id, made_at, ends_at) VALUES (1, 1, 1, 0, 4102444800000);
  INSERT INTO files (id, name, type, bytes, user_id, at) VALUES (1, 'sheet.pdf', 'application/pdf', x'25504446', 1, 0);
  INSERT INTO file_looks (file_id, prospect_id, given_at, touch_id, opened_at, last_at, pages, seconds)
    VALUES (1, 1, 0, 1, 0, 0, 4, '{"1":12,"2":3}');
  INSERT INTO films (id, name, file, bytes, user_id, made_at) VALUES (1, 'Film', 'film-1234567.film', 5, 1, 0);
  INSERT INTO duplicates (id, kind, a_id, b_id, reason, at) VALUES (1, 'person', 3, 4, 'name', 0), (2, 'company', 1, 2, 'name', 0);
`;

/** `as`: how the body goes. `far`: asks a server elsewhere, so only refusals are tried. */
export interface Line {
  act: Act;
  body?: unknown;
  as?: "json" | "form" | "file";
  params?: Record<string, string>;
  far?: true;
}
export const one = { id: "1" };
export const sequence = { params: one, as: "json" } as const;

const ASKED = {
  name: "Line",
  settings: { kind: "ask", question: "Write to {{ first_name }}", reads: "site" },
};

/** By route file and intent; behind a colon what an intent is told besides. */
export const ACTIONS: Record<string, Record<string, Line>> = {
  "connections/routes/keys.tsx": {
    "make-key": { act: "settings.own", body: { name: "CRM", scopes: '["prospects:read"]', days: "30" } },
    "revoke-key": { act: "settings.own", body: { id: 1 } },
  },
  "connections/routes/crm.tsx": {
    connect: { act: "crm.change", body: { name: "Ledger", url: "http://127.0.0.1:9", key: "k" }, far: true },
    renew: { act: "crm.change", body: { key: "k" }, far: true },
    save: { act: "crm.change", as: "json", body: { settings: USUAL_SETTINGS } },
    try: { act: "crm.change", as: "json" },
    on: { act: "crm.change", as: "json" },
    off: { act: "crm.change", as: "json" },
    anew: { act: "crm.change", as: "json" },
    decide: { act: "crm.change", as: "json", body: { side: "here" } },
    deleted: { act: "crm.change", as: "json", body: { id: 1, what: "keep" } },
    again: { act: "crm.change", as: "json" },
    part: { act: "crm.change", as: "json" },
  },
  "connections/routes/rule.tsx": {
    rehearse: { act: "rule.create", params: one, as: "json", body: rule },
    save: { act: "rule.change", params: one, as: "json", body: rule },
    "save:new": { act: "rule.create", params: { id: "new" }, as: "json", body: rule },
    on: { act: "rule.change", params: one, as: "json" },
    off: { act: "rule.change", params: one, as: "json" },
    take_back: { act: "rule.change", params: one, as: "json", body: { run: 1 } },
    remove: { act: "rule.change", params: one, as: "json" },
  },
  "connections/routes/webhooks.tsx": {
    "": {
      act: "webhook.create",
      body: { name: "CRM", url: "https://crm.example/in", kinds: '["email.sent"]', filter: "" },
    },
  },
  "connections/routes/webhook.tsx": {
    save: {
      act: "webhook.change",
      params: one,
      body: { name: "CRM", url: "https://crm.example/in", kinds: '["email.sent"]', filter: "" },
    },
    on: { act: "webhook.change", params: one },
    off: { act: "webhook.change", params: one },
    test: { act: "webhook.change", params: one },
    secret: { act: "webhook.change", params: one },
    replay: { act: "webhook.change", params: one, body: { days: 7 } },
    remove: { act: "webhook.change", params: one },
  },
  "desk/routes/day-line.tsx": {
    cancel: { act: "clock.move" },
    next_event: { act: "clock.move" },
    next_morning: { act: "clock.move" },
  },
  "desk/routes/jobs.tsx": { "": { act: "job.stop", body: { id: 1 } } },
  "desk/routes/looking.tsx": { "": { act: "settings.own", as: "json", body: { at: "all" } } },
  "desk/routes/notices.tsx": { "": { act: "desk.see" } },
  "desk/routes/pausing.tsx": {
    ":sequence": { act: "sequence.change", as: "json", body: { of: "sequence", ids: [1] } },
    ":mailbox": { act: "mailbox.change", as: "json", body: { of: "mailbox", ids: [1] } },
    ":account": { act: "account.change", as: "json", body: { of: "account", ids: [1] } },
    ":journey": { act: "sequence.change", as: "json", body: { of: "journey", ids: [1] } },
  },
  "desk/routes/sharing.tsx": {
    ":list": { act: "list.share", body: { kind: "list", id: 1, sharing: "change" } },
    ":filter": { act: "filter.share", body: { kind: "filter", id: 1, sharing: "mine" } },
    ":piece": { act: "piece.share", body: { kind: "piece", id: 1, sharing: "mine" } },
    ":profile": { act: "profile.share", body: { kind: "profile", id: 1, sharing: "mine" } },
    ":page": { act: "page.share", body: { kind: "page", id: 1, sharing: "mine" } },
  },
  "pages/routes/films.ts": {
    begin: { act: "film.add", body: { name: "a.mp4", bytes: 10 } },
    finish: { act: "film.change", body: { id: 1 } },
    change: { act: "film.change", body: { id: 1, name: "Cut", startsMs: 0, endsMs: 5_000 } },
    remove: { act: "film.change", body: { id: 1 } },
  },
  "pages/routes/pages.tsx": {
    create: { act: "page.create", body: { name: "Another" } },
    remove: { act: "page.change", body: { id: 1 } },
  },
  "pages/routes/page.tsx": {
    save: { act: "page.change", ...sequence, body: { name: "Page", definition: usualDefinition("de") } },
    preview: { act: "page.use", ...sequence, body: { prospectId: 1 } },
  },
  "pages/routes/page-links.ts": {
    "": { act: "page.use", params: one, as: "file" },
    ":list": { act: "page.use", params: one, body: { list: "1" } },
  },
  "prospects/routes/block-list.tsx": {
    preview: { act: "prospect.see", body: { text: "kai.example", mode: "append" } },
    apply: { act: "prospect.block", body: { text: "kai.example", mode: "append" } },
    "apply:address": { act: "prospect.block", body: { text: "ana@kai.example", mode: "append" } },
    "apply:replace": { act: "block.remove", body: { text: "new.example", mode: "replace" } },
    remove: { act: "block.remove", body: { id: 1 } },
    "remove:opted out": { act: "settings.team", body: { id: 2, why: "They asked for the list by phone." } },
  },
  "prospects/routes/import.tsx": {
    import: { act: "import.change", params: one, as: "json" },
    letters: { act: "import.change", params: one, as: "json", body: { encoding: "windows-1252" } },
    look: { act: "import.change", params: one, as: "json", body: { settings: {} } },
    undo: { act: "import.change", params: one, as: "json" },
  },
  "prospects/routes/list-addresses.tsx": {
    verify: { act: "list.use", params: one },
    find: { act: "list.use", params: one },
    probe: { act: "probe.switch", params: one, body: { probe: "on" } },
  },
  "prospects/routes/list-research.tsx": {
    create: {
      act: "list.change",
      ...sequence,
      body: { form: { name: "News", settings: { kind: "site", piece: "news" } } },
    },
    change: { act: "column.change", ...sequence, body: { columnId: 1, form: ASKED } },
    put: { act: "list.change", ...sequence, body: { columnId: 1 } },
    take_off: { act: "list.change", ...sequence, body: { columnId: 1 } },
    delete: { act: "column.change", ...sequence, body: { columnId: 1 } },
    run: { act: "list.use", ...sequence, body: { columnId: 1, wants: "try" } },
    type: {
      act: "prospect.change",
      ...sequence,
      body: { columnId: 1, scope: "person", targetId: 1, value: "Another" },
    },
    forget: { act: "prospect.change", ...sequence, body: { columnId: 1, scope: "person", targetId: 1 } },
    read: { act: "prospect.change", ...sequence, body: { ids: [1] } },
  },
  "prospects/routes/list-cleaning.tsx": {
    "": { act: "list.change", params: one, body: { rule: "emoji", refuse: "yes" } },
  },
  "prospects/routes/list-duplicates.tsx": {
    look: { act: "desk.see", params: one },
    ":people": { act: "prospect.merge", params: one, body: { pairs: "1", keepId: "3", same: "3,4" } },
    ":apart": { act: "prospect.merge", params: one, body: { pairs: "1" } },
    ":companies": { act: "prospect.merge", params: one, body: { pairs: "2", keepId: "1", same: "1,2" } },
  },
  "prospects/routes/list-form.tsx": {
    open: { act: "list.change", params: one, body: {} },
    save: { act: "list.change", params: one, body: { sequenceId: "1" } },
    close: { act: "list.change", params: one },
  },
  "prospects/routes/list.tsx": {
    rename: { act: "list.change", params: one, body: { name: "Mine" } },
    delete: { act: "list.change", params: one },
  },
  "prospects/routes/prospect.tsx": {
    stop: { act: "journey.stop", params: one },
    accepted: { act: "journey.mark", params: one },
    detach: { act: "sequence.change", params: one, body: { sequenceId: 3 } },
    note: { act: "prospect.see", params: one, body: { text: "Met at the fair." } },
    erase: { act: "prospect.erase", params: one, body: { name: "Ana Reis" } },
    save: { act: "prospect.change", params: one, body: { email: "x@elsewhere.example" } },
    "save:stage": { act: "prospect.change", params: one, body: { stage: "lost" } },
  },
  "emails/routes/email.tsx": {
    save: { act: "sequence.change", params: { id: "3" }, as: "json", body: { email: EMAIL(3) } },
    series: { act: "sequence.see", params: { id: "3" }, as: "json", body: { series: "sequence 1" } },
  },
  "emails/routes/new.tsx": {
    write: { act: "prospect.change", as: "json", body: { email: EMAIL(4) } },
    series: { act: "sequence.see", as: "json", body: { series: "sequence 1" } },
  },
  "prospects/routes/prospects-find.tsx": {
    describe: { act: "profile.create", as: "json", body: { text: "Registrars of museums." } },
    save: {
      act: "profile.change",
      as: "json",
      body: { profile: { id: 1, name: "Mine", description: "", definition: {} } },
    },
    search: {
      act: "profile.change",
      as: "json",
      body: { profile: { id: 1, name: "Mine", description: "", definition: {} } },
    },
  },
  "prospects/routes/prospects-import.tsx": { "": { act: "prospect.create", as: "file" } },
  "prospects/routes/prospects.tsx": {
    count: { act: "prospect.see", body: { f: "" } },
    "save-filter": {
      act: "filter.change",
      body: {
        name: "Silent",
        f: JSON.stringify({ groups: [{ conditions: [{ field: "city", op: "is", value: "Porto" }] }] }),
      },
    },
    "drop-filter": { act: "filter.change", body: { id: 1 } },
    "undo-bulk": { act: "bulk.undo", body: { batch: 1 } },
    "preview-add": {
      act: "sequence.change",
      body: { bulk: JSON.stringify({ ids: [4], action: { kind: "sequence", sequenceId: 1 } }) },
    },
    add: {
      act: "list.change",
      body: { email: "zoe@zed.example", firstName: "Zoe", listName: "Museums" },
    },
    bulk: {
      act: "prospect.change",
      body: { bulk: JSON.stringify({ ids: [1], action: { kind: "set", field: "stage", value: "lost" } }) },
    },
    "bulk:block": {
      act: "prospect.block",
      body: { bulk: JSON.stringify({ ids: [1], action: { kind: "block" } }) },
    },
    "bulk:list": {
      act: "list.change",
      body: { bulk: JSON.stringify({ ids: [1], action: { kind: "add_to_list", name: "Museums" } }) },
    },
    "bulk:off": {
      act: "list.change",
      body: { bulk: JSON.stringify({ ids: [1], action: { kind: "remove_from_list", listId: 1 } }) },
    },
    "bulk:sequence": {
      act: "sequence.change",
      body: { bulk: JSON.stringify({ ids: [4], action: { kind: "sequence", sequenceId: 2 } }) },
    },
    "bulk:verify": {
      act: "prospect.see",
      body: { bulk: JSON.stringify({ ids: [1], action: { kind: "verify" } }) },
    },
  },
  "prospects/routes/search.tsx": {
    "": { act: "search.keep", params: one, as: "json", body: { listName: "Found", ids: null } },
  },
  "replies/routes/draft.tsx": {
    "": { act: "reply.see", body: { replyId: 1, text: "Dear Bia", key: "key-12345678" } },
  },
  "replies/routes/replies.tsx": {
    read: { act: "reply.change", body: { replyId: 1 } },
    unread: { act: "reply.change", body: { replyId: 1 } },
    label: { act: "reply.change", body: { replyId: 1, label: "interested" } },
    "label:opt-out": { act: "reply.opt_out", body: { replyId: 1, label: "opt_out" } },
    undo: { act: "reply.change", body: { replyId: 1 } },
    confirm: { act: "reply.change", body: { replyId: 2 } },
    deny: { act: "reply.change", body: { replyId: 2 } },
    answer: { act: "reply.change", body: { replyId: 1, text: "Yes.", key: "key-12345678", when: "now" } },
    "come-back": {
      act: "reply.change",
      body: { replyId: 1, text: "As you asked.", date: "2026-12-01", key: "key-12345678" },
    },
    // Whatever letter it is said with: whose answer it is decides.
    "drop-later": { act: "answer.drop", body: { replyId: 999, touchId: 4 } },
    "add-named": {
      act: "reply.change",
      body: { replyId: 1, firstName: "Eva", email: "eva@kai.example", key: "key-12345678" },
    },
    "hand-over": { act: "reply.change", body: { replyId: 1, to: 2 } },
    note: { act: "prospect.see", body: { prospectId: 1, text: "Rang." } },
    remind: { act: "prospect.see", body: { prospectId: 1, text: "Ring.", day: "" } },
    "challenge-done": { act: "reply.change", body: { replyId: 3 } },
    "after-label": { act: "settings.own", body: { replyId: 1, afterLabel: "next" } },
  },
  "sending/routes/domains.tsx": {
    check: { act: "mailbox.see", body: { domain: "nobody.example" } },
    check_all: { act: "mailbox.see", far: true },
  },
  "sending/routes/mailbox-import.tsx": { "": { act: "mailbox.create", body: { csv: "" } } },
  "sending/routes/mailbox.tsx": {
    add: { act: "mailbox.create", params: { id: "new" }, far: true },
    check: { act: "mailbox.change", params: one, body: MAILBOX(), far: true },
    consequence: { act: "mailbox.see", params: one, far: true },
    save: { act: "mailbox.change", params: one, body: MAILBOX() },
    pause: { act: "mailbox.change", params: one },
    wake: { act: "mailbox.change", params: one },
    remove: { act: "mailbox.change", params: one },
  },
  "sending/routes/sending.tsx": {
    // Only one's own mailboxes change by it; the share is everybody's.
    apply: {
      act: "settings.team",
      body: {
        change: JSON.stringify({
          dailyLimit: null,
          gapMinutes: null,
          followUpPercent: 10,
          paused: [],
          moreMailboxes: 0,
          newcomers: 0,
        }),
      },
    },
  },
  "sending/routes/undecided.tsx": {
    ":send": { act: "undecided.decide", body: { intent: "send", ids: "3" } },
    ":arrived": { act: "undecided.decide", body: { intent: "arrived", ids: "3" } },
    ":drop": { act: "undecided.decide", body: { intent: "drop", ids: "3" } },
    seen: { act: "set_aside.close", body: { ids: "1" } },
    unblock: { act: "blocks.mend" },
  },
  "sending/routes/restored.tsx": {
    ":go on": { act: "restored.decide", as: "json", body: { intent: "go_on", ids: null } },
    ":left": { act: "restored.decide", as: "json", body: { intent: "left", ids: [1] } },
    ":seen": { act: "restored.close", as: "json", body: { intent: "seen", ids: null } },
    ":stop": { act: "restored.decide", as: "json", body: { intent: "stop", ids: [1] } },
  },
  "sending/routes/what-if.tsx": { "": { act: "mailbox.see", as: "json", body: {} } },
  "sequences/routes/files.tsx": { "": { act: "file.add", as: "file" } },
  "sequences/routes/file-lock.ts": {
    "": { act: "file.lock", params: one, as: "json", body: { isLocked: false, days: 30 } },
  },
  "sequences/routes/help.tsx": {
    sequence: { act: "sequence.create", as: "json", body: { task: "sequence", brief: {} } },
    email: { act: "sequence.create", as: "json", body: { task: "email", brief: {} } },
    wordings: { act: "sequence.create", as: "json", body: { task: "wordings" } },
  },
  "sequences/routes/new.tsx": {
    begin: { act: "sequence.create", body: { point: "blank", name: "New" } },
    import: { act: "sequence.create", body: { file: "" } },
    take_off: { act: "shelf.drop", body: { point: "own-1" } },
  },
  "sequences/routes/people.tsx": {
    ":pause": { act: "sequence.change", ...sequence, body: { journeyIds: [1], action: { do: "pause" } } },
    ":take out": {
      act: "sequence.change",
      ...sequence,
      body: { journeyIds: [1], action: { do: "take_out" } },
    },
  },
  "results/routes/looks.ts": {
    keep: { act: "desk.see", body: { name: "Mine", path: "/results", query: "" } },
    drop: { act: "desk.see", body: { id: 1 } },
  },
  "results/routes/results.tsx": {
    target: { act: "target.set", body: { userId: 1, callsAWeek: 5 } },
  },
  "results/routes/sequence.tsx": {
    set_aside: { act: "sequence.see", params: one, body: { key: "end_early" } },
    profile: { act: "sequence.see", params: one, body: { attribute: "country", value: "PT" } },
    bring_back: { act: "sequence.see", params: one },
  },
  "sequences/routes/pieces.tsx": {
    "": { act: "piece.change", as: "json", body: { name: "Greeting", body: "Good day" } },
    drop: { act: "piece.change", as: "json", body: { id: 1 } },
  },
  "sequences/routes/sequence.tsx": {
    preview: { act: "sequence.see", ...sequence },
    save: { act: "sequence.change", ...sequence, body: { form: SEQUENCE(1, [1]) } },
    pause: { act: "sequence.change", ...sequence },
    resume: { act: "sequence.change", ...sequence },
  },
  "sequences/routes/sequences.tsx": {
    duplicate: { act: "sequence.see", body: { id: 1 } },
    archive: { act: "sequence.change", body: { id: 1 } },
    bring_back: { act: "sequence.change", body: { id: 1 } },
    shelf: { act: "sequence.shelve", body: { id: 1 } },
    delete: { act: "sequence.change", body: { id: 1 } },
    restore: { act: "sequence.change", body: { id: 1, stopped: "[]" } },
  },
  "sequences/routes/start.tsx": {
    start: { act: "sequence.change", ...sequence },
    fill: { act: "prospect.change", ...sequence, body: { prospectId: 1, field: "city", value: "Porto" } },
    own: {
      act: "sequence.change",
      ...sequence,
      body: { stepId: "one", prospectId: 1, subject: "S", body: "B" },
    },
    read_lines: { act: "prospect.change", ...sequence, body: { values: [1] } },
    writes_to: { act: "sequence.change", ...sequence, body: { writesTo: "good" } },
    drop_own: { act: "sequence.change", ...sequence, body: { stepId: "one", prospectId: 1 } },
    approve: { act: "sequence.change", ...sequence, body: { prospectId: 1 } },
    test: { act: "sequence.change", ...sequence, body: { stepId: "one", prospectId: 1 } },
  },
  "sequences/routes/versions.tsx": { "": { act: "sequence.change", params: one, body: { version: 1 } } },
  "settings/routes/settings.tsx": {
    profile: { act: "desk.see", body: { name: "M", zone: "Europe/Lisbon" } },
    notices: { act: "desk.see", body: { form: "{}" } },
    password: { act: "desk.see", body: {} },
    "end-session": { act: "desk.see", body: { id: 1 } },
    "end-others": { act: "desk.see" },
    hosting: { act: "desk.see" },
    booking: { act: "desk.see", body: { form: "{}" } },
    "remove-page": { act: "desk.see", body: { id: 99 } },
    "add-calendar": { act: "desk.see", body: {} },
    "remove-calendar": { act: "desk.see", body: { id: 99 } },
    "label-save": {
      act: "settings.team",
      body: { form: JSON.stringify({ name: "Warm", effects: {}, isPositive: true }) },
    },
    "label-remove": { act: "settings.team", body: { id: 1 } },
    learn: { act: "settings.team" },
    "learn-use": { act: "settings.team" },
    "learn-drop": { act: "settings.team" },
    "learn-forget": { act: "settings.team" },
    company: { act: "settings.team", body: {} },
    assistant: { act: "settings.team", body: {} },
    sending: { act: "settings.team", body: {} },
    "connect-account": {
      act: "account.change",
      body: {
        id: 1,
        url: "http://127.0.0.1:9",
        token: "t",
        dailyLimit: 1,
        weeklyViews: 1,
        weeklyInvitations: 1,
        weeklyMessages: 1,
      },
    },
    "pause-account": { act: "account.change", body: { id: 1 } },
    "wake-account": { act: "account.change", body: { id: 1 } },
    "remove-account": { act: "account.change", body: { id: 1 } },
    "make-archive": { act: "archive.make" },
    "add-member": { act: "users.change", body: { name: "N", email: "n@q.example", role: "rep" } },
    "reset-member": { act: "users.change", body: { id: 2 } },
    role: { act: "users.change", body: { id: 2, role: "manager" } },
    "remove-member": { act: "users.change", body: { id: 2 } },
  },
  "today/routes/today.tsx": {
    done: { act: "touch.end", as: "json", body: { id: 2 } },
    skip: { act: "touch.end", as: "json", body: { id: 2 } },
    end_many: { act: "touch.end", as: "json", body: { how: "done", touchIds: [2], reminderIds: [] } },
    later: { act: "touch.end", as: "json", body: { id: 2, days: 1 } },
    "call-back": { act: "touch.end", as: "json", body: { id: 2, date: "2026-12-01", time: "10:00" } },
    accepted: { act: "journey.mark", as: "json", body: { prospectId: 1 } },
    approve: { act: "touch.end", as: "json", body: { ids: [1] } },
    edit: { act: "touch.end", as: "json", body: { id: 1, subject: "S", body: "Mine now" } },
    edit_approve: { act: "touch.end", as: "json", body: { id: 1, ids: [1], subject: "S", body: "Mine now" } },
    drop: { act: "touch.end", as: "json", body: { id: 1 } },
    release: { act: "company.release", as: "json", body: { companyId: 1 } },
    "reminder-done": { act: "reminder.change", as: "json", body: { id: 1 } },
    "reminder-skip": { act: "reminder.change", as: "json", body: { id: 1 } },
    "reminder-later": { act: "reminder.change", as: "json", body: { id: 1, days: 2 } },
    "plan-next": { act: "prospect.change", as: "json", body: { prospectId: 1, days: 2 } },
    "warm-done": { act: "prospect.change", as: "json", body: { prospectId: 1 } },
    "warm-skip": { act: "prospect.change", as: "json", body: { prospectId: 1 } },
    "drift-seen": {
      act: "mailbox.change",
      as: "json",
      body: { mailboxId: 1, of: "bounced", since: "2026-06-08" },
    },
    met: { act: "meeting.note", as: "json", body: { token: "token-1", how: "held" } },
    stage: { act: "prospect.change", as: "json", body: { prospectId: 1, stage: "won" } },
    fill: { act: "prospect.change", as: "json", body: { prospectId: 1, field: "city", value: "Porto" } },
  },
  "undo/undo.tsx": { "": { act: "undo", body: { ids: "1" } } },
};

/** What is looked at, and by whom. */
export const LOADERS: Record<string, Act> = {
  "connections/routes/api.tsx": "desk.see",
  "connections/routes/crm.tsx": "desk.see",
  "connections/routes/keys.tsx": "settings.own",
  "connections/routes/rule.tsx": "desk.see",
  "connections/routes/rules.tsx": "desk.see",
  "connections/routes/webhook.tsx": "desk.see",
  "connections/routes/webhooks.tsx": "desk.see",
  "desk/routes/day-line.tsx": "desk.see",
  "desk/routes/desk.tsx": "desk.see",
  "desk/routes/finder.tsx": "desk.see",
  "pages/routes/pages.tsx": "page.create",
  "pages/routes/page.tsx": "page.use",
  "prospects/routes/block-list.tsx": "prospect.see",
  "prospects/routes/import-left-out.ts": "prospect.see",
  "prospects/routes/import.tsx": "prospect.see",
  "prospects/routes/list-research.tsx": "list.see",
  "prospects/routes/list-addresses.tsx": "list.see",
  "prospects/routes/list-cleaning.tsx": "list.see",
  "prospects/routes/list-duplicates.tsx": "list.see",
  "prospects/routes/list-form.tsx": "list.see",
  "prospects/routes/list.tsx": "list.see",
  "prospects/routes/prospect-data.tsx": "prospect.see",
  "prospects/routes/prospect-letters.ts": "prospect.see",
  "settings/routes/archive.ts": "archive.make",
  "prospects/routes/prospect.tsx": "prospect.see",
  "prospects/routes/prospects-export.tsx": "prospect.see",
  "prospects/routes/prospects-find.tsx": "profile.use",
  "prospects/routes/prospects-import.tsx": "prospect.see",
  "prospects/routes/prospects.tsx": "prospect.see",
  "prospects/routes/search.tsx": "prospect.see",
  "replies/routes/replies.tsx": "reply.see",
  "results/routes/people.tsx": "sequence.see",
  "results/routes/report.tsx": "desk.see",
  "results/routes/results.tsx": "desk.see",
  "results/routes/sequence.tsx": "sequence.see",
  "results/routes/table.ts": "sequence.see",
  "sending/routes/domains.tsx": "mailbox.see",
  "sending/routes/mailbox.tsx": "mailbox.see",
  "sending/routes/sending.tsx": "mailbox.see",
  "sequences/routes/file.tsx": "file.add",
  "sequences/routes/file-lock.ts": "file.add",
  "sequences/routes/new.tsx": "sequence.create",
  "sequences/routes/people.tsx": "sequence.see",
  "sequences/routes/pieces.tsx": "piece.use",
  "sequences/routes/rehearsal.tsx": "sequence.see",
  "sequences/routes/sequence-file.tsx": "sequence.see",
  "sequences/routes/sequence.tsx": "sequence.see",
  "sequences/routes/sequences.tsx": "sequence.see",
  "emails/routes/email.tsx": "sequence.see",
  "emails/routes/new.tsx": "prospect.see",
  "sequences/routes/start.tsx": "sequence.see",
  "sequences/routes/versions.tsx": "sequence.see",
  "settings/routes/settings.tsx": "desk.see",
  "today/routes/sheet.tsx": "prospect.see",
  "today/routes/today.tsx": "desk.see",
  "undo/undo.tsx": "desk.see",
  "why/routes/why.tsx": "desk.see",
};

function EMAIL(prospectId: number) {
  return { prospectId, subject: "S", body: "B", when: "now", remindAfter: null };
}

function MAILBOX() {
  return {
    address: "marta@q.example",
    senderName: "M",
    smtpHost: "127.0.0.1",
    smtpPort: "9",
    smtpSecurity: "none",
    imapHost: "127.0.0.1",
    imapPort: "9",
    imapSecurity: "none",
    username: "u",
    password: "p",
    dailyLimit: "1",
    gapLeast: "9",
    gapMost: "14",
  };
}
export function SEQUENCE(id: number, mailboxIds: number[]) {
  return {
    id,
    name: "Taken over",
    listId: 1,
    zone: "Europe/Lisbon",
    days: [1],
    opens: "08:00",
    closes: "17:00",
    mailboxIds,
    path: [email("one", 0, { subject: "Loans", body: "Hello" })],
  };
}

/** Every line of the table, by name. */
export const lines = Object.entries(ACTIONS).flatMap(([file, intents]) =>
  Object.entries(intents).map(([key, line]) => ({ file, key, line, name: `${file} ${key}` })),
);

/** The request that a page would send. */
export function requestFor(line: Line, intent: string): Request {
  const words = { ...(intent === "" ? {} : { intent }), ...(line.body as object | undefined) };
  if (line.as === "json")
    return new Request("http://here.example/", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(words),
    });
  const form = new FormData();
  for (const [name, value] of Object.entries(words)) form.set(name, String(value));
  if (line.as === "file") form.set("file", new File(["email\na@b.example"], "a.csv"));
  if (line.as === "file") return new Request("http://here.example/", { method: "POST", body: form });
  return new Request("http://here.example/", { method: "POST", body: new URLSearchParams(form as never) });
}

/** An installation with the seed in it, which the routes find as theirs. */
export async function installation() {
  const world: World = await createWorld({ standin: false, env: { SAUDADE_DNS: "127.0.0.1:9" } });
  const before = { ...process.env };
  Object.assign(process.env, world.env);
  const app: App = webApp();
  app.db.exec(SEED);
  app.db.prepare("UPDATE social_accounts SET token_sealed = ?").run(seal("token", app.key));

  function contextOf(who: Who): RouterContextProvider {
    const context = new RouterContextProvider();
    const user = app.db
      .prepare(
        "SELECT id, name, email, time_zone AS zone, booking_slug AS bookingSlug, role FROM users WHERE id = ?",
      )
      .get(USERS[who]) as User;
    context.set(userContext, user);
    return context;
  }

  /**
   * What an action answers, as text, how many rows it wrote, and whether it failed as nobody expected, after a `change` in SQL;
   * then all of it is taken back.
   */
  async function attempt(
    file: string,
    intent: string,
    line: Line,
    who: Who,
    request = requestFor(line, intent),
    change = "",
  ) {
    const { action } = (await import(/* @vite-ignore */ join(APP, file))) as {
      action: (args: unknown) => Promise<unknown>;
    };
    const total = () => (app.db.prepare("SELECT total_changes() AS n").get() as { n: number }).n;
    const context = contextOf(who);
    const from = total();
    app.db.exec(`SAVEPOINT attempt; ${change}`);
    let said: unknown;
    try {
      said = await action({ request, params: line.params ?? {}, context });
    } catch (thrown) {
      said = thrown;
    }
    const wrote = total() - from;
    app.db.exec("ROLLBACK TO attempt; RELEASE attempt");
    const text =
      said instanceof Response
        ? `${said.status} ${await said.text()}`
        : said instanceof Error
          ? String(said.stack)
          : JSON.stringify(said);
    return { text: text ?? "", wrote, failed: said instanceof Error };
  }

  const close = async () => {
    process.env = before;
    app.db.close();
    await world.close();
  };
  return { app, contextOf, attempt, close };
}

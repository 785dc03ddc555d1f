/**
 * `npm run bench [name]`: each figure is a ratio to a baseline of the same run, printed as one JSON
 * line. Exits with 1 if a limit is passed.
 */
import { benchApi } from "./api.ts";
import { benchCrm } from "./crm.ts";
import { benchDuplicates } from "./duplicates.ts";
import type { Figure } from "./figure.ts";
import { benchHostileMail } from "./hostile-mail.ts";
import { benchImport, benchImportList } from "./import.ts";
import { benchListPages } from "./list-pages.ts";
import { benchLoad } from "./load.ts";
import { benchPictures, benchWatchers } from "./pages.ts";
import { benchPagesAtOnce } from "./pages-at-once.ts";
import { benchCapacity, benchPlan, benchPlanChange, benchWhatIf } from "./plan.ts";
import { benchProspectsPage } from "./prospects-page.ts";
import { benchDesk, benchFreeTimes, benchSearch, benchSortReplies, benchToday } from "./replies.ts";
import { benchResearch } from "./research.ts";
import { benchResults, benchResultsWrite } from "./results.ts";
import { benchSaveSequence } from "./save-sequence.ts";
import { benchSeason } from "./season.ts";
import { benchSend } from "./send.ts";
import { benchAdvance, benchRehearsal, benchRenderSequence } from "./sequences.ts";
import { benchWaitingMail } from "./waiting-mail.ts";

const BENCHES: Record<string, () => Promise<Figure>> = {
  import: benchImport,
  "import-list": benchImportList,
  "prospects-page": benchProspectsPage,
  "list-pages": benchListPages,
  "pages-at-once": benchPagesAtOnce,
  load: benchLoad,
  api: benchApi,
  crm: benchCrm,
  "hostile-mail": benchHostileMail,
  "waiting-mail": benchWaitingMail,
  duplicates: benchDuplicates,
  "save-sequence": benchSaveSequence,
  send: benchSend,
  "render-sequence": benchRenderSequence,
  rehearsal: benchRehearsal,
  advance: benchAdvance,
  plan: benchPlan,
  "plan-capacity": benchCapacity,
  "plan-change": benchPlanChange,
  "what-if": benchWhatIf,
  "sort-replies": benchSortReplies,
  desk: benchDesk,
  search: benchSearch,
  today: benchToday,
  "free-times": benchFreeTimes,
  season: benchSeason,
  research: benchResearch,
  pictures: benchPictures,
  watchers: benchWatchers,
  results: benchResults,
  "results-write": benchResultsWrite,
};

const wanted = process.argv[2];
if (wanted && !(wanted in BENCHES)) {
  console.error(`There is no bench “${wanted}”. Choose one of: ${Object.keys(BENCHES).join(", ")}.`);
  process.exit(2);
}
let passed = true;
for (const [name, run] of Object.entries(BENCHES)) {
  if (wanted && name !== wanted) continue;
  const figure = await run();
  console.log(JSON.stringify(figure));
  if (figure.kind === "most" ? figure.ratio > figure.limit : figure.ratio < figure.limit) passed = false;
}
process.exit(passed ? 0 : 1);

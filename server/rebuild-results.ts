/** `npm run rebuild:results`: makes what is kept of starts and touches anew from the events. The program may run meanwhile. */
import { openApp } from "./app.ts";
import { readConfig } from "./config.ts";
import { migrate } from "./db/open.ts";
import { rebuildOutcomes } from "./db/outcomes.ts";

const app = openApp(readConfig());
migrate(app.db);
const { journeys, touches } = rebuildOutcomes(app.db);
app.db.close();
process.stdout.write(`Results of ${journeys} starts and ${touches} touches are made anew.\n`);

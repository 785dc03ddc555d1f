/** All stand-ins in one process, for the demo: each reads its own settings from the environment. */
import "./assistant/main.ts";
import "./crm/main.ts";
import "./directory/main.ts";
import "./dns/main.ts";
import "./mail/main.ts";
import "./receiver/main.ts";
import "./sites/main.ts";
import "./social/main.ts";

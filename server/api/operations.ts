/** Every operation of the API, in the order in which its documentation shows them. */
import { answers } from "./answers.ts";
import type { Operation } from "./operation.ts";
import { outreach } from "./outreach.ts";
import { people } from "./people.ts";
import { ruleOperations } from "./rules.ts";
import { sending } from "./sending.ts";
import { webhookOperations } from "./webhooks.ts";

export const OPERATIONS: readonly Operation[] = [
  ...people,
  ...outreach,
  ...answers,
  ...sending,
  ...webhookOperations,
  ...ruleOperations,
];

import { z } from "zod";
import { listen, serve } from "../process.ts";
import { createCrm } from "./crm-server.ts";

const settings = z
  .object({
    CRM_PORT: z.coerce.number().int(),
    CRM_STATE: z.string(),
    CRM_RATE: z.coerce.number().default(50),
  })
  .parse(process.env);

await serve(() =>
  listen(createCrm({ state: settings.CRM_STATE, rate: settings.CRM_RATE }), settings.CRM_PORT),
);

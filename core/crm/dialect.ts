/**
 * How a CRM is asked: where its things are and where in its JSON what stands. What is not said is as docs/crm.md describes it,
 * and as the stand-in speaks; another CRM is written down here in its own words.
 */
import { z } from "zod";
import { pathSchema } from "../connections/json-path.ts";

const place = z
  .string()
  .max(200)
  .regex(/^\/[\w\-./]*$/, "A place begins with /.");

const things = (path: string) =>
  z
    .object({
      path: place.default(path),
      /** Where in an answer the things stand, and in each of them its id, when it last changed, and that it is gone. */
      items: pathSchema.default("items"),
      id: pathSchema.default("id"),
      updated: pathSchema.default("updated_at"),
      deleted: pathSchema.default("deleted"),
    })
    .prefault({});

export const dialectSchema = z
  .object({
    /** Where a refresh token is changed into access (RFC 6749 6); "": the key is sent as it is. */
    token: z.union([place, z.literal("")]).default("/oauth/token"),
    /** The parameters of a list, and where in its answer the next page's cursor stands. */
    cursor: z.string().max(60).default("cursor"),
    next: pathSchema.default("next_cursor"),
    since: z.string().max(60).default("updated_since"),
    limit: z.string().max(60).default("limit"),
    view: z.string().max(60).default("view"),
    /** The parameter by which somebody is found by their address, whoever made them there. */
    email: z.string().max(60).default("email"),
    /** Under which whatever is made carries our id: made again with it, it is the same. */
    externalId: pathSchema.default("external_id"),
    people: things("/people"),
    companies: things("/companies"),
    deals: things("/deals"),
    owners: things("/owners"),
    views: things("/views"),
    stages: things("/deal-stages"),
    activities: place.default("/activities"),
    hooks: z.union([place, z.literal("")]).default("/webhooks"),
    /** Of a person: their company's id, their owner's, and that they want no mail. */
    company: pathSchema.default("company_id"),
    owner: pathSchema.default("owner_id"),
    noMail: pathSchema.default("no_mail"),
    /** Of a company and a deal. */
    companyName: pathSchema.default("name"),
    companyDomain: pathSchema.default("domain"),
    dealName: pathSchema.default("name"),
    dealStage: pathSchema.default("stage_id"),
    dealPerson: pathSchema.default("person_id"),
    dealValue: pathSchema.default("value"),
    /** Of what is chosen among: an owner's address, a view's or a stage's name. */
    ownerEmail: pathSchema.default("email"),
    named: pathSchema.default("name"),
  })
  .prefault({});
export type Dialect = z.infer<typeof dialectSchema>;
export type Things = Dialect["people"];

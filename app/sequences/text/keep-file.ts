import type { Outcome } from "../../../server/errors";
import type { Kept } from "../../../server/mail/files";
import { askServer } from "../../components/ask-server";

/** Hands a file to the app. */
export function keepFile(file: File, as: "picture" | "attachment"): Promise<Outcome<Kept>> {
  const form = new FormData();
  form.set("file", file);
  form.set("as", as);
  return askServer("/files", form);
}

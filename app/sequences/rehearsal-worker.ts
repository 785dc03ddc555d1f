/** Rehearses off the page's own thread, so that the page stays usable. */
import { type Rehearsal, type RehearsalInput, rehearse } from "../../core/sequence/rehearse";

export type Asked = Omit<RehearsalInput, "calendars"> & {
  calendars: (Omit<RehearsalInput["calendars"][number], "holidays"> & { holidays: number[] })[];
};
export type Told = { day: number } | { result: Rehearsal };

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  const tell = (message: Told) => self.postMessage(message);
  const calendars = data.calendars.map((calendar) => ({ ...calendar, holidays: new Set(calendar.holidays) }));
  tell({ result: rehearse({ ...data, calendars }, (day) => tell({ day })) });
};

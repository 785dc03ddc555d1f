/**
 * How a long job says how far it is and learns that it is no longer wanted. Called often; it answers
 * at once except some times a second, when it writes the progress and lets the process breathe.
 * Resolves to true if the job was cancelled.
 */
export type Report = (done: number, total: number) => boolean | Promise<boolean>;

/** For a job that nobody watches: the demo's making, tests and measurements. */
export const unwatched: Report = () => false;

/** How much a path may hold, and the kinds of its steps: for who composes one as for who checks it. */
export const MAX_STEPS = 60;
/** Forks within forks; deeper ones nobody could follow. */
export const MAX_DEPTH = 6;
export const MAX_VARIANTS = 5;
export const MAX_SUBJECT = 200;
export const MAX_BODY = 20_000;
export const MAX_WAIT_DAYS = 180;
export const MAX_WAIT_HOURS = 720;

export const REP_KINDS = ["profile_view", "invitation", "social_message", "call", "errand"] as const;
export const STEP_KINDS = ["email", "approved_email", ...REP_KINDS] as const;
/** Characters of a step's note. */
export const MAX_NOTE = 2_000;

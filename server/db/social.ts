/** Social accounts, and the touches that they carry out. */
import { type Db, sql } from "./open.ts";

export interface SocialAccount {
  id: number;
  userId: number;
  ownerName: string;
  /** Its owner's time zone. */
  zone: string;
  name: string;
  url: string;
  tokenSealed: string;
  state: "active" | "paused" | "signed_out";
  trouble: string | null;
  /** Until then the network wants to be left alone. */
  retryAt: number | null;
  dailyLimit: number;
  weeklyViews: number;
  weeklyInvitations: number;
  weeklyMessages: number;
  gapLeast: number;
  gapMost: number;
  newsMark: number;
}

const SELECT = `SELECT a.id, a.user_id AS userId, u.name AS ownerName, u.time_zone AS zone, a.name, a.url,
    a.token_sealed AS tokenSealed, a.state, a.trouble, a.retry_at AS retryAt, a.daily_limit AS dailyLimit,
    a.weekly_views AS weeklyViews, a.weekly_invitations AS weeklyInvitations, a.weekly_messages AS weeklyMessages,
    a.gap_least AS gapLeast, a.gap_most AS gapMost, a.news_mark AS newsMark
  FROM social_accounts a JOIN users u ON u.id = a.user_id`;

export const allAccounts = (db: Db): SocialAccount[] =>
  sql(db, `${SELECT} ORDER BY a.id`).all<SocialAccount>([]);

export const accountById = (db: Db, id: number): SocialAccount | undefined =>
  sql(db, `${SELECT} WHERE a.id = @id`).get<SocialAccount>({ id });

/** Notes what the network said; without a state it stays as it is, since its owner may have paused it meanwhile. */
export function noteAccount(
  db: Db,
  id: number,
  {
    state = null,
    trouble,
    retryAt,
  }: Pick<SocialAccount, "trouble" | "retryAt"> & { state?: SocialAccount["state"] | null },
): void {
  sql(
    db,
    `UPDATE social_accounts SET state = coalesce(@state, state), trouble = @trouble, retry_at = @retryAt
     WHERE id = @id AND (state IS NOT coalesce(@state, state) OR trouble IS NOT @trouble OR retry_at IS NOT @retryAt)`,
  ).run({ id, state, trouble, retryAt });
}

/** When an account did what since an instant. */
export const actsSince = (db: Db, accountId: number, since: number): { kind: string; at: number }[] =>
  sql(
    db,
    "SELECT kind, ended_at AS at FROM touches WHERE account_id = @accountId AND state = 'done' AND ended_at >= @since",
  ).all<{ kind: string; at: number }>({ accountId, since });

/** Who may change what: a rep their own, a manager everything. Everybody sees the team's. */
export const ROLES = ["rep", "manager"] as const;
export type Role = (typeof ROLES)[number];

/** `ownerId` null: it belongs to nobody in particular. */
export function mayChange(user: { id: number; role: Role }, ownerId: number | null): boolean {
  return user.role === "manager" || ownerId === null || ownerId === user.id;
}

/** Who looks after what holds for everybody. */
export const isManager = ({ role }: { role: Role }): boolean => role === "manager";

/** Where a value of a person came from, or what changed it: a closed list. */
export type ChangeSource = "import" | "directory" | "form" | "edit" | "bulk" | "pattern" | "merge" | "undo";

/** What a rep chooses from when they ask the writing assistant. */
export const TONES = ["plain", "warm", "formal"] as const;
export const LANGUAGES = { en: "English", de: "German", pt: "Portuguese" } as const;

export const WISHES = ["shorter", "plainer"] as const;
export type Wish = (typeof WISHES)[number];

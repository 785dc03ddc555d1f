/** What the words for a chat channel may say; what is not known of a happening is a dash. */
export const CHANNEL_FIELDS = [
  "what",
  "first_name",
  "last_name",
  "title",
  "company",
  "stage",
  "owner",
  "sequence",
  "says",
] as const;

export const USUAL_WORDS = "{{first_name}} {{last_name}} of {{company}}: {{what}}. {{says}}";

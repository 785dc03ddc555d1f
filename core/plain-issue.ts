/** What a form's schema finds wrong, in words for whoever filled it in. Schemas that say it themselves come first. */
import type { z } from "zod";

type Issue = Parameters<NonNullable<NonNullable<Parameters<typeof z.config>[0]>["customError"]>>[0];

const UNITS: Record<string, string> = { string: "characters", array: "entries", set: "entries" };

export function plainIssue(issue: Issue): string {
  switch (issue.code) {
    case "invalid_type":
      return issue.input === undefined ||
        issue.input === null ||
        issue.input === "" ||
        Number.isNaN(issue.input)
        ? "Fill this in."
        : `This must be ${issue.expected === "int" || issue.expected === "number" ? "a number" : "of another kind"}.`;
    case "too_small": {
      const least = Number(issue.minimum);
      const unit = UNITS[issue.origin];
      if (unit) return least <= 1 ? "Fill this in." : `At least ${least} ${unit}.`;
      return issue.inclusive === false ? `More than ${least}.` : `At least ${least}.`;
    }
    case "too_big": {
      const most = Number(issue.maximum);
      const unit = UNITS[issue.origin];
      if (unit) return `At most ${most.toLocaleString("en-GB")} ${unit}.`;
      return issue.inclusive === false ? `Less than ${most}.` : `At most ${most.toLocaleString("en-GB")}.`;
    }
    case "invalid_value":
    case "invalid_union":
      return "Choose one of the values that are offered.";
    case "invalid_format":
      return "This is not written as it should be.";
    case "not_multiple_of":
      return `Only multiples of ${issue.divisor}.`;
    default:
      return "This cannot be used here.";
  }
}

/** A target profile as a form; words are typed one after the other. */
import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import FormLabel from "@mui/material/FormLabel";
import TextField from "@mui/material/TextField";
import { countryName } from "../../core/countries";
import {
  MUST_HAVE_NAMES,
  MUST_HAVES,
  synonymsOf,
  type TargetProfile,
  unreadTitleWords,
} from "../../core/prospects/profile";
import { SENIORITIES, SENIORITY_NAMES } from "../../core/prospects/seniority";

const INDUSTRIES = [
  "Museums",
  "Archives",
  "Libraries",
  "Galleries",
  "Universities",
  "Logistics",
  "Food production",
];

export function ProfileEditor({
  profile,
  onChange,
  errors,
}: {
  profile: TargetProfile;
  onChange: (profile: TargetProfile) => void;
  errors: Record<string, string>;
}) {
  const set = (change: Partial<TargetProfile>) => onChange({ ...profile, ...change });
  const words = (
    name: keyof TargetProfile &
      ("titles" | "titlesWithout" | "industries" | "countries" | "regions" | "cities" | "keywords"),
    label: string,
    help?: string,
    options: string[] = [],
  ) => (
    <Autocomplete
      multiple
      freeSolo
      size="small"
      options={options}
      value={profile[name]}
      onChange={(_, value) => set({ [name]: value })}
      {...(name === "countries" && { getOptionLabel: countryName })}
      renderInput={(params) => (
        <TextField
          {...params}
          label={label}
          error={!!errors[`definition.${name}`]}
          helperText={errors[`definition.${name}`] ?? help}
        />
      )}
    />
  );
  const number = (name: "employeesFrom" | "employeesTo", label: string) => (
    <TextField
      type="number"
      label={label}
      value={profile[name] ?? ""}
      onChange={(event) => set({ [name]: event.target.value === "" ? null : Number(event.target.value) })}
      error={!!errors[`definition.${name}`]}
      helperText={errors[`definition.${name}`]}
    />
  );
  const also = profile.titles.flatMap((title) =>
    synonymsOf(title).filter((same) => same !== title.toLowerCase()),
  );
  const unread = profile.titles.flatMap(unreadTitleWords);
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 }}>
      {words(
        "titles",
        "Job titles",
        [
          also.length > 0 ? `Also: ${[...new Set(also)].slice(0, 5).join(", ")}.` : "Press Enter after each.",
          unread.length > 0
            ? `Looked for letter by letter, since no job is known by it: ${unread.join(", ")}.`
            : "",
        ]
          .filter(Boolean)
          .join(" "),
      )}
      {words("titlesWithout", "Not with these words in the title")}
      {words("industries", "Industries", undefined, INDUSTRIES)}
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
        {number("employeesFrom", "Employees from")}
        {number("employeesTo", "to")}
      </Box>
      {words("countries", "Countries", "Names, in any of nine languages, or codes")}
      {words("cities", "or cities")}
      {words("regions", "or regions")}
      {words("keywords", "One of these words about the company")}
      <Checks
        legend="Seniority, any if none is ticked"
        all={SENIORITIES}
        names={SENIORITY_NAMES}
        chosen={profile.seniorities}
        onChange={(seniorities) => set({ seniorities })}
      />
      <Checks
        legend="They must have"
        all={MUST_HAVES}
        names={MUST_HAVE_NAMES}
        chosen={profile.mustHave}
        onChange={(mustHave) => set({ mustHave })}
      />
    </Box>
  );
}

function Checks<T extends string>(props: {
  legend: string;
  all: readonly T[];
  names: Record<T, string>;
  chosen: T[];
  onChange: (chosen: T[]) => void;
}) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0 }}>
      <FormLabel component="legend" sx={{ fontSize: 13 }}>
        {props.legend}
      </FormLabel>
      {props.all.map((each) => (
        <FormControlLabel
          key={each}
          label={props.names[each]}
          control={
            <Checkbox
              size="small"
              checked={props.chosen.includes(each)}
              onChange={(event) =>
                props.onChange(
                  event.target.checked
                    ? [...props.chosen, each]
                    : props.chosen.filter((other) => other !== each),
                )
              }
            />
          }
        />
      ))}
    </Box>
  );
}

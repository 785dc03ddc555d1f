/** How a page looks and lasts: its name, colours, days, and the picture that emails show of it. */
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { PublicLanguage } from "../../core/languages";
import { colourProblems } from "../../core/pages/colours";
import type { Definition } from "../../core/pages/template";
import { NumberField } from "../components/number-field";
import { PlainSelect } from "../components/plain-select";

const COLOURS = { accent: "Buttons and links", paper: "Paper" } as const;

export function PageLook({
  definition,
  errors,
  name,
  onName,
  onChange,
}: {
  definition: Definition;
  language: PublicLanguage;
  errors: Record<string, string>;
  name: string;
  onName: (name: string) => void;
  onChange: (part: Partial<Definition>) => void;
}) {
  const problems = colourProblems(definition.colours);
  return (
    <Box component="section" aria-label="The page itself" sx={{ display: "grid", gap: 1.5, mt: 3 }}>
      <Typography variant="h2">The page itself</Typography>
      <TextField
        size="small"
        label="Its name; only the team sees it"
        value={name}
        onChange={({ target }) => onName(target.value)}
        error={!!errors.name}
        helperText={errors.name}
      />
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
        {(["accent", "paper"] as const).map((part) => (
          <Box
            key={part}
            component="label"
            sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: 14 }}
          >
            <input
              type="color"
              value={definition.colours[part]}
              onChange={({ target }) =>
                onChange({ colours: { ...definition.colours, [part]: target.value } })
              }
              style={{ width: 44, height: 32, padding: 2 }}
            />
            {COLOURS[part]}
          </Box>
        ))}
      </Box>
      {Object.values(problems).map((words) => (
        <Typography key={words} variant="caption" color="error">
          {words}
        </Typography>
      ))}
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <NumberField
          label="It ends after days"
          value={definition.days}
          most={730}
          onChange={(days) => onChange({ days })}
          sx={{ width: 150 }}
        />
        <PlainSelect
          label="Its moving picture in emails"
          value={definition.picture}
          onChange={(picture) => onChange({ picture: picture as Definition["picture"] })}
          options={[
            ["address", "is loaded from our address"],
            ["inside", "travels inside the email"],
          ]}
          sx={{ width: 240 }}
        />
      </Box>
      <Typography variant="caption" color="textSecondary">
        {definition.picture === "inside"
          ? "It shows at once, also where pictures from elsewhere are not loaded; each email is up to 800 kB larger."
          : "Emails stay small; some mail programs ask before they load it."}
      </Typography>
    </Box>
  );
}

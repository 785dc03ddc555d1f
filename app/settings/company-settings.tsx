import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { countryName } from "../../core/countries";
import type { Company } from "../../server/accounts/company";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { FileButton } from "../components/file-button";
import { useAction } from "../components/use-action";
import { Part, type Said, two } from "./parts";

const read = (file: File) =>
  new Promise<string>((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.readAsDataURL(file);
  });

export function CompanySettings({
  company,
  countries,
  isManager,
}: {
  company: Company;
  countries: string[];
  isManager: boolean;
}) {
  const part = useAction<Said>();
  const { errors } = part;
  const [picture, setPicture] = useState(company.picture);
  const sorted = countries
    .map((code) => [code, countryName(code)] as const)
    .toSorted((a, b) => a[1].localeCompare(b[1]));
  return (
    <Part title="Company" intent="company" button="Save for everybody" of={part} disabled={!isManager}>
      {!isManager && <Typography color="textSecondary">A manager of your team changes these.</Typography>}
      <Box sx={two}>
        <Field
          errors={errors}
          name="name"
          label="The company's name on public pages"
          defaultValue={company.name}
        />
        <Choice
          errors={errors}
          name="country"
          label="Country whose public holidays are free"
          defaultValue={company.country}
          options={[["", "None"], ...sorted]}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", minHeight: 64 }}>
        <input type="hidden" name="picture" value={picture} />
        <Box
          sx={{
            width: 220,
            height: 60,
            border: "1px dashed",
            borderColor: errors.picture ? "clay.main" : "divider",
            borderRadius: 1,
            display: "grid",
            placeItems: "center",
            overflow: "hidden",
          }}
        >
          {picture ? (
            <Box
              component="img"
              src={picture}
              alt="The company's picture"
              sx={{ maxWidth: 1, maxHeight: 58 }}
            />
          ) : (
            <Typography variant="body2" color="textSecondary">
              No picture
            </Typography>
          )}
        </Box>
        <FileButton
          label="Choose a picture"
          disabled={!isManager}
          accept="image/png,image/jpeg,image/webp"
          onFile={(file) => void read(file).then(setPicture)}
        />
        {picture && isManager && (
          <Button type="button" onClick={() => setPicture("")}>
            Take it away
          </Button>
        )}
        <Typography variant="body2" color={errors.picture ? "error" : "textSecondary"}>
          {errors.picture ?? "PNG, JPEG or WebP, at most 200 kB."}
        </Typography>
      </Box>
      <Choice
        errors={errors}
        name="optOutHeader"
        label="Opt-out buttons of mail programs"
        defaultValue={company.optOutHeader}
        options={[
          ["follow_ups", "In follow-ups, so that first emails get automatic answers"],
          ["always", "In every email"],
        ]}
      />
      <Choice
        errors={errors}
        name="unsettled"
        label="When nobody can tell whether an email left"
        defaultValue={company.unsettled}
        options={[
          ["ask", "Ask me: rather once too few"],
          ["send_again", "Send it again: rather once too many"],
        ]}
      />
    </Part>
  );
}

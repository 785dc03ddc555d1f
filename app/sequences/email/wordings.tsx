import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { diffWords } from "diff";
import { useState } from "react";
import { MAX_VARIANTS } from "../../../core/sequence/limits";
import type { EmailStep, Variant } from "../../../core/sequence/path";
import { letterOf } from "../../../core/sequence/path-problems";
import { Viewer } from "../../components/dialogs";
import { NumberField } from "../../components/number-field";
import { newId } from "../use-composer";

export function Wordings(props: {
  step: EmailStep;
  variant: Variant;
  onVariant: (id: string) => void;
  onChange: (step: EmailStep) => void;
}) {
  const { step, variant, onVariant, onChange } = props;
  const [comparing, setComparing] = useState(false);
  const total = step.variants.reduce((sum, { weight }) => sum + weight, 0);
  const first = step.variants[0] as Variant;
  const add = () => {
    const added = { ...variant, id: newId() };
    onChange({ ...step, variants: [...step.variants, added] });
    onVariant(added.id);
  };
  const remove = () => {
    onChange({ ...step, variants: step.variants.filter(({ id }) => id !== variant.id) });
    onVariant(first.id === variant.id ? (step.variants[1]?.id ?? "") : first.id);
  };
  return (
    <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
      {step.variants.length > 1 && (
        <>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={variant.id}
            onChange={(_, id) => id && onVariant(id)}
            aria-label="Wordings"
          >
            {step.variants.map(({ id, weight }) => (
              <ToggleButton key={id} value={id} sx={{ px: 1.5, py: 0.4, textTransform: "none" }}>
                Wording {letterOf(step, id)} · {total === 0 ? 0 : Math.round((100 * weight) / total)} %
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <NumberField
            label="Weight"
            value={variant.weight}
            most={100}
            onChange={(number) =>
              onChange({
                ...step,
                variants: step.variants.map((each) =>
                  each.id === variant.id ? { ...each, weight: number } : each,
                ),
              })
            }
            sx={{ width: 90 }}
          />
          {variant.id !== first.id && (
            <Button size="small" variant="text" onClick={() => setComparing(true)}>
              What differs from A
            </Button>
          )}
          <Button size="small" variant="text" onClick={remove}>
            Remove this wording
          </Button>
        </>
      )}
      {step.variants.length < MAX_VARIANTS && (
        <Button size="small" variant="text" onClick={add}>
          Try another wording
        </Button>
      )}
      {comparing && (
        <Viewer
          title={<>Wording {letterOf(step, variant.id)} against A</>}
          onClose={() => setComparing(false)}
        >
          <Differences before={first.subject} after={variant.subject} />
          <Differences before={first.body} after={variant.body} />
        </Viewer>
      )}
    </Box>
  );
}

function Differences({ before, after }: { before: string; after: string }) {
  let at = 0;
  return (
    <Typography variant="letter" sx={{ whiteSpace: "pre-wrap", mb: 1.5, overflowWrap: "anywhere" }}>
      {diffWords(before, after).map(({ value, added, removed }) => (
        <Box
          component={added ? "ins" : removed ? "del" : "span"}
          key={at++}
          sx={{
            ...(added && {
              bgcolor: "kelp.wash",
              textDecoration: "none",
              borderBottom: "2px solid",
              borderColor: "kelp.main",
            }),
            ...(removed && { bgcolor: "clay.wash" }),
          }}
        >
          {value}
        </Box>
      ))}
    </Typography>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { Suspense, useState } from "react";
import { MAX_VARIANTS } from "../../../core/sequence/limits";
import type { EmailStep, Variant } from "../../../core/sequence/path";
import { letterOf } from "../../../core/sequence/path-problems";
import type { WordingsSoFar } from "../../../server/sequences/share-wordings";
import { lazily } from "../../components/lazily";
import { NumberField } from "../../components/number-field";
import { Tick } from "../../components/tick";
import { BroughtLine } from "../../results/brought-line";
import { newId } from "../use-composer";

const WordingsApart = lazily(() => import("./wordings-apart"), "WordingsApart");

export function Wordings(props: {
  step: EmailStep;
  variant: Variant;
  soFar: WordingsSoFar;
  onVariant: (id: string) => void;
  onChange: (step: EmailStep) => void;
}) {
  const { step, variant, soFar, onVariant, onChange } = props;
  const own = soFar[`${step.id} ${variant.id}`];
  const [comparing, setComparing] = useState(false);
  const weights = step.variants.map(({ id, weight }) =>
    step.favoursBetter && weight > 0 ? (soFar[`${step.id} ${id}`]?.share ?? weight) : weight,
  );
  const total = weights.reduce((sum, weight) => sum + weight, 0);
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
            {step.variants.map(({ id }, nth) => (
              <ToggleButton key={id} value={id} sx={{ px: 1.5, py: 0.4, textTransform: "none" }}>
                Wording {letterOf(step, id)} ·{" "}
                {total === 0 ? 0 : Math.round((100 * (weights[nth] ?? 0)) / total)} %
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
      {step.variants.length > 1 && (
        <Tick
          label="Give the better one more, day by day"
          checked={step.favoursBetter === true}
          onChange={(isChecked) => {
            const { favoursBetter: _, ...rest } = step;
            onChange(isChecked ? { ...rest, favoursBetter: true } : rest);
          }}
        />
      )}
      {step.variants.length < MAX_VARIANTS && (
        <Button size="small" variant="text" onClick={add}>
          Try another wording
        </Button>
      )}
      {own && (
        <Box sx={{ flex: 1 }}>
          <BroughtLine brought={own.brought} />
        </Box>
      )}
      {comparing && (
        <Suspense>
          <WordingsApart
            title={`Wording ${letterOf(step, variant.id)} against A`}
            before={first}
            after={variant}
            onClose={() => setComparing(false)}
          />
        </Suspense>
      )}
    </Box>
  );
}

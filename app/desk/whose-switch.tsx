/** Whose things a page shows, said where they stand, with the choice of a colleague's or everybody's. */
import Box from "@mui/material/Box";
import type { Looking } from "../../server/accounts/whose";
import { PlainSelect } from "../components/plain-select";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";

const possessive = (name: string) => `${name}${name.endsWith("s") ? "’" : "’s"}`;

/** Nothing where there are no colleagues. */
export function WhoseSwitch({ looking }: { looking: Looking }) {
  const { press, errors } = useAction({ to: "/looking", as: "json" });
  const { at, colleagues } = looking;
  if (colleagues.length === 0) return null;
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <PlainSelect
        aria-label="Whose"
        value={String(at)}
        onChange={(chosen) => press({ at: chosen })}
        options={[
          ["mine", "Mine"],
          ...colleagues.map(({ id, name }) => [String(id), possessive(name)] as const),
          ["all", "Everybody’s"],
        ]}
        sx={{
          width: 168,
          "& select": { py: 0.6 },
          ...(at !== "mine" && { bgcolor: "ochre.wash", borderRadius: 1 }),
        }}
      />
      <Refusal errors={errors} />
    </Box>
  );
}

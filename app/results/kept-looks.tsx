/** Looks that somebody named: opened from a menu, kept as the address stands, dropped where they are listed. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { KeptLook } from "../../server/results/kept-looks";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";

export function KeptLooks(props: {
  looks: readonly KeptLook[];
  path: string;
  query: string;
  onClose: () => void;
}) {
  const { looks, path, query, onClose } = props;
  const { press, errors } = useAction({ to: "/results/looks" });
  return (
    <FormDialog
      title="Looks"
      keep="Close"
      act="Keep this look"
      intent="keep"
      action="/results/looks"
      onClose={onClose}
    >
      {(refused) => (
        <>
          <input type="hidden" name="path" value={path} />
          <input type="hidden" name="query" value={query} />
          <Field name="name" label="Name of the look as it is now" errors={refused} />
          <Refusal errors={errors} />
          {looks.length > 0 && (
            <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
              {looks.map(({ id, name, address }) => (
                <Box
                  component="li"
                  key={id}
                  sx={{
                    display: "flex",
                    alignItems: "center",
                    gap: 1,
                    borderTop: "1px solid",
                    borderColor: "divider",
                    py: 0.5,
                  }}
                >
                  <Typography sx={{ flex: 1, minWidth: 0 }} noWrap>
                    <Link to={address} onClick={onClose}>
                      {name}
                    </Link>
                  </Typography>
                  <Button
                    size="small"
                    variant="text"
                    aria-label={`Drop “${name}”`}
                    onClick={() => press({ intent: "drop", id: String(id) })}
                  >
                    Drop
                  </Button>
                </Box>
              ))}
            </Box>
          )}
        </>
      )}
    </FormDialog>
  );
}

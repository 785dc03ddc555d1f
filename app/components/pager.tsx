import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useSearchParams } from "react-router";

/** Which part of a long list is shown, and the way to the next: in the address as `page`, from 0. Nothing where all of it is shown. */
export function Pager({ page, pageSize, total }: { page: number; pageSize: number; total: number }) {
  const [, setParams] = useSearchParams();
  if (total <= pageSize && page === 0) return null;
  const turn = (to: number) =>
    setParams((params) => {
      if (to > 0) params.set("page", String(to));
      else params.delete("page");
      return params;
    });
  const [from, until] = [page * pageSize, Math.min(total, (page + 1) * pageSize)];
  return (
    <Box component="nav" aria-label="Pages" sx={{ display: "flex", gap: 1, alignItems: "center", my: 1.5 }}>
      <Button size="small" disabled={page === 0} onClick={() => turn(page - 1)}>
        Back
      </Button>
      <Typography variant="body2" color="textSecondary">
        {from < total
          ? `${(from + 1).toLocaleString("en-GB")}–${until.toLocaleString("en-GB")}`
          : "None here"}{" "}
        of {total.toLocaleString("en-GB")}
      </Typography>
      <Button size="small" disabled={until >= total} onClick={() => turn(page + 1)}>
        Next
      </Button>
    </Box>
  );
}

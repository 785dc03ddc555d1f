import Tooltip from "@mui/material/Tooltip";

/** What the tick says over which the pointer is. */
export function TickWords({ near }: { near: HTMLElement }) {
  return (
    <Tooltip open title={near.ariaLabel} slotProps={{ popper: { anchorEl: near } }}>
      <span />
    </Tooltip>
  );
}

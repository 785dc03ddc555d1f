/** What happened that the user wants to know of: a number in the top bar, and the list behind it. */
import Badge from "@mui/material/Badge";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useFetcher } from "react-router";
import type { OwnNotice } from "../../server/notices/own-notices";
import { when } from "../components/words";

export function Bell({ notices, now, zone }: { notices: OwnNotice[]; now: number; zone: string }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const seen = useFetcher();
  const fresh = seen.state === "idle" ? notices.filter((each) => !each.seen).length : 0;
  return (
    <>
      <IconButton
        aria-label={fresh === 0 ? "Notices" : `Notices, ${fresh} new`}
        onClick={({ currentTarget }) => {
          setAnchor(currentTarget);
          if (fresh > 0) void seen.submit(null, { method: "post", action: "/notices" });
        }}
        sx={{ p: 0.75 }}
      >
        <Badge
          badgeContent={fresh}
          max={99}
          color="warning"
          slotProps={{ badge: { sx: { fontSize: 11, height: 16, minWidth: 16 } } }}
        >
          <svg
            width="18"
            height="18"
            viewBox="0 0 18 18"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.5"
            aria-hidden
          >
            <path d="M2.5 6.5h13v7h-13z M2.5 6.5l2-3h9l2 3 M6.5 9.5h5" strokeLinejoin="round" />
          </svg>
        </Badge>
      </IconButton>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <Box sx={{ width: 340, maxHeight: 420, overflowY: "auto", p: 1.5 }}>
          <Typography variant="label" sx={{ px: 1, pb: 0.5 }}>
            What happened
          </Typography>
          {notices.length === 0 && (
            <Typography color="textSecondary" sx={{ px: 1, py: 1 }}>
              Nothing yet. What comes here is chosen under Settings, Notices.
            </Typography>
          )}
          {notices.map((notice) => (
            <Box
              key={notice.id}
              component={Link}
              to={notice.path}
              onClick={() => setAnchor(null)}
              sx={{
                display: "block",
                px: 1,
                py: 0.75,
                borderRadius: 1,
                color: "inherit",
                textDecoration: "none",
                "&:hover": { bgcolor: "margin" },
              }}
            >
              <Typography sx={{ fontWeight: notice.seen ? 400 : 600 }}>{notice.text}</Typography>
              <Typography variant="caption" color="textSecondary">
                {when(notice.at, now, zone)}
              </Typography>
            </Box>
          ))}
          <Typography
            component={Link}
            to="/settings?show=notices"
            onClick={() => setAnchor(null)}
            variant="body2"
            sx={{ display: "block", px: 1, pt: 1 }}
          >
            Choose what you are told
          </Typography>
        </Box>
      </Popover>
    </>
  );
}

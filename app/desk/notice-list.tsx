import Box from "@mui/material/Box";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { OwnNotice } from "../../server/notices/own-notices";
import { when } from "../components/words";

export function NoticeList(props: {
  anchor: HTMLElement;
  onClose: () => void;
  notices: OwnNotice[];
  now: number;
  zone: string;
}) {
  const { anchor, onClose, notices, now, zone } = props;
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
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
            onClick={onClose}
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
          onClick={onClose}
          variant="body2"
          sx={{ display: "block", px: 1, pt: 1 }}
        >
          Choose what you are told
        </Typography>
      </Box>
    </Popover>
  );
}

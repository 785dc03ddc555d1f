import Avatar from "@mui/material/Avatar";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import { NavLink, useLocation } from "react-router";
import type { OwnNotice } from "../../server/notices/own-notices";
import { lazily } from "../components/lazily";
import { Bell } from "./bell";
import { Finder } from "./finder";
import { Mark } from "./mark";
import { PLACES } from "./places";

const UserMenu = lazily(() => import("./user-menu"), "UserMenu");

export function TopBar(props: {
  userName: string;
  unread: number;
  notices: OwnNotice[];
  now: number;
  zone: string;
}) {
  const { userName, unread, notices, now, zone } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { pathname } = useLocation();
  const initials = userName
    .split(" ")
    .map((word) => word[0])
    .join("")
    .slice(0, 2);
  return (
    <Box
      component="header"
      sx={{
        // On a phone the places stand in a second row, all of them in sight.
        display: "grid",
        gridTemplateColumns: { xs: "auto 1fr auto auto", md: "auto 1fr auto auto auto" },
        gridTemplateRows: { xs: "52px 40px", md: "52px" },
        alignItems: "center",
        columnGap: { xs: 1.5, md: 3 },
        px: { xs: 1.5, md: 2.5 },
        bgcolor: "background.paper",
        borderBottom: "1px solid",
        borderColor: "divider",
      }}
    >
      <Box
        component={NavLink}
        to="/"
        aria-label="Saudade, Today"
        sx={{
          gridColumn: 1,
          gridRow: 1,
          display: "flex",
          alignItems: "center",
          gap: 1.1,
          color: "text.primary",
          textDecoration: "none",
        }}
      >
        <Mark />
        <Typography
          component="span"
          variant="letter"
          sx={{ fontSize: 22, fontStyle: "italic", display: { xs: "none", sm: "inline" } }}
        >
          Saudade
        </Typography>
      </Box>
      <Box
        component="nav"
        aria-label="Places"
        sx={{
          gridColumn: { xs: "1 / -1", md: 2 },
          gridRow: { xs: 2, md: 1 },
          display: { xs: "grid", md: "flex" },
          gridTemplateColumns: { xs: "repeat(6, auto)", md: "none" },
          justifyContent: { xs: "space-between", md: "flex-start" },
          gap: { xs: 0.5, md: 2.75 },
          height: 1,
          minWidth: 0,
        }}
      >
        {PLACES.map(({ to, name }) => (
          <Box
            key={to}
            component={NavLink}
            to={to}
            end={to === "/"}
            // A list and a search belong to the prospects; the link itself knows only its own address.
            className={to === "/prospects" && /^\/(lists|searches)\//.test(pathname) ? "active" : ""}
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 0.8,
              color: "text.secondary",
              fontWeight: 500,
              fontSize: { xs: 13, md: "inherit" },
              whiteSpace: "nowrap",
              textDecoration: "none",
              borderBottom: "3px solid transparent",
              borderTop: "3px solid transparent",
              "&:hover": { color: "text.primary" },
              "&.active": { color: "tile.deep", fontWeight: 650, borderBottomColor: "tile.main" },
            }}
          >
            {name}
            {to === "/replies" && unread > 0 && (
              <Box
                component="span"
                aria-label={`${unread} to read`}
                sx={{
                  bgcolor: "clay.main",
                  color: "background.paper",
                  borderRadius: 5,
                  px: { xs: 0.5, md: 0.8 },
                  fontSize: { xs: 11, md: 12 },
                  fontWeight: 650,
                  lineHeight: "17px",
                }}
              >
                {unread}
              </Box>
            )}
          </Box>
        ))}
      </Box>
      <Finder />
      <Bell notices={notices} now={now} zone={zone} />
      <IconButton
        onClick={(event) => setAnchor(event.currentTarget)}
        aria-label={`Menu of ${userName}`}
        sx={{ p: 0.25 }}
      >
        <Avatar sx={{ width: 28, height: 28, bgcolor: "tile.deep", fontSize: 12, fontWeight: 650 }}>
          {initials}
        </Avatar>
      </IconButton>
      {anchor && (
        <Suspense>
          <UserMenu anchor={anchor} onClose={() => setAnchor(null)} userName={userName} />
        </Suspense>
      )}
    </Box>
  );
}

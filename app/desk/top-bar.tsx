import Avatar from "@mui/material/Avatar";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import { styled } from "@mui/material/styles";
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
      <Places aria-label="Places">
        {PLACES.map(({ to, name }) => (
          <NavLink
            key={to}
            to={to}
            end={to === "/"}
            // A list and a search belong to the prospects; the link itself knows only its own address.
            className={({ isActive }) =>
              isActive || (to === "/prospects" && /^\/(lists|searches)\//.test(pathname)) ? "active" : ""
            }
          >
            {name}
            {to === "/replies" && unread > 0 && (
              <span role="img" aria-label={`${unread} to read`}>
                {unread}
              </span>
            )}
          </NavLink>
        ))}
      </Places>
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

const Places = styled("nav")(({ theme: { palette, breakpoints } }) => ({
  gridColumn: 2,
  gridRow: 1,
  display: "flex",
  gap: 22,
  height: "100%",
  minWidth: 0,
  "& a": {
    display: "flex",
    alignItems: "center",
    gap: 6.4,
    color: palette.text.secondary,
    fontWeight: 500,
    whiteSpace: "nowrap",
    textDecoration: "none",
    borderBottom: "3px solid transparent",
    borderTop: "3px solid transparent",
  },
  "& a:hover": { color: palette.text.primary },
  "& a.active": { color: palette.tile.deep, fontWeight: 650, borderBottomColor: palette.tile.main },
  // How many letters are to be read.
  "& a span": {
    background: palette.clay.main,
    color: palette.background.paper,
    borderRadius: 35,
    padding: "0 6.4px",
    fontSize: 12,
    fontWeight: 650,
    lineHeight: "17px",
  },
  [breakpoints.down("md")]: {
    gridColumn: "1 / -1",
    gridRow: 2,
    display: "grid",
    gridTemplateColumns: "repeat(6, auto)",
    justifyContent: "space-between",
    gap: 4,
    "& a": { fontSize: 13 },
    "& a span": { padding: "0 4px", fontSize: 11 },
  },
}));

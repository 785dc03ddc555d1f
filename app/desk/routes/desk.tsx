/** The frame of every screen behind the sign-in: top bar, the screen, day line. */
import Box from "@mui/material/Box";
import { Outlet } from "react-router";
import { whose } from "../../../server/accounts/whose";
import { webApp } from "../../../server/app";
import { dayLine } from "../../../server/desk/day-line";
import { countUnread } from "../../../server/replies/list-replies";
import { requireUser, userContext } from "../../accounts/session";
import { DayLine } from "../day-line";
import { Shortcuts } from "../shortcuts";
import { TopBar } from "../top-bar";
import type { Route } from "./+types/desk";

/** The first thing that a Tab reaches: past the places, to the page. Seen only while it has the focus. */
function SkipLink() {
  return (
    <Box
      component="a"
      href="#page"
      sx={{
        position: "absolute",
        top: 8,
        left: 8,
        zIndex: 2_000,
        px: 2,
        py: 1,
        borderRadius: 1,
        bgcolor: "tile.deep",
        color: "background.paper",
        "&:not(:focus)": { transform: "translateY(-80px)" },
      }}
    >
      To the page
    </Box>
  );
}

export const middleware: Route.MiddlewareFunction[] = [requireUser];

export function loader({ context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  return {
    user: { name: user.name, zone: user.zone },
    unread: countUnread(webApp(), whose(user)),
    line: dayLine(webApp(), user),
  };
}

export default function Desk({ loaderData }: Route.ComponentProps) {
  return (
    <Box
      sx={{
        height: "100dvh",
        display: "grid",
        gridTemplateRows: "auto minmax(0, 1fr) 60px",
        gridTemplateColumns: "minmax(0, 1fr)",
        // On paper the page alone, as long as it is.
        "@media print": { display: "block", height: "auto", "& > header, & > footer": { display: "none" } },
      }}
    >
      <SkipLink />
      <TopBar
        userName={loaderData.user.name}
        unread={loaderData.unread}
        notices={loaderData.line.notices}
        now={loaderData.line.now}
        zone={loaderData.user.zone}
      />
      <Box sx={{ minHeight: 0 }}>
        <Outlet />
      </Box>
      <DayLine initial={loaderData.line} />
      <Shortcuts />
    </Box>
  );
}

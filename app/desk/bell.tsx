/** What happened that the user wants to know of, as a number in the top bar; the list behind it comes at a touch. */

import Badge from "@mui/material/Badge";
import IconButton from "@mui/material/IconButton";
import { Suspense, useState } from "react";
import type { OwnNotice } from "../../server/notices/own-notices";
import { lazily } from "../components/lazily";
import { useAction } from "../components/use-action";

const NoticeList = lazily(() => import("./notice-list"), "NoticeList");

export function Bell({ notices, now, zone }: { notices: OwnNotice[]; now: number; zone: string }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const seen = useAction({ to: "/notices" });
  const fresh = !seen.isBusy ? notices.filter((each) => !each.seen).length : 0;
  return (
    <>
      <IconButton
        aria-label={fresh === 0 ? "Notices" : `Notices, ${fresh} new`}
        onClick={({ currentTarget }) => {
          setAnchor(currentTarget);
          if (fresh > 0) seen.press({});
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
      {anchor && (
        <Suspense>
          <NoticeList
            anchor={anchor}
            onClose={() => setAnchor(null)}
            notices={notices}
            now={now}
            zone={zone}
          />
        </Suspense>
      )}
    </>
  );
}

/** The replies of a kind, each with its first words. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { ReplyRow } from "../../server/replies/list-replies";
import { Pill } from "../components/pill";
import { when } from "../components/words";
import { labelTone } from "./label-words";
import { withoutWords } from "./letter-text";

export function ReplyList(props: {
  replies: ReplyRow[];
  openId: number;
  names: ReadonlyMap<string, string>;
  now: number;
  zone: string;
  onOpen: (id: number) => void;
}) {
  const { replies, openId, names, now, zone, onOpen } = props;
  const current = useRef<HTMLButtonElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it comes into view when another one opens
  useEffect(() => {
    current.current?.scrollIntoView({ block: "nearest" });
  }, [openId]);
  return (
    <Box
      component="nav"
      aria-label="Replies"
      sx={{ overflowY: "auto", minHeight: 0, maxHeight: { xs: 190, sm: "none" }, pr: 0.5 }}
    >
      {replies.map((reply) => {
        const said = reply.label?.code ?? (reply.reading?.sure ? reply.reading.label : null);
        return (
          <Box
            key={reply.id}
            ref={reply.id === openId ? current : null}
            component="button"
            type="button"
            aria-current={reply.id === openId}
            onClick={() => onOpen(reply.id)}
            sx={{
              display: "block",
              width: 1,
              textAlign: "left",
              font: "inherit",
              color: "inherit",
              cursor: "pointer",
              border: 0,
              borderLeft: "3px solid transparent",
              borderBottom: "1px solid",
              borderBottomColor: "divider",
              bgcolor: "transparent",
              px: 1.25,
              py: 1,
              '&[aria-current="true"]': { bgcolor: "background.paper", borderLeftColor: "tile.main" },
              "&:hover": { bgcolor: "background.paper" },
            }}
          >
            <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
              <Typography noWrap sx={{ flex: 1, fontWeight: reply.readAt === null ? 650 : 500 }}>
                {reply.name}
              </Typography>
              <Typography variant="caption" color="textSecondary" noWrap>
                {when(reply.at, now, zone).split(",")[0]}
              </Typography>
            </Box>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {reply.company}
            </Typography>
            <Typography
              variant="body2"
              component="div"
              dir="auto"
              sx={{
                mt: 0.25,
                display: "-webkit-box",
                WebkitLineClamp: 2,
                WebkitBoxOrient: "vertical",
                overflow: "hidden",
                overflowWrap: "anywhere",
              }}
            >
              {reply.firstLine || withoutWords(reply)}
            </Typography>
            {said && (
              <Box sx={{ mt: 0.5 }}>
                <Pill tone={labelTone(said)}>
                  {reply.label ? "" : "reads as "}
                  {(names.get(said) ?? said).toLowerCase()}
                </Pill>
              </Box>
            )}
          </Box>
        );
      })}
    </Box>
  );
}

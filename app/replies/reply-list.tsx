/** The replies of a kind, each with its first words. */
import Box from "@mui/material/Box";
import { styled } from "@mui/material/styles";
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
      sx={{ overflowY: { sm: "auto" }, minHeight: 0, pr: { sm: 0.5 } }}
    >
      {replies.map((reply) => {
        const said = reply.label?.code ?? (reply.reading?.sure ? reply.reading.label : null);
        return (
          <Row
            key={reply.id}
            ref={reply.id === openId ? current : null}
            type="button"
            aria-current={reply.id === openId}
            data-unread={reply.readAt === null}
            onClick={() => onOpen(reply.id)}
          >
            <span className="who">
              <span className="name">{reply.name}</span>
              <span className="quiet">{when(reply.at, now, zone).split(",")[0]}</span>
            </span>
            <span className="quiet">{reply.company}</span>
            <span className="first" dir="auto">
              {reply.firstLine || withoutWords(reply)}
            </span>
            {said && (
              <Pill tone={labelTone(said)} sx={{ mt: 0.5 }}>
                {reply.label ? "" : "reads as "}
                {(names.get(said) ?? said).toLowerCase()}
              </Pill>
            )}
          </Row>
        );
      })}
    </Box>
  );
}

const oneLine = {
  display: "block",
  overflow: "hidden",
  textOverflow: "ellipsis",
  whiteSpace: "nowrap",
} as const;
// Dozens of them on one page: so each is a few plain elements.
const Row = styled("button")(({ theme: { palette, typography } }) => ({
  display: "block",
  width: "100%",
  textAlign: "left",
  font: "inherit",
  color: "inherit",
  cursor: "pointer",
  border: 0,
  borderLeft: "3px solid transparent",
  borderBottom: `1px solid ${palette.divider}`,
  background: "transparent",
  padding: "8px 10px",
  '&[aria-current="true"]': { background: palette.background.paper, borderLeftColor: palette.tile.main },
  "&:hover": { background: palette.background.paper },
  "& .who": { display: "flex", alignItems: "baseline", gap: 8 },
  "& .name": { ...typography.body1, ...oneLine, flex: 1, fontWeight: 500 },
  '&[data-unread="true"] .name': { fontWeight: 650 },
  "& .quiet": { ...typography.caption, ...oneLine, color: palette.text.secondary },
  "& .first": {
    ...typography.body2,
    marginTop: 2,
    display: "-webkit-box",
    WebkitLineClamp: 2,
    WebkitBoxOrient: "vertical",
    overflow: "hidden",
    overflowWrap: "anywhere",
  },
}));

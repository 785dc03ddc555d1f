/** What the numbers say, in the margin: each finding with what it rests on, how sure it is, and the press that acts on it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { isProfiled } from "../../core/prospects/propose-profile";
import { findingWords } from "../../core/results/finding-words";
import type { Finding } from "../../core/results/findings";
import type { Group } from "../../core/results/groups";
import { MarginNote } from "../components/page";

export function Findings(props: {
  findings: readonly Finding[];
  settles: Record<string, string>;
  /** Where a finding's press leads. */
  to: (finding: Finding) => string | null;
  onSetAside: (key: string) => void;
  /** A target profile is made of what a group is. */
  onProfile: (group: Group) => void;
}) {
  const { findings, settles, to, onSetAside, onProfile } = props;
  return (
    <MarginNote title="What the numbers say">
      {findings.length === 0 && (
        <Typography>
          Nothing yet that could not be chance: a step needs some sixty people before its figures say
          anything, and a difference of a few percent needs hundreds.
        </Typography>
      )}
      {findings.map((finding) => {
        const { tone, says, rests, press } = findingWords(finding, settles[finding.key] ?? null);
        const leads = to(finding);
        return (
          <Box
            key={finding.key}
            component="article"
            sx={{
              borderLeft: "3px solid",
              borderColor: `${tone}.main`,
              pl: 1.5,
              py: 0.25,
              "article + &": { mt: 2 },
            }}
          >
            <Typography>{says}</Typography>
            <Typography variant="body2" color="textSecondary">
              {rests}
            </Typography>
            <Box sx={{ display: "flex", columnGap: 1.5, mt: 0.25, flexWrap: "wrap" }}>
              {leads && press && (
                <Button variant="text" size="small" component={Link} to={leads} sx={PRESS}>
                  {press}
                </Button>
              )}
              {finding.kind === "group_differs" && isProfiled(finding.group.attribute) && (
                <Button variant="text" size="small" sx={PRESS} onClick={() => onProfile(finding.group)}>
                  Make it a target profile
                </Button>
              )}
              <Button
                variant="text"
                size="small"
                color="inherit"
                sx={{ ...PRESS, color: "text.secondary", fontWeight: 500 }}
                onClick={() => onSetAside(finding.key)}
              >
                Not again here
              </Button>
            </Box>
          </Box>
        );
      })}
    </MarginNote>
  );
}

const PRESS = { px: 0, py: 0.25, minWidth: 0 } as const;

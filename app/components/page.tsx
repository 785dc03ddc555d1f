import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";

/** A screen: the sentence that says how things stand, the one thing it is about, and the margin. */
export function Page(props: {
  heading: React.ReactNode;
  sub?: React.ReactNode;
  actions?: React.ReactNode;
  margin: React.ReactNode;
  /** What is open is a page of its own on a phone: there this leads back to its list, in place of the heading. */
  phoneBack?: { to: string; words: string } | null;
  /** Whether the margin stands below on a phone; it does by itself. */
  hasMarginOnPhone?: boolean;
  /** The last child takes the height that is left, such as a table that scrolls by itself. */
  fill?: boolean;
  children: React.ReactNode;
}) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 312px" },
        height: "100%",
        overflow: { xs: "auto", md: "hidden" },
        "@media print": {
          display: "block",
          height: "auto",
          overflow: "visible",
          "& > *": { overflow: "visible" },
        },
      }}
    >
      <Box
        component="main"
        id="page"
        tabIndex={-1}
        sx={{
          overflowY: { md: "auto" },
          px: { xs: 2, md: 3.25 },
          pt: 2.5,
          pb: props.fill ? 1.5 : 2.5,
          minWidth: 0,
          outline: "none",
          ...(props.fill && {
            display: "flex",
            flexDirection: "column",
            "& > *": { flexShrink: 0 },
            "& > :last-child": { flex: "1 1 320px", minHeight: 320 },
          }),
        }}
      >
        {props.phoneBack && (
          // The page's heading there, so that it has one.
          <Typography
            variant="h3"
            component="h1"
            sx={{ display: { xs: "block", sm: "none" }, mb: 1, "& a": { display: "inline-block", py: 1.5 } }}
          >
            <Link to={props.phoneBack.to}>‹ {props.phoneBack.words}</Link>
          </Typography>
        )}
        <Box
          sx={{
            display: props.phoneBack ? { xs: "none", sm: "flex" } : "flex",
            alignItems: "flex-start",
            gap: 2,
            flexWrap: { xs: "wrap", sm: "nowrap" },
            mb: props.fill ? 1.5 : 2.5,
          }}
        >
          <Box sx={{ flex: { xs: props.actions ? "1 1 100%" : 1, sm: 1 }, minWidth: 0 }}>
            <Typography variant="h1">{props.heading}</Typography>
            {props.sub && (
              <Typography color="textSecondary" component="div" sx={{ mt: 0.75 }}>
                {props.sub}
              </Typography>
            )}
          </Box>
          {props.actions && (
            <Box
              sx={{
                display: "flex",
                gap: 1.25,
                flexWrap: { xs: "wrap", sm: "nowrap" },
                flexShrink: { xs: 1, sm: 0 },
              }}
            >
              {props.actions}
            </Box>
          )}
        </Box>
        {props.children}
      </Box>
      <Box
        component="aside"
        aria-label="Why, and what follows"
        // What scrolls can be reached by keys, also where nothing in it can.
        tabIndex={0}
        sx={{
          bgcolor: "margin",
          ...(props.hasMarginOnPhone === false && { display: { xs: "none", sm: "block" } }),
          borderStyle: "solid",
          borderColor: "divider",
          borderWidth: { xs: "1px 0 0", md: "0 0 0 1px" },
          px: 2.5,
          py: 2.5,
          overflowY: { md: "auto" },
        }}
      >
        {props.margin}
      </Box>
    </Box>
  );
}

/** One thought in the margin; thin rules stand between them. */
export function MarginNote({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box
      sx={{ "& + &": { borderTop: "1px solid", borderColor: "divider", mt: 2.5, pt: 2.5 } }}
      component="section"
      aria-label={title}
    >
      <Typography variant="label" color="textSecondary" component="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

/** What belongs here and the first thing to do, where there is nothing yet. */
export function Empty({ title, text, action }: { title: string; text: string; action?: React.ReactNode }) {
  return (
    <Box sx={{ border: "1px dashed", borderColor: "divider", borderRadius: 1, p: 4, textAlign: "center" }}>
      <Typography variant="h2">{title}</Typography>
      <Typography color="textSecondary" sx={{ mt: 1, mb: action ? 2.5 : 0, maxWidth: 460, mx: "auto" }}>
        {text}
      </Typography>
      {action}
    </Box>
  );
}

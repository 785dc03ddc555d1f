import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { FileButton } from "../components/file-button";
import { keepFile } from "../sequences/text/keep-file";

/** A picture of the team's for a page. */
export function OwnPicture({
  fileId,
  onChange,
}: {
  fileId: number | null;
  onChange: (fileId: number | null) => void;
}) {
  const [problem, setProblem] = useState("");
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
      {fileId !== null && (
        <Box component="img" src={`/files/${fileId}`} alt="" sx={{ height: 56, borderRadius: 0.5 }} />
      )}
      <FileButton
        label={fileId === null ? "Choose a picture" : "Another picture"}
        accept="image/png,image/jpeg,image/gif"
        button={{ size: "small" }}
        onFile={async (file) => {
          const kept = await keepFile(file, "picture");
          setProblem(kept.ok ? "" : Object.values(kept.errors).join(" "));
          if (kept.ok) onChange(kept.value.id);
        }}
      />
      {problem && (
        <Typography variant="caption" color="error">
          {problem}
        </Typography>
      )}
    </Box>
  );
}

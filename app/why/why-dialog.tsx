/** "Why?": a button, and behind it the recorded decisions (why-view.tsx), which come when they are asked for. */
import Button, { type ButtonProps } from "@mui/material/Button";
import { Suspense, useState } from "react";
import { useFetcher } from "react-router";
import { lazily } from "../components/lazily";
import type { loader } from "./routes/why";

const WhyView = lazily(() => import("./why-view"), "WhyView");

export function WhyButton({ journeyId, ...button }: { journeyId: number } & ButtonProps) {
  const [isOpen, setOpen] = useState(false);
  const look = useFetcher<typeof loader>();
  return (
    <>
      <Button
        size="small"
        variant="text"
        {...button}
        onClick={() => {
          setOpen(true);
          void look.load(`/why/${journeyId}`);
        }}
      >
        Why?
      </Button>
      {isOpen && (
        <Suspense fallback={null}>
          <WhyView data={look.data} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}

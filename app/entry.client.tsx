import { StrictMode, startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";
import { sitOutOutages } from "./desk/reach";
import { TypedEarly } from "./desk/typed-early";

sitOutOutages();
startTransition(() => {
  hydrateRoot(
    document,
    <StrictMode>
      <HydratedRouter />
      <TypedEarly />
    </StrictMode>,
  );
});

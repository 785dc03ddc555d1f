import { Suspense, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { lazily } from "../components/lazily";
import { moveToRow } from "../components/row-keys";
import { useKeys } from "./keys";
import { PLACES } from "./places";

const KeyList = lazily(() => import("./key-list"), "KeyList");

/** "?" lists the shortcuts; G and a letter go to a place; J and K go through the page's list. */
export function Shortcuts() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const afterG = useRef(false);
  // The letter behind a G may mean something else to the page.
  useKeys((key) => {
    const place = afterG.current ? PLACES.find(({ letter }) => letter === key) : undefined;
    afterG.current = key === "g";
    if (place) void navigate(place.to);
    return place !== undefined;
  }, "first");
  useKeys((key) => {
    if (key === "?") setOpen(true);
    return key === "?" || ((key === "j" || key === "k") && moveToRow(key === "j" ? 1 : -1));
  }, "last");

  return (
    open && (
      <Suspense>
        <KeyList onClose={() => setOpen(false)} />
      </Suspense>
    )
  );
}

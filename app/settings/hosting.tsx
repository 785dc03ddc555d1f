import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useAction } from "../components/use-action";
import { Part, type Said } from "./parts";

/** Whether colleagues' pages may book calls with whoever is signed in. */
export function Hosting({ isOn }: { isOn: boolean }) {
  const part = useAction<Said>();
  return (
    <Part title="Calls on colleagues' pages" intent="hosting" button="Save" of={part}>
      <FormControlLabel
        control={<Checkbox name="colleaguesBook" defaultChecked={isOn} />}
        label="Colleagues may put me on their booking pages; my free times and my calendar count as on my own"
      />
    </Part>
  );
}

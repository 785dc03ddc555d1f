/** A password and an end for the links of one file. */
import Alert from "@mui/material/Alert";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Lock } from "../../../server/pages/file-looks";
import { askServer } from "../../components/ask-server";
import { Confirm } from "../../components/dialogs";
import { Field, type FieldErrors } from "../../components/field";
import { Tick } from "../../components/tick";

export function FileLock({ id, name, onClose }: { id: number; name: string; onClose: () => void }) {
  const [before, setBefore] = useState<Lock | null>(null);
  const [isLocked, setLocked] = useState(false);
  const [password, setPassword] = useState("");
  const [days, setDays] = useState("");
  const [errors, setErrors] = useState<FieldErrors>({});
  const [isBusy, setBusy] = useState(false);
  const to = `/files/${id}/lock`;
  useEffect(() => {
    const cancel = new AbortController();
    void askServer<Lock>(to, undefined, cancel.signal).then((known) => {
      if (cancel.signal.aborted) return;
      if (!known.ok) return setErrors(known.errors);
      setBefore(known.value);
      setLocked(known.value.hasPassword);
      setDays(known.value.days === null ? "" : String(known.value.days));
    });
    return () => cancel.abort();
  }, [to]);
  async function save(): Promise<void> {
    setBusy(true);
    const saved = await askServer<Lock>(to, {
      ...{ password, isLocked },
      days: days.trim() === "" ? null : Number(days),
    });
    setBusy(false);
    if (saved.ok) onClose();
    else setErrors(saved.errors);
  }
  return (
    <Confirm
      title={`Who may look at ${name}`}
      keep="Cancel"
      act="Keep it so"
      width="xs"
      isWaiting={isBusy || !before}
      onClose={onClose}
      onAct={() => void save()}
    >
      {errors.form && <Alert severity="error">{errors.form}</Alert>}
      <Typography sx={{ mb: 1.5 }}>
        Each link opens this file for one person. What you choose here holds for all of its links, those that
        are out already with them.
      </Typography>
      <Tick label="It asks for a password" checked={isLocked} onChange={setLocked} />
      {isLocked && (
        <Field
          name="password"
          label={before?.hasPassword ? "Another password" : "The password"}
          value={password}
          onChange={({ target }) => setPassword(target.value)}
          autoComplete="off"
          errors={errors}
          helperText={
            before?.hasPassword
              ? "Empty: it stays as it was."
              : "Tell it to them by another way than this email; nobody can look it up here."
          }
          sx={{ mt: 1 }}
        />
      )}
      <TextField
        label="It ends after so many days"
        value={days}
        onChange={({ target }) => setDays(target.value)}
        error={!!errors.days}
        helperText={errors.days ?? "Counted from when they got it. Empty: it does not end."}
        slotProps={{ htmlInput: { inputMode: "numeric" } }}
        sx={{ mt: 2.5, width: 250 }}
      />
    </Confirm>
  );
}

import { useEffect } from "react";

/**
 * Stands behind the whole page, whose effects have all run when its own does: which field somebody is in, and what they
 * changed before there was React to hear of it, is told to it now, and the document says that it answers (data-answers).
 */
export function TypedEarly() {
  useEffect(() => {
    // A field with suggestions forgets what is typed by nobody, now or later.
    if (document.activeElement?.matches("input, textarea"))
      document.activeElement.dispatchEvent(new FocusEvent("focusin", { bubbles: true }));
    for (const field of document.querySelectorAll("input, textarea"))
      if (field instanceof HTMLInputElement && ["checkbox", "radio"].includes(field.type)) {
        if (field.checked === field.defaultChecked) continue;
        field.checked = field.defaultChecked;
        field.click();
      } else if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) {
        // Nobody types into what is only read; there programs put texts to measure them.
        if (field.type === "file" || field.readOnly || field.value === field.defaultValue) continue;
        tell(field);
      }
    document.documentElement.dataset.answers = "";
  }, []);
  return null;
}

/**
 * React takes an event for a change only if the value is another than the one that it saw last. It watches
 * the field's own property, so what is set by the prototype's is news to it.
 */
function tell(field: HTMLInputElement | HTMLTextAreaElement) {
  const typed = field.value;
  field.value = field.defaultValue;
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value")?.set?.call(field, typed);
  field.dispatchEvent(new Event("input", { bubbles: true }));
}

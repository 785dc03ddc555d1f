/** J and K go through whatever on a page is a list: what is marked `data-row`, and the rows of a table. */
const ROWS = "main [data-row], main .MuiDataGrid-row";
/** A row's name leads to its page; else its first control is what one comes for. */
const TARGETS = ["a[href]", "button:not(:disabled)", "input:not([type=hidden], :disabled)"];

/** Moves the keyboard to the next row, or the one before; false if the page has none. */
export function moveToRow(by: 1 | -1): boolean {
  const rows = [...document.querySelectorAll<HTMLElement>(ROWS)];
  const at = rows.findIndex((row) => row.contains(document.activeElement));
  const row = rows[at === -1 ? 0 : Math.min(Math.max(at + by, 0), rows.length - 1)];
  if (!row) return false;
  const inside = TARGETS.map((target) => row.querySelector<HTMLElement>(target)).find(Boolean);
  (inside ?? row).focus();
  row.scrollIntoView({ block: "nearest" });
  return true;
}

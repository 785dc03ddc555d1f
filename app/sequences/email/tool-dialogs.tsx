/** What the tools of an email's text ask for before they act. */
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Confirm } from "../../components/dialogs";

export function ConditionMenu(props: {
  anchor: HTMLElement;
  onClose: () => void;
  onChoose: (field: string) => void;
}) {
  const { anchor, onClose, onChoose } = props;
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      {["city", "title", "company", "country"].map((field) => (
        <MenuItem
          key={field}
          dense
          onClick={() => {
            onClose();
            onChoose(field);
          }}
        >
          Only where {field} is known
        </MenuItem>
      ))}
    </Menu>
  );
}

/** `onSet` gets null for no link. */
export function LinkDialog(props: {
  href: string;
  onClose: () => void;
  onSet: (href: string | null) => void;
}) {
  const [href, setHref] = useState(props.href);
  const set = (to: string | null) => {
    props.onSet(to);
    props.onClose();
  };
  return (
    <Confirm
      title="Where the link leads"
      keep="Leave it"
      act="Set the link"
      other={<Button onClick={() => set(null)}>No link</Button>}
      width="xs"
      onClose={props.onClose}
      onAct={() => set(href.trim())}
    >
      <TextField
        autoFocus
        label="Address"
        value={href}
        onChange={({ target }) => setHref(target.value)}
        helperText="https://…, or {{ booking_link }}"
        sx={{ mt: 1 }}
      />
    </Confirm>
  );
}

export function SourceDialog(props: { html: string; onClose: () => void; onTake: (html: string) => void }) {
  const [html, setHtml] = useState(props.html);
  return (
    <Confirm
      title="The text as HTML"
      keep="Leave it as it was"
      act="Take this text"
      width="md"
      onClose={props.onClose}
      onAct={() => {
        props.onTake(html);
        props.onClose();
      }}
    >
      <TextField
        multiline
        minRows={10}
        value={html}
        onChange={({ target }) => setHtml(target.value)}
        helperText="Paragraphs, bold, italic, links, lists, quotations and one heading stay; scripts, styles and the rest are left out."
        slotProps={{ htmlInput: { "aria-label": "HTML", style: { fontFamily: "monospace", fontSize: 13 } } }}
        sx={{ mt: 1 }}
      />
    </Confirm>
  );
}

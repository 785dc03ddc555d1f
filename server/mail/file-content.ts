/** What a file is by its bytes, whatever its name says: pictures are made anew, programs are turned away. */
import { strFromU8, unzipSync } from "fflate";
import { fileTypeFromBuffer } from "file-type";
import sharp from "sharp";
import { done, type Outcome, refused } from "../errors.ts";
import "./picture-readers.ts";

const MB = 1024 * 1024;
/** Pictures go out with every email; a large one makes a letter that mail servers turn away. */
const MOST_PICTURE = 2 * MB;
/** What a camera makes, before it is made smaller here. */
const MOST_TAKEN = 10 * MB;
/** Of all frames together: some 150 MB in memory. A small file can unfold to far more. */
const MOST_PIXELS = 40_000_000;
/** Wider is shown by no mail program. */
const WIDEST = 1_600;
const DECODED_WITHIN_S = 10;

export interface Content {
  bytes: Buffer;
  type: string;
  /** The ending that the content asks for, where the name has another. */
  ending: string | null;
  /** What whoever sends it should know; null where there is nothing. */
  note: string | null;
}

const size = (bytes: number) => `${(bytes / MB).toFixed(1)} MB`;

/** A picture decoded and made again: no wider than mails are, without what a camera wrote about the place and the time. */
export async function readPicture(bytes: Buffer): Promise<Outcome<Content>> {
  if (bytes.length > MOST_TAKEN)
    return refused({
      file: `This picture has ${size(bytes.length)}; ${MOST_TAKEN / MB} MB can be taken in. Make it smaller.`,
    });
  const format = (await fileTypeFromBuffer(bytes))?.ext;
  if (format !== "png" && format !== "jpg" && format !== "gif")
    return refused({ file: "Mail programs show PNG, JPEG and GIF. Choose one of these." });
  try {
    const options = { limitInputPixels: MOST_PIXELS, failOn: "error", animated: format === "gif" } as const;
    const { autoOrient, height, pages = 1, pageHeight = height } = await sharp(bytes, options).metadata();
    const { width } = autoOrient;
    if (width * pageHeight * pages > MOST_PIXELS)
      return refused({
        file: `This picture has ${Math.round((width * pageHeight * pages) / 1e6)} million points; ${MOST_PIXELS / 1e6} million are the most. Make it smaller.`,
      });
    const resized = sharp(bytes, options)
      .timeout({ seconds: DECODED_WITHIN_S })
      .autoOrient()
      .resize({ width: WIDEST, withoutEnlargement: true });
    const made = await (format === "png"
      ? resized.png({ compressionLevel: 9 })
      : format === "jpg"
        ? resized.jpeg({ quality: 85, mozjpeg: true })
        : resized.gif()
    ).toBuffer();
    if (made.length > MOST_PICTURE)
      return refused({
        file: `This picture has ${size(made.length)} at ${Math.min(width, WIDEST)} points across; a picture may have ${MOST_PICTURE / MB} MB. Save it as JPEG, or make it smaller.`,
      });
    const note =
      width > WIDEST
        ? `It was made smaller, from ${width} to ${WIDEST} points across: mails are no wider.`
        : null;
    return done({
      bytes: made,
      type: format === "jpg" ? "image/jpeg" : `image/${format}`,
      ending: null,
      note,
    });
  } catch {
    return refused({ file: "This picture is damaged. Open it in a program for pictures and save it again." });
  }
}

/** Endings under which mail hosts let nothing through. */
const PROGRAMS = new Set(
  `ade adp apk app appx bat cab chm cmd com cpl crx deb dll dmg ex exe hta img ins iso isp iqy jar js jse lib lnk mde msc msi
  msix msp mst nsh pif ps1 reg rpm scr sct sh shb swf sys vb vbe vbs vhd vhdx vxd wasm wsc wsf wsh xll elf macho`.split(
    /\s+/,
  ),
);
const ARCHIVES = new Set(["zip", "rar", "7z", "gz", "tar", "bz2", "xz"]);
const MACROS = new Set(["docm", "dotm", "xlsm", "xltm", "xlam", "pptm", "potm", "ppsm"]);
const PAGES = new Set(["html", "htm", "svg", "xml", "xhtml", "mhtml"]);
/** Kinds that are taken for each other by name: what has one of these endings and is another is called what it is. */
const KNOWN = new Set(["pdf", "png", "jpg", "gif", "docx", "xlsx", "pptx", "zip", "mp4"]);
const TEXTS: Record<string, string> = {
  csv: "text/csv",
  ics: "text/calendar",
  md: "text/markdown",
  txt: "text/plain",
  vcf: "text/vcard",
};

const endingOf = (name: string) => name.match(/\.([\p{L}\p{N}]{1,10})$/u)?.[1]?.toLowerCase() ?? "";
const isProgramName = (name: string) => PROGRAMS.has(endingOf(name));

/** What is attached, judged by its content: programs are refused, as the recipient's host would; the rest with a word of warning. */
export async function readAttachment(name: string, bytes: Buffer): Promise<Outcome<Content>> {
  const found = await fileTypeFromBuffer(bytes).catch(() => undefined);
  const typed = endingOf(name) === "jpeg" ? "jpg" : endingOf(name);
  const isScript = bytes.subarray(0, 2).toString("latin1") === "#!";
  if (isScript || PROGRAMS.has(typed) || PROGRAMS.has(found?.ext ?? ""))
    return refused({
      file: `“${name}” is a program. Mail hosts refuse letters with programs, whatever they are called. Link to it instead.`,
    });
  const inside = found?.ext === "zip" ? programInside(bytes) : null;
  if (inside !== null)
    return refused({
      file: `“${name}” holds a program, ${inside}. Mail hosts look into archives and refuse it. Link to it instead.`,
    });
  const ending = found && KNOWN.has(found.ext) && KNOWN.has(typed) && found.ext !== typed ? found.ext : null;
  const kind = ending ?? (typed || found?.ext || "");
  return done({
    bytes,
    type: found?.mime ?? (isText(bytes) ? (TEXTS[typed] ?? "text/plain") : "application/octet-stream"),
    ending,
    note: warning(kind, ending),
  });
}

function warning(kind: string, ending: string | null): string | null {
  if (ARCHIVES.has(kind)) return "Many hosts hold archives back. A PDF or a link comes through more often.";
  if (MACROS.has(kind))
    return "It can hold macros, which many hosts refuse. Save it without them, or as PDF.";
  if (PAGES.has(kind))
    return "Many hosts take this kind for a trap and refuse it. A PDF or a link comes through.";
  if (ending !== null)
    return `By its content it is another kind than its name said, so it is called .${ending}.`;
  return null;
}

/** The first program in a ZIP archive by the names in it, which are never encrypted; null if there is none. */
function programInside(bytes: Buffer): string | null {
  let found: string | null = null;
  try {
    unzipSync(bytes, {
      filter: ({ name }) => {
        if (isProgramName(name)) found ??= name.slice(-80);
        return false;
      },
    });
  } catch {
    return null;
  }
  return found;
}

const isText = (bytes: Buffer) => {
  try {
    return !strFromU8(bytes.subarray(0, 4096), true).includes("\0");
  } catch {
    return false;
  }
};

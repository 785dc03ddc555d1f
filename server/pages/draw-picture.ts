/** Draws the moving picture of an email, and the picture of a site that it shows, from what is known: no browser is needed. */
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import gifenc from "gifenc";
import opentype from "opentype.js";
import sharp, { type OverlayOptions } from "sharp";
import {
  FRAME,
  FRAME_MS,
  FRAMES,
  MOST_BYTES,
  SITE,
  SIZE,
  scrolledAt,
} from "../../core/pages/moving-picture.ts";
import "../mail/picture-readers.ts";

/** What is known of a site, to draw it by. Pictures are ours already (server/research/pictures.ts). */
export interface SiteLook {
  domain: string;
  name: string;
  line: string;
  /** As the site says it; anything else is left out. */
  colour: string;
  headings: string[];
  words: string[];
  logo: Uint8Array | null;
  picture: Uint8Array | null;
}

export interface Drawing {
  site: SiteLook;
  /** The film's first seconds, `FRAMES` frames beside each other as JPEG; null: their site alone. */
  frames: Uint8Array | null;
  /** "For Nell", in the page's language. */
  label: string;
  accent: string;
}

const require = createRequire(import.meta.url);
const fontOf = (part: string, weight: number) => {
  const { buffer, byteOffset, byteLength } = readFileSync(
    require.resolve(`@fontsource/hanken-grotesk/files/hanken-grotesk-${part}-${weight}-normal.woff`),
  );
  return opentype.parse(buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer);
};
let fonts: { regular: opentype.Font[]; bold: opentype.Font[] } | null = null;
/** Each for the signs that the one before has not. */
const FONT_PARTS = ["latin", "latin-ext", "cyrillic-ext", "vietnamese"];
function fontsOf(isBold: boolean): opentype.Font[] {
  fonts ??= {
    regular: FONT_PARTS.map((part) => fontOf(part, 400)),
    bold: FONT_PARTS.map((part) => fontOf(part, 600)),
  };
  return isBold ? fonts.bold : fonts.regular;
}

interface TextStyle {
  x: number;
  /** The line that the letters stand on. */
  y: number;
  size: number;
  fill: string;
  isBold?: boolean;
  /** Wider is cut, with "…". */
  most: number;
}

interface Shaped {
  font: opentype.Font;
  glyph: opentype.Glyph;
}

/** The shapes of a text's signs, each from the first of our fonts that has it; null where none does. */
function shapesOf(text: string, isBold: boolean): Shaped[] | null {
  const all = fontsOf(isBold);
  const shaped: Shaped[] = [];
  for (const sign of text.normalize("NFC")) {
    const font = all.find((each) => each.charToGlyphIndex(sign) > 0);
    if (!font) return null;
    shaped.push({ font, glyph: font.charToGlyph(sign) });
  }
  return shaped;
}

const widthOf = ({ font, glyph }: Shaped, size: number): number =>
  ((glyph.advanceWidth ?? 0) / font.unitsPerEm) * size;
const widthOfAll = (shaped: readonly Shaped[], size: number): number =>
  shaped.reduce((sum, each) => sum + widthOf(each, size), 0);

const outlines = new Map<string, string>();
const MOST_OUTLINES = 3_000;

/** A sign's shape from where it stands on the line, as SVG path data. */
function outlineOf({ font, glyph }: Shaped, size: number): string {
  const key = `${font.names.fullName?.en ?? ""} ${font.numGlyphs} ${glyph.index} ${size}`;
  let outline = outlines.get(key);
  if (outline === undefined) {
    if (outlines.size >= MOST_OUTLINES) outlines.clear();
    outline = glyph.getPath(0, 0, size).toPathData(1);
    outlines.set(key, outline);
  }
  return outline;
}

/** A line of text as SVG paths, so that no font of the machine is asked for. "" where a sign has no shape in ours. */
function textPaths(
  text: string,
  { x, y, size, fill, isBold = false, most }: TextStyle,
): { svg: string; width: number } {
  const shaped = shapesOf(text, isBold);
  const [dots] = shapesOf("…", isBold) ?? [];
  if (!shaped || !dots) return { svg: "", width: 0 };
  let width = widthOfAll(shaped, size);
  if (width > most) {
    const room = most - widthOf(dots, size);
    while (shaped.length > 0 && width > room) width -= widthOf(shaped.pop() as Shaped, size);
    shaped.push(dots);
    width += widthOf(dots, size);
  }
  let at = x;
  const paths = shaped.map((each) => {
    const path = `<path transform="translate(${at.toFixed(1)} ${y})" d="${outlineOf(each, size)}"/>`;
    at += widthOf(each, size);
    return path;
  });
  return { svg: `<g fill="${fill}">${paths.join("")}</g>`, width };
}

/** A text in at most so many lines of a width. */
function linesOf(text: string, size: number, isBold: boolean, width: number, most: number): string[] {
  const lines: string[] = [];
  let line = "";
  for (const word of text.split(/\s+/).filter(Boolean)) {
    const longer = line === "" ? word : `${line} ${word}`;
    if (line !== "" && widthOfAll(shapesOf(longer, isBold) ?? [], size) > width) {
      lines.push(line);
      line = word;
      if (lines.length === most) return lines;
    } else line = longer;
  }
  return line === "" ? lines : [...lines, line];
}

const INK = "#1c2430";
const GREY = "#5c6675";
const isColour = (text: string) => /^#[0-9a-f]{6}$/i.test(text);

/** Their site, as it may look from its name, colour, headings and pictures, as long as its contents. RGBA. */
async function drawSite(site: SiteLook): Promise<{ pixels: Buffer; height: number }> {
  const { width } = SITE;
  const margin = 24;
  const inner = width - 2 * margin;
  const colour = isColour(site.colour) ? site.colour : "#3d5a80";
  const parts: string[] = [];
  let y = 0;
  const box = (height: number, fill: string, x = 0, wide: number = width, round = 0) =>
    parts.push(`<rect x="${x}" y="${y}" width="${wide}" height="${height}" rx="${round}" fill="${fill}"/>`);
  const write = (text: string, style: Omit<TextStyle, "y"> & { y?: number }) =>
    parts.push(textPaths(text, { y, ...style }).svg);
  // The browser's own line, with their address.
  box(34, "#e9ebee");
  for (const nth of [0, 1, 2]) parts.push(`<circle cx="${16 + nth * 14}" cy="17" r="4" fill="#c6cbd2"/>`);
  parts.push(`<rect x="64" y="7" width="${width - 80}" height="20" rx="10" fill="#ffffff"/>`);
  write(site.domain, { x: 76, y: 21.5, size: 12, fill: GREY, most: width - 110 });
  y = 34;
  box(56, "#ffffff");
  const logoAt = { left: margin, top: y + 12 };
  if (!site.logo)
    write(site.name, { x: margin, y: y + 35, size: 17, fill: INK, isBold: true, most: inner - 80 });
  for (const nth of [0, 1, 2])
    parts.push(
      `<rect x="${width - margin - 24 - nth * 36}" y="${y + 25}" width="24" height="6" rx="3" fill="#d5dae1"/>`,
    );
  y += 56;
  box(150, colour);
  const title = linesOf(site.line || site.name, 20, true, inner, 4);
  for (const [nth, line] of title.entries())
    write(line, { x: margin, y: y + 44 + nth * 27, size: 20, fill: "#ffffff", isBold: true, most: inner });
  y += 150;
  const pictureAt = { left: 0, top: y };
  const pictureHeight = site.picture ? 190 : 0;
  y += pictureHeight;
  const headings = site.headings.slice(0, 4);
  for (const [nth, heading] of headings.entries()) {
    box(118, nth % 2 === 0 ? "#ffffff" : "#f5f6f8");
    write(heading, { x: margin, y: y + 34, size: 15, fill: INK, isBold: true, most: inner });
    const said = linesOf(site.words[nth] ?? "", 11.5, false, inner, 3);
    if (said.length > 0)
      for (const [at, line] of said.entries())
        write(line, { x: margin, y: y + 56 + at * 17, size: 11.5, fill: GREY, most: inner });
    else
      for (const at of [0, 1, 2])
        parts.push(
          `<rect x="${margin}" y="${y + 50 + at * 16}" width="${inner - at * 60}" height="7" rx="3" fill="#dfe3e8"/>`,
        );
    y += 118;
  }
  box(60, colour);
  write(site.name, { x: margin, y: y + 35, size: 12, fill: "#ffffff", most: inner });
  y += 60;
  const height = Math.max(y, SITE.height);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="#ffffff"/>${parts.join("")}</svg>`;
  const above: OverlayOptions[] = [];
  if (site.logo) above.push({ input: await fitted(site.logo, 200, 32), ...logoAt });
  if (site.picture)
    above.push({
      input: await sharp(site.picture)
        .resize({ width, height: pictureHeight, fit: "cover" })
        .png()
        .toBuffer(),
      ...pictureAt,
    });
  const drawn = sharp(Buffer.from(svg));
  const pixels = await (above.length > 0 ? drawn.composite(above) : drawn).ensureAlpha().raw().toBuffer();
  return { pixels, height };
}

const fitted = (bytes: Uint8Array, width: number, height: number) =>
  sharp(bytes).resize({ width, height, fit: "inside" }).png().toBuffer();

/** A piece that lies on every frame, RGBA. */
interface Layer {
  pixels: Buffer;
  left: number;
  top: number;
  width: number;
}

async function layer(
  left: number,
  top: number,
  width: number,
  height: number,
  inner: string,
): Promise<Layer> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inner}</svg>`;
  return { left, top, width, pixels: await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer() };
}

/** Whom it is for. */
async function labelLayer(label: string, accent: string): Promise<Layer[]> {
  const words = textPaths(label, {
    x: 16,
    y: 26,
    size: 22,
    fill: "#ffffff",
    isBold: true,
    most: SITE.width - 90,
  });
  if (words.width === 0) return [];
  const width = Math.ceil(words.width) + 32;
  return [
    await layer(
      18,
      SIZE.height - 54,
      width,
      38,
      `<rect width="${width}" height="38" rx="8" fill="${accent}"/>${words.svg}`,
    ),
  ];
}

/** That there is something to play, and the seam between their site and the film. */
const playLayers = async (accent: string): Promise<Layer[]> => [
  await layer(
    SITE.width / 2 - 38,
    SIZE.height / 2 - 50,
    76,
    76,
    `<circle cx="38" cy="38" r="38" fill="${accent}"/><path d="M27 20L58 38L27 56Z" fill="#ffffff"/>`,
  ),
  await layer(SITE.width - 2, 0, 4, SIZE.height, '<rect width="4" height="100%" fill="#ffffff"/>'),
];

type Rgb = [r: number, g: number, b: number];

/** A picture in colours of its own: which of them each point has. */
interface Indexed {
  points: Uint8Array;
  palette: Rgb[];
}

/** `from`: the number of its first colour in the palette of the whole. */
function indexed(rgba: Uint8Array, colours: number, from: number, format: "rgb444" | "rgb565"): Indexed {
  const palette = gifenc.quantize(rgba, colours, { format }) as Rgb[];
  const points = gifenc.applyPalette(rgba, palette, format);
  for (let at = 0; at < points.length; at++) points[at] = (points[at] as number) + from;
  return { palette, points };
}

/** The palette of the whole: one that stands for "as before", the overlay's shades, then the site's colours, then the film's. */
const OVERLAY_SHADES = 15;
const SITE_FROM = 1 + OVERLAY_SHADES;
const shade = (accent: Rgb, nth: number): Rgb => {
  const part = nth / (OVERLAY_SHADES - 1);
  return accent.map((value) => Math.round(value + (255 - value) * part)) as Rgb;
};
const rgbOf = (colour: string): Rgb =>
  [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as Rgb;

/** From the best to the smallest: the first that is small enough is taken. */
const TRIES = [120, 56, 24];

/** The same film, and the same site, of many people one after the other. */
const kept = new Map<string, Promise<unknown>>();
const MOST_KEPT = 8;
function keep<T>(key: string, make: () => Promise<T>): Promise<T> {
  const known = kept.get(key) as Promise<T> | undefined;
  if (known) return known;
  if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value as string);
  const made = make();
  kept.set(key, made);
  made.catch(() => kept.delete(key));
  return made;
}

const keyOf = (what: string, ...parts: unknown[]): string => {
  const hash = createHash("sha1");
  for (const part of parts) hash.update(part instanceof Uint8Array ? part : JSON.stringify(part));
  return `${what} ${hash.digest("hex")}`;
};

/** The whole as a GIF of at most `MOST_BYTES`. */
export async function drawPicture({ site, frames, label, accent }: Drawing): Promise<Uint8Array> {
  const above = [
    ...(frames ? await keep(`play ${accent}`, () => playLayers(accent)) : []),
    ...(await labelLayer(label, accent)),
  ];
  const { logo, picture, ...rest } = site;
  let made: Uint8Array = new Uint8Array();
  for (const colours of TRIES) {
    const page = await keep(keyOf("site", colours, rest, logo ?? 0, picture ?? 0), async () => {
      const { pixels, height } = await drawSite(site);
      return { ...indexed(pixels, colours, SITE_FROM, "rgb444"), height };
    });
    const faces =
      frames &&
      (await keep(keyOf("film", colours, frames), async () =>
        indexed(
          await sharp(frames)
            .resize({ width: FRAME.width * FRAMES, height: FRAME.height, fit: "fill" })
            .ensureAlpha()
            .raw()
            .toBuffer(),
          ...([colours, SITE_FROM + colours, "rgb565"] as const),
        ),
      ));
    made = encode(page, faces, colours, above, rgbOf(accent));
    if (made.length <= MOST_BYTES) break;
  }
  return made;
}

function encode(
  page: Indexed & { height: number },
  faces: Indexed | null,
  colours: number,
  above: readonly Layer[],
  accent: Rgb,
): Uint8Array {
  const { width, height } = SIZE;
  const palette: Rgb[] = Array.from({ length: SITE_FROM + colours + (faces?.palette.length ?? 0) }, () => [
    0, 0, 0,
  ]);
  for (let nth = 0; nth < OVERLAY_SHADES; nth++) palette[1 + nth] = shade(accent, nth);
  for (const [nth, colour] of page.palette.entries()) palette[SITE_FROM + nth] = colour;
  for (const [nth, colour] of (faces?.palette ?? []).entries()) palette[SITE_FROM + colours + nth] = colour;
  const cover = coverOf(above, accent);
  // Without a film their site stands in the middle, on white.
  const left = faces ? 0 : FRAME.width / 2;
  const gif = gifenc.GIFEncoder();
  const whole = new Uint8Array(width * height).fill(OVERLAY_SHADES);
  const before = new Uint8Array(whole.length);
  const only = new Uint8Array(whole.length);
  for (let frame = 0; frame < FRAMES; frame++) {
    const from = scrolledAt(frame, page.height);
    const isStill = frame > 0 && from === scrolledAt(frame - 1, page.height);
    for (let row = 0; row < height; row++) {
      const line = row * width;
      const site = (from + row) * SITE.width;
      if (!isStill) whole.set(page.points.subarray(site, site + SITE.width), line + left);
      const face = row * FRAME.width * FRAMES + frame * FRAME.width;
      if (faces) whole.set(faces.points.subarray(face, face + FRAME.width), line + SITE.width);
    }
    for (let nth = 0; nth < cover.length; nth += 2) whole[cover[nth] as number] = cover[nth + 1] as number;
    // Only what is otherwise than before; the rest is let through.
    if (frame > 0)
      for (let at = 0; at < whole.length; at++)
        only[at] = whole[at] === before[at] ? 0 : (whole[at] as number);
    gif.writeFrame(frame === 0 ? whole : only, width, height, {
      ...(frame === 0 ? { palette, repeat: 0 } : {}),
      ...{ delay: frame === 0 ? 900 : FRAME_MS, transparent: frame > 0, transparentIndex: 0, dispose: 1 },
    });
    before.set(whole);
  }
  gif.finish();
  return gif.bytes();
}

/** Where the layers lie, and the shade there: point and colour by turns. */
function coverOf(layers: readonly Layer[], accent: Rgb): Uint32Array {
  const cover: number[] = [];
  const way = 255 * 3 - accent[0] - accent[1] - accent[2];
  for (const { pixels, left, top, width } of layers)
    for (let at = 0; at * 4 < pixels.length; at++) {
      if ((pixels[at * 4 + 3] as number) < 128) continue;
      const light =
        (pixels[at * 4] as number) + (pixels[at * 4 + 1] as number) + (pixels[at * 4 + 2] as number);
      const part = way === 0 ? 0 : (light - (255 * 3 - way)) / way;
      cover.push(
        (top + Math.floor(at / width)) * SIZE.width + left + (at % width),
        1 + Math.round(Math.max(0, Math.min(1, part)) * (OVERLAY_SHADES - 1)),
      );
    }
  return Uint32Array.from(cover);
}

/** The pictures of an invented house: its logo, drawn or in points, and a wide one for those who share its pages. */
import { deflateSync } from "node:zlib";
import sharp from "sharp";
import type { Said } from "./said.ts";

export const logoSvg = ({ look, name }: Said, extra = ""): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 128 128" width="128" height="128" aria-label="${name.replace(/[&<>"]/g, "")}">${extra}<rect width="128" height="128" rx="${look.letters.charCodeAt(0) % 2 ? 64 : 10}" fill="${look.ink}"/><text x="64" y="82" font-family="serif" font-size="54" text-anchor="middle" fill="${look.ground}">${look.letters}</text></svg>`;

export const logoPng = (said: Said, size: number): Promise<Buffer> =>
  sharp(Buffer.from(logoSvg(said)))
    .resize(size, size)
    .png()
    .toBuffer();

export const widePicture = ({ look }: Said): Promise<Buffer> =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="1200" height="630"><rect width="1200" height="630" fill="${look.ground}"/><g fill="${look.ink}">${[0, 1, 2, 3, 4].map((at) => `<rect x="${90 + at * 215}" y="${200 - at * 22}" width="150" height="${330 + at * 22}" opacity="${0.3 + at * 0.15}"/>`).join("")}</g></svg>`,
    ),
  )
    .jpeg({ quality: 80 })
    .toBuffer();

/** Some hundred bytes that say they unfold to 2.5 thousand million points (PNG, third edition, 11.2.1). */
export function bombPng(): Buffer {
  const side = 50_000;
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    const sum = Buffer.alloc(4);
    sum.writeUInt32BE(crc(body));
    return Buffer.concat([length, body, sum]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(side, 0);
  header.writeUInt32BE(side, 4);
  header.set([8, 6, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk("IHDR", header),
    chunk("IDAT", deflateSync(Buffer.alloc(1_000))),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

function crc(bytes: Buffer): number {
  let sum = 0xffffffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let bit = 0; bit < 8; bit++) sum = (sum >>> 1) ^ (sum & 1 ? 0xedb88320 : 0);
  }
  return (sum ^ 0xffffffff) >>> 0;
}

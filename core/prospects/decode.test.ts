import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decodeText } from "./decode.ts";

const textOf = (bytes: Uint8Array) => {
  const decoded = decodeText(bytes);
  return decoded.ok ? decoded.text.replace(/^\ufeff/, "") : decoded.problem;
};
const line = fc.stringMatching(/^[a-zA-Z0-9 ,;@.]{1,60}$/);

describe("the text of a file", () => {
  it("comes back from UTF-8, marked or not, whatever it says", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", minLength: 1 }), (text) => {
        fc.pre(!text.includes("\0") && !text.startsWith("\ufeff") && !text.startsWith("PK"));
        expect(textOf(new TextEncoder().encode(text))).toBe(text);
        expect(textOf(new TextEncoder().encode(`\ufeff${text}`))).toBe(text);
      }),
    );
  });

  it("comes back from UTF-16 of either order without a mark, if it is written in Latin letters", () => {
    fc.assert(
      fc.property(line, (text) => {
        expect(textOf(new Uint8Array(Buffer.from(text, "utf16le")))).toBe(text);
        expect(textOf(new Uint8Array(Buffer.from(text, "utf16le").swap16()))).toBe(text);
      }),
    );
  });

  it("is read as Windows' Latin-1 where it is no UTF-8, the signs that only Windows has included", () => {
    expect(textOf(Uint8Array.from([0x45, 0x76, 0xf3, 0x72, 0x61, 0x20, 0x80]))).toBe("Evóra €");
  });

  it("is refused where there is none", () => {
    expect(textOf(Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 0, 0]))).toBe("spreadsheet");
    expect(textOf(Uint8Array.from([1, 0, 0, 7, 0, 0, 0, 3, 9]))).toBe("binary");
  });
});

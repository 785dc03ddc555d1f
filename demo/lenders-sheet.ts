/** Four pages of PDF (ISO 32000-1) that hold a few lines each: what Marta's page offers to look at. */
const PAGES = [
  [
    "A lender's sheet",
    "Case 14, from Bremen to Trondheim, 11 to 16 May",
    "Warmest: 21.4 °C on the second day, for 40 minutes",
    "Dampest: 54 % at the border, for two hours",
    "Opened: once, by the courier, 13 May 09:12",
  ],
  [
    "How warm, how damp",
    "11 May: 19.8 to 20.6 °C, 48 to 51 %",
    "12 May: 20.1 to 21.4 °C, 49 to 52 %",
    "13 May: 19.6 to 20.9 °C, 50 to 54 %",
    "14 to 16 May: 20.0 to 20.4 °C, 49 to 50 %",
  ],
  [
    "Who had it in hand",
    "11 May 07:40: packed, registrar of the lender",
    "13 May 09:12: opened at the border, courier",
    "16 May 15:05: unpacked, registrar of the borrower",
  ],
  [
    "What a lender asks for next",
    "The same sheet for each case of a loan, in the evening of the day that it arrives.",
  ],
];

const drawn = (lines: readonly string[]): string =>
  [
    "BT /F1 22 Tf 72 760 Td 28 TL",
    ...lines.map(
      (line, nth) => `${nth === 1 ? "/F1 12 Tf 20 TL " : ""}(${line.replace(/[()\\]/g, "\\$&")}) Tj T*`,
    ),
    "ET",
  ].join("\n");

/** The catalogue, the pages' root and the letterform come first; behind them each page with what it shows. */
const FIRST_PAGE = 4;
const OBJECTS = [
  "<< /Type /Catalog /Pages 2 0 R >>",
  `<< /Type /Pages /Kids [${PAGES.map((_, nth) => `${FIRST_PAGE + 2 * nth} 0 R`).join(" ")}] /Count ${PAGES.length} >>`,
  "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>",
  ...PAGES.flatMap((lines, nth) => {
    const content = drawn(lines);
    return [
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents ${FIRST_PAGE + 2 * nth + 1} 0 R /Resources << /Font << /F1 3 0 R >> >> >>`,
      `<< /Length ${Buffer.byteLength(content, "latin1")} >>\nstream\n${content}\nendstream`,
    ];
  }),
];

function pdf(): Buffer {
  let text = "%PDF-1.4\n";
  const starts = OBJECTS.map((object, nth) => {
    const start = Buffer.byteLength(text, "latin1");
    text += `${nth + 1} 0 obj\n${object}\nendobj\n`;
    return start;
  });
  const xref = Buffer.byteLength(text, "latin1");
  text += `xref\n0 ${OBJECTS.length + 1}\n0000000000 65535 f \n${starts.map((start) => `${String(start).padStart(10, "0")} 00000 n \n`).join("")}`;
  text += `trailer << /Size ${OBJECTS.length + 1} /Root 1 0 R >>\nstartxref\n${xref}\n%%EOF\n`;
  return Buffer.from(text, "latin1");
}

export const LENDERS_SHEET = pdf();

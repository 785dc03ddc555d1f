/** A page of PDF (ISO 32000-1) that holds a few lines: what Marta's page offers to look at. */
const LINES = [
  "A lender's sheet",
  "Case 14, from Bremen to Trondheim, 11 to 16 May",
  "Warmest: 21.4 °C on the second day, for 40 minutes",
  "Dampest: 54 % at the border, for two hours",
  "Opened: once, by the courier, 13 May 09:12",
];

const content = [
  "BT /F1 22 Tf 72 760 Td 28 TL",
  ...LINES.map(
    (line, nth) => `${nth === 1 ? "/F1 12 Tf 20 TL " : ""}(${line.replace(/[()\\]/g, "\\$&")}) Tj T*`,
  ),
  "ET",
].join("\n");

const OBJECTS = [
  "<< /Type /Catalog /Pages 2 0 R >>",
  "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
  "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>",
  `<< /Length ${Buffer.byteLength(content, "latin1")} >>\nstream\n${content}\nendstream`,
  "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>",
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

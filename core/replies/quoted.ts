/** What somebody wrote, and what they quote: for texts too long for a careful reader. Linear in the text. */

const QUOTE_BEGINS =
  /^(-{2,}\s*(original|ursprüngliche|forwarded|weitergeleitete|message d'origine|mensaje original|mensagem original|messaggio originale|oorspronkelijk)|_{10,}$|(from|von|de|da|van|from):\s.{1,200}$|(on|am|le|el|em|il|op)\s.{5,200}(wrote|schrieb|a écrit|escribió|escreveu|ha scritto|schreef)\s*:?\s*$)/i;

export function splitQuoted(text: string): { written: string; quoted: string } {
  const lines = text.split("\n");
  const at = lines.findIndex((line, index) => {
    const start = line.slice(0, 300);
    return start.startsWith(">") || (QUOTE_BEGINS.test(start.trim()) && index > 0);
  });
  if (at < 0) return { written: text.trim(), quoted: "" };
  return { written: lines.slice(0, at).join("\n").trim(), quoted: lines.slice(at).join("\n").trim() };
}

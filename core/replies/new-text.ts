/** The part of a message that somebody wrote for it: without what it quotes, its signature and its disclaimer. */

const READ = 20_000;
const SIGNATURE = /^(?:--\s?|__+|—\s?)$/;
const SENT_FROM =
  /^(?:sent (?:from|with|via) |get outlook|von meinem|gesendet (?:von|mit)|envoy[ée] (?:de|depuis)|enviado (?:desde|do|a partir)|inviato da|verzonden (?:vanaf|met)|skickat fr[åa]n|sendt fra|wys[łl]ane z)/i;
const DISCLAIMER =
  /\b(?:this (?:e-?mail|message|communication)(?: and any (?:attachments?|files?))?.{0,40}(?:confidential|privileged|intended)|confidentiality notice|if you (?:are not|have received).{0,30}(?:recipient|in error)|diese (?:e-?mail|nachricht).{0,30}(?:vertraulich|enthält)|ce (?:message|courriel).{0,40}(?:confidentiel|destin)|este (?:mensaje|correo).{0,40}confidencial|esta mensagem.{0,40}confidencial|(?:questo messaggio|la presente).{0,40}(?:riservat|confidenzial)|dit (?:bericht|e-mail).{0,40}vertrouwelijk|please consider the environment|think before (?:you )?print)/i;
const HEADER_BLOCK = /^\s*(?:\*?(?:from|von|de|da|van|från|fra|от)\*?:\s.+)$/i;

/** The letter up to where its writer ended: always a beginning of `text`, so that positions in it stay. */
export function newText(text: string): string {
  const read = text.slice(0, READ);
  let at = 0;
  const lines = read.split("\n");
  for (const [index, line] of lines.entries()) {
    const trimmed = line.trim();
    const ends =
      index > 0 &&
      (SIGNATURE.test(trimmed) ||
        SENT_FROM.test(trimmed) ||
        DISCLAIMER.test(trimmed.slice(0, 400)) ||
        (HEADER_BLOCK.test(trimmed) &&
          /^\s*\*?(?:sent|date|gesendet|datum|envoy|enviado|inviato|verzonden|to|an|à|para|subject)/i.test(
            lines[index + 1] ?? "",
          )));
    if (ends && read.slice(0, at).trim() !== "") return read.slice(0, at).trimEnd();
    at += line.length + 1;
  }
  return read.trimEnd();
}

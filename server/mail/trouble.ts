/** A mail server's error in words that say what to check, and how its certificate is looked at. */
import type { ConnectionOptions } from "node:tls";
import { AppError } from "../errors.ts";

interface MailError {
  code?: string;
  responseCode?: number;
  response?: string;
  responseText?: string;
  serverResponseCode?: string;
  authenticationFailed?: boolean;
  message?: string;
}

/** `certificate`: the authority of a server with a certificate of its own, as PEM. */
export function tlsOptions(certificate: string): ConnectionOptions {
  return certificate.trim() === "" ? {} : { ca: certificate };
}

const SELF_SIGNED = /SELF_SIGNED|UNABLE_TO_(VERIFY|GET_ISSUER)|self[- ]signed|unable to (verify|get)/i;
/** A server that speaks plainly where TLS was begun, or the reverse. */
const WRONG_SPEECH =
  /wrong version number|packet length too long|EPROTO|unexpected message|http request|record layer|bad record|ERR_SSL/i;

export function troubleWords(
  error: unknown,
  kind: "outgoing" | "incoming",
  host: string,
  port: number,
): string {
  if (error instanceof AppError) return error.message;
  const { code, responseCode, response, responseText, serverResponseCode, authenticationFailed, message } =
    (error ?? {}) as MailError;
  const server = `The ${kind} server ${host}:${port}`;
  const said = response ?? responseText ?? "";
  const text = `${code ?? ""} ${message ?? ""} ${said}`;
  if (/application[- ]specific|app[- ]?password|534[- ]5\.7\.9|WebLoginRequired/i.test(text))
    return `${server} wants an app password instead of the usual one. Make one in your account's security settings there, and type it here.`;
  if (
    code === "ENOAUTH" ||
    /no (supported )?auth|auth(entication)? (is )?not (supported|available)/i.test(text)
  )
    return `${server} offers no sign-in on this port, so nothing can be sent through it. Mail programs usually use port 465 with TLS, or 587 with STARTTLS.`;
  if (
    code === "EAUTH" ||
    responseCode === 535 ||
    authenticationFailed ||
    serverResponseCode === "AUTHENTICATIONFAILED"
  )
    return /must issue a STARTTLS|encryption (required|needed)|538|5\.7\.11|PRIVACYREQUIRED/i.test(text)
      ? `${server} wants encryption before the sign-in. Choose STARTTLS or TLS.`
      : `${server} refuses the user name or password.`;
  if (/must issue a STARTTLS|5\.7\.0 .*STARTTLS|PRIVACYREQUIRED/i.test(text))
    return `${server} wants encryption before anything else. Choose STARTTLS.`;
  if (code === "ECONNREFUSED" || /ECONNREFUSED/.test(text))
    return `${server} does not answer: nothing listens on this port. Check host and port.`;
  if (code === "ENOTFOUND" || code === "EDNS" || /ENOTFOUND|EAI_AGAIN/.test(text))
    return `There is no server named ${host}. Check the spelling.`;
  if (SELF_SIGNED.test(text))
    return `${server} shows a certificate that no known authority signed. If the server is your own, paste its certificate or that of its authority below.`;
  if (/ERR_TLS_CERT_ALTNAME|altname/i.test(text))
    return `${server} shows a certificate for another name than ${host}. Use the name it is made for.`;
  if (/CERT_HAS_EXPIRED|certificate has expired/i.test(text))
    return `${server} shows a certificate that has expired. Ask whoever runs it to renew it.`;
  if (
    /STARTTLS/i.test(text) &&
    /not (supported|available|advertised|offered|implemented|recognized)|does not|upgrad|unrecognized|5\.5\.1/i.test(
      text,
    )
  )
    return `${server} does not offer STARTTLS on this port. Choose TLS from the start, or another port.`;
  if (WRONG_SPEECH.test(text))
    return `${server} does not speak TLS from the start on this port. Choose STARTTLS, or the port for TLS.`;
  if (/ETIMEDOUT|CONNECT_TIMEOUT|GREETING_TIMEOUT|ETIMEOUT|UPGRADE_TIMEOUT|EGREETING|EDEADLINE/.test(text))
    return `${server} did not answer in time. Check host, port and firewall.`;
  if (/SSL|TLS|certificate/i.test(text))
    return `${server} and Saudade could not agree on encryption. Check the security setting of this port.`;
  return `${server} failed: ${(said || message || "no reason given").slice(0, 200)}`;
}

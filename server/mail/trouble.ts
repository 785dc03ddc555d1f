/** A mail server's error in words that say what to check. */
interface MailError {
  code?: string;
  responseCode?: number;
  response?: string;
  responseText?: string;
  authenticationFailed?: boolean;
  message?: string;
}

export function troubleWords(
  error: unknown,
  kind: "outgoing" | "incoming",
  host: string,
  port: number,
): string {
  const { code, responseCode, response, responseText, authenticationFailed, message } = (error ??
    {}) as MailError;
  const server = `The ${kind} server ${host}:${port}`;
  if (code === "EAUTH" || responseCode === 535 || authenticationFailed)
    return `${server} refuses the user name or password.`;
  if (code === "ECONNREFUSED" || /ECONNREFUSED/.test(message ?? ""))
    return `${server} does not answer: nothing listens on this port. Check host and port.`;
  if (code === "ENOTFOUND" || code === "EDNS" || /ENOTFOUND|EAI_AGAIN/.test(message ?? ""))
    return `There is no server named ${host}. Check the spelling.`;
  if (
    code === "ETIMEDOUT" ||
    code === "CONNECT_TIMEOUT" ||
    code === "GREETING_TIMEOUT" ||
    code === "ETIMEOUT"
  )
    return `${server} did not answer in time. Check host, port and firewall.`;
  if (/wrong version number|SSL|TLS|certificate/i.test(message ?? ""))
    return `${server} and Saudade could not agree on encryption. Check the security setting of this port.`;
  const words = response ?? responseText ?? message ?? "no reason given";
  return `${server} failed: ${words.slice(0, 200)}`;
}

/**
 * An e-mail address in the one form in which it is stored and compared: NFC, small letters, the domain in ASCII
 * (RFC 5891, by the URL parser of WHATWG). Two spellings that a mail server would tell apart stay apart.
 * @returns `null` where the domain is none
 */
export function canonicalEmail(text: string): string | null {
  const whole = text.normalize('NFC').trim().toLowerCase();
  const at = whole.lastIndexOf('@');
  const domain = whole.slice(at + 1);
  // What a URL would read as something else than a host is no domain.
  if (at < 1 || /[/?#@:[\]\\\s%]/.test(domain) || !URL.canParse(`http://${domain}`)) return null;
  return `${whole.slice(0, at)}@${new URL(`http://${domain}`).hostname}`;
}

/**
 * The name-and-password challenge that encoders speak over RTMP (`authmod=adobe`): three connections, the first told
 * that a name is needed, the second given salt and challenge, the third carrying the response.
 * Hashing is the owner's: core holds no MD5.
 */
export interface AuthQuery {
  readonly user: string;
  readonly opaque: string;
  readonly challenge: string;
  readonly response: string;
}

const REJECT = '[ AccessManager.Reject ]';

export const needAuthDescription = `${REJECT} : [ code=403 need auth; authmod=adobe ] : `;

export const challengeDescription = (user: string, salt: string, opaque: string): string =>
  `${REJECT} : [ authmod=adobe ] : ?reason=needauth&user=${user}&salt=${salt}&challenge=${opaque}&opaque=${opaque}`;

/** `sentence` follows the part that encoders read, for those that show the whole. */
export const authFailedDescription = (sentence: string): string =>
  `${REJECT} : [ authmod=adobe ] : ?reason=authfailed&opaque=- : ${sentence}`;

/** Reads the query of the application; `undefined` when it takes no part in the challenge. Base64 keeps its plus signs. */
export function parseAuthQuery(query: string): AuthQuery | undefined {
  const fields = new Map(
    query.split('&').map((pair) => {
      const at = pair.indexOf('=');
      return [pair.slice(0, at), pair.slice(at + 1)] as const;
    }),
  );
  const field = (name: string): string => fields.get(name) ?? '';
  if (field('authmod') !== 'adobe' || !field('user')) return undefined;
  return {
    user: field('user'),
    opaque: field('opaque'),
    challenge: field('challenge'),
    response: field('response'),
  };
}

/** @param md5Base64 - base64 of the MD5 of a text. */
export const expectedResponse = (
  verifier: string,
  opaque: string,
  challenge: string,
  md5Base64: (text: string) => string,
): string => md5Base64(verifier + opaque + challenge);

/** What a node holds instead of the password: base64(md5(user + salt + password)). */
export const passwordVerifier = (
  user: string,
  salt: string,
  password: string,
  md5Base64: (text: string) => string,
): string => md5Base64(user + salt + password);

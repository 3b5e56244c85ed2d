import { createHash, randomBytes } from 'node:crypto';
import { v7 } from 'uuid';

/** A public identifier, rising with time (RFC 9562, UUIDv7). */
export const newId = (): string => v7();
export const sha256Hex = (text: string): string => createHash('sha256').update(text).digest('hex');
export const md5Base64 = (text: string): string => createHash('md5').update(text).digest('base64');

/** Crockford's base 32 without letters that are mistaken for figures: read aloud and typed without error. */
const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';

/** Random text of `bits` bits, five a letter. */
export function randomText(bits: number): string {
  return Array.from(randomBytes(Math.ceil(bits / 5)), (byte) => ALPHABET[byte & 31]).join('');
}

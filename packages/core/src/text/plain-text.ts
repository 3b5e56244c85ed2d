/** Characters that draw nothing or turn the line around, with which names are forged; joiners that scripts need stay. */
const INVISIBLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180e\u200b\u200e\u200f\u202a-\u202e\u2060-\u206f\u2800\u3164\ufeff\uffa0]/g;
/** C0 and C1 without tab and line breaks, and halves of surrogate pairs (Unicode 15, chapters 23.1 and 23.6). */
const CONTROL =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;
const DRAWS = /[\p{L}\p{N}\p{P}\p{S}]/u;

/** True for text that holds what neither a database nor another program should be handed. */
export const hasControlCharacters = (text: string): boolean => CONTROL.test(text);

/** Text without what cannot be seen; its lines stay. */
export const withoutInvisible = (text: string): string => text.normalize('NFC').replace(INVISIBLE, '');

/** One line as others will see it: no breaks, no invisible characters; empty where nothing would be drawn. */
export function cleanLine(raw: string): string {
  const line = withoutInvisible(raw).replace(/\s+/g, ' ').trim();
  return DRAWS.test(line) ? line : '';
}

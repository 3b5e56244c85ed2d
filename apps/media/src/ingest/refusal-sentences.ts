import type { SourceRefusalReason } from '@heliphon/core/control/observations';

/** What an encoder's own window shows when we turn it away: what happened, then what to do. en-GB. */
const SENTENCES: Readonly<Record<SourceRefusalReason, string>> = {
  'unknown-key':
    'Heliphon does not know this key. Copy the key of the source again, all of it, and try once more.',
  'unknown-application':
    'This address is not complete. The part after the host has to be the one shown beside the key.',
  'needs-password':
    'This source wants its name and password. Use its own address from the Sources page, and fill in both.',
  'wrong-password': 'Name or password is wrong. Copy both again from the Sources page.',
  'already-sending':
    'Another encoder is already sending with this key, and stays on. Stop that one first, or use another source.',
  'video-codec': 'Heliphon takes H.264 pictures only, not {detail}. Choose H.264 in the encoder.',
  'audio-codec': 'Heliphon takes AAC sound only, not {detail}. Choose AAC in the encoder.',
  'too-many-tries':
    'Too many wrong tries came from this address. Wait a minute, then copy key, name and password again.',
  'wrong-passphrase': 'The passphrase is wrong. Copy it again from the Sources page.',
  'unknown-line': 'Heliphon does not know this link. Ask for another one.',
  'line-over': 'This link has run out, or was undone. Ask for another one.',
  container: 'Heliphon cannot read what this browser records. Use another browser.',
  'key-renewed': 'This key has been renewed. Copy the new one from the Sources page.',
};

export const refusalSentence = (reason: SourceRefusalReason, detail = ''): string =>
  SENTENCES[reason].replace('{detail}', detail || 'what came');

import type { WatchRefusal } from '@heliphon/core/access/watch-rules';
import type { EventState } from '@heliphon/core/schedule/event-life';
import type { ResolvedLook } from '@heliphon/core/appearance/palette';
import type { PublicHouse } from './house.js';

/** What player, embed and anybody's own site need of an event: `GET /api/public/events/:slug`. */
export interface PublicEvent {
  readonly slug: string;
  /** Rises with every change. */
  readonly seq: number;
  readonly serverNowMs: number;
  readonly title: string;
  readonly description: string;
  readonly posterUrl: string | null;
  readonly state: EventState;
  /** Private: anyone who has the address sees it, nobody else is to find it. */
  readonly isRehearsal: boolean;
  /** For a clip: what it is cut from. */
  readonly clipOf: { readonly title: string; readonly slug: string } | null;
  /** What there is to say of an event that was cancelled. */
  readonly notice: string | null;
  readonly startsAtMs: number;
  readonly endsAtMs: number;
  readonly doorsAtMs: number;
  readonly airAtMs: number | null;
  /** When the picture begins: earlier than it starts by the film before it. */
  readonly beginsAtMs: number;
  readonly zone: string;
  readonly rewindMs: number;
  readonly house: PublicHouse;
  readonly look: ResolvedLook;
  /** Where there is more of its kind. */
  readonly channel: { readonly name: string; readonly slug: string } | null;
  /** Why the one who asks may not watch it; `null`: they may. Then there is nothing to play, to read beside it or to talk in. */
  readonly refusal: WatchRefusal | null;
  /** Shown as `Heliphon-Pass` with questions about its order and its chat; `null` where anybody may ask. */
  readonly pass: string | null;
  /** Live from air on, the replay once kept; `null` when there is nothing to play. */
  readonly playback: PublicPlayback | null;
  /** What comes next of its kind, where the look wants that said. */
  readonly next: readonly { readonly slug: string; readonly title: string; readonly startsAtMs: number }[];
  /** `null` while nobody knows: then nothing is claimed. */
  readonly signal: { readonly present: boolean; readonly sinceMs: number | null } | null;
  /** Changes with the order sheet and with every move of it; `null` while there is none. */
  readonly orderSeq: string | null;
  readonly chat: { readonly state: 'off' | 'before' | 'open' | 'closed'; readonly eventId: string };
}

export interface PublicPlayback {
  readonly kind: 'live' | 'replay';
  /** The whole programme. */
  readonly hls: string;
  /** The multivariant playlist: the whole programme, smaller pictures of it, and its sound alone for a weak line. */
  readonly main: string;
  /** Smaller pictures are made of it: `main` names them. */
  readonly hasSizes: boolean;
  readonly expiresAtMs: number;
}

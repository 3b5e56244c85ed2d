import type { LookPart } from '@heliphon/core/appearance/look';
import type { SpokenLanguage } from '@heliphon/core/languages/words';
import type { PublicEvent } from './public-event.js';
import type { ResolvedLook } from '@heliphon/core/appearance/palette';

/** What a page can be seen in: as it is now, or in another state of the event's life. */
export const TRY_OUT_STATES = ['now', 'before', 'doors', 'air', 'over', 'cancelled'] as const;
export type TryOutState = (typeof TRY_OUT_STATES)[number];

/** What the console tells a page of ours that it shows in a frame: how to look for once, or what somebody else would see. */
export type TryOut =
  | {
      readonly type: 'try-out';
      readonly look: ResolvedLook;
      readonly state: TryOutState;
      readonly light: 'day' | 'night';
    }
  | { readonly type: 'seen-as'; readonly event: PublicEvent }
  | { readonly type: 'spoken'; readonly language: SpokenLanguage; readonly state: TryOutState };

/** What a framed page tells the console when somebody presses on it: what of the look is there. */
export interface PressedPart {
  readonly type: 'pressed-part';
  readonly part: LookPart;
}

/** What a framed page tells the console once it can hear. */
export interface ReadyForTryOut {
  readonly type: 'ready-for-try-out';
}
